import { eq, sql } from 'drizzle-orm';
import { one, type Database } from '../platform/database.ts';
import { workspace } from './tables.ts';

export type WorkspaceRow = typeof workspace.$inferSelect;

export async function workspaceById(db: Database, id: number): Promise<WorkspaceRow | undefined> {
  const [row] = await db.select().from(workspace).where(eq(workspace.id, id));
  return row;
}

export async function insertWorkspace(
  db: Database,
  row: typeof workspace.$inferInsert,
): Promise<number> {
  return one(await db.insert(workspace).values(row).returning({ id: workspace.id })).id;
}

/**
 * Puts a writer in line: until its transaction ends, no other one writes to the workspace. Rows that
 * refer to the workspace can still be made meanwhile, such as a job that stands in line.
 */
export async function lockWorkspace(db: Database, id: number): Promise<void> {
  await db
    .select({ id: workspace.id })
    .from(workspace)
    .where(eq(workspace.id, id))
    .for('no key update');
}

/** Marks that the workspace's data changed; returns its new revision. Locks the row until the end. */
export async function raiseRevision(db: Database, id: number): Promise<number> {
  const rows = await db
    .update(workspace)
    .set({ revision: sql`${workspace.revision} + 1` })
    .where(eq(workspace.id, id))
    .returning({ revision: workspace.revision });
  return one(rows).revision;
}

/** Says whether whoever enters a workspace needs a second factor. */
export async function setSecondFactor(
  db: Database,
  id: number,
  secondFactor: boolean,
): Promise<void> {
  await db.update(workspace).set({ secondFactor }).where(eq(workspace.id, id));
}
