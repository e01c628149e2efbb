import type { PlanFile } from '@dravex/contract';
import type { PoolClient } from 'pg';
import type { Database } from '../platform/database.ts';

/** A plan file that comes in as a workspace, in the transaction that makes it. */
export interface Incoming {
  readonly file: PlanFile;
  readonly tx: Database;
  readonly client: PoolClient;
  readonly workspaceId: number;
  readonly personId: number;
  /** The workspace's members in place of the file's. */
  members(ids: readonly number[]): number[];
  /** The workspace's combination in place of the file's. */
  combination(id: number): number;
  /** Says what a version of the file has become; those that name versions come after them. */
  keptVersion(id: number, made: number): void;
  /**
   * The workspace's version in place of the file's.
   * @throws HttpProblem 400 at the path for one that the file does not have
   */
  version(id: number, path: string): number;
}

/** How things of a kind travel in a plan file. */
export interface FilePart {
  /** Keeps those of a file in the new workspace. */
  take(incoming: Incoming): Promise<void>;
  /** Adds those of a workspace to a file that leaves; what `readPlan` reads is in it already. */
  give?(db: Database, workspaceId: number): Promise<Partial<PlanFile>>;
}
