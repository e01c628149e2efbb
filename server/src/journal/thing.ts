import type { Actor } from '../people/actor.ts';
import type { Database } from '../platform/database.ts';
import type { Cells } from './cells.ts';

/** A change of a thing that is to be written: what it is now, and what it shall be. */
export interface ThingChange {
  readonly id: string;
  readonly now: Cells | null;
  readonly next: Cells | null;
}

/** A kind of thing that the journal can bring back to what it was. */
export interface Thing {
  /** The things as they are now; those that are not there are left out. */
  read(db: Database, workspaceId: number, ids: readonly string[]): Promise<Map<string, Cells>>;
  /**
   * Makes things what they shall be.
   * @param journalId the record that this belongs to
   * @throws HttpProblem 409 where something stands in the way
   */
  write(
    db: Database,
    actor: Actor,
    changes: readonly ThingChange[],
    journalId: number,
  ): Promise<void>;
}
