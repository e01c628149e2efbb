/** Batches that are being applied. */
import { and, eq } from 'drizzle-orm';
import type { Database } from '../platform/database.ts';
import { importJob } from './tables.ts';

/** What a job is read as. */
export const jobColumns = {
  workspaceId: importJob.workspaceId,
  batchId: importJob.batchId,
  state: importJob.state,
  step: importJob.step,
  steps: importJob.steps,
  message: importJob.message,
  stop: importJob.stop,
  backend: importJob.backend,
  requestedBy: importJob.requestedBy,
  changedAt: importJob.changedAt,
};

export async function setJob(db: Database, row: typeof importJob.$inferInsert): Promise<void> {
  const { workspaceId: _, batchId: __, ...rest } = row;
  const set = { ...rest, changedAt: new Date() };
  await db
    .insert(importJob)
    .values(row)
    .onConflictDoUpdate({ target: [importJob.workspaceId, importJob.batchId], set });
}

export async function changeJob(
  db: Database,
  workspaceId: number,
  batchId: number,
  change: Partial<typeof importJob.$inferInsert>,
): Promise<void> {
  await db
    .update(importJob)
    .set({ ...change, changedAt: new Date() })
    .where(and(eq(importJob.workspaceId, workspaceId), eq(importJob.batchId, batchId)));
}

export async function jobOf(db: Database, workspaceId: number, batchId: number) {
  const [row] = await db
    .select(jobColumns)
    .from(importJob)
    .where(and(eq(importJob.workspaceId, workspaceId), eq(importJob.batchId, batchId)));
  return row;
}
