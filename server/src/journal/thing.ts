import type { Actor } from '../people/actor.ts';
import type { Database } from '../platform/database.ts';
import type { Cells } from './cells.ts';
import type { FilePart } from './file-part.ts';
import type { ScopeColumn } from './scope-columns.ts';

/** A change of a thing that is to be written: what it is now, and what it shall be. */
export interface ThingChange {
  readonly id: string;
  readonly now: Cells | null;
  readonly next: Cells | null;
}

/**
 * What somebody who follows a workspace has to read anew when a thing of a kind changes: the thing
 * itself where it is told one by one, a version's cells, the targets, the whole plan, or nothing
 * that is shown.
 */
export type Affects =
  'assumption' | 'adjustment' | 'override' | 'version' | 'target' | 'plan' | 'nothing';

/** How things of a kind are brought back to what they were. */
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

/**
 * Asked before somebody who does not plan brings things back that they changed themselves: whether
 * they are theirs to change now.
 * @throws HttpProblem 403, 409
 */
export type Theirs = (db: Database, actor: Actor, changes: readonly ThingChange[]) => Promise<void>;

/**
 * A kind of thing that is kept, described once: undo, change notices, the plan in memory, merging
 * of members and plan files read it from here.
 */
export interface KeptKind {
  readonly affects: Affects;
  /** Null for what is written down and cannot be taken back. */
  readonly thing: Thing | null;
  /** Whether it stays when the record is taken back: it is written down only to be heard of. */
  readonly stays: boolean;
  /** The columns that hold scopes: what merging and removing members looks after. */
  readonly scopes: readonly ScopeColumn[];
  /** Null for what only whoever plans changes. */
  readonly theirs: Theirs | null;
  /** Null for what no plan file holds, or what travels with another kind. */
  readonly file: FilePart | null;
}
