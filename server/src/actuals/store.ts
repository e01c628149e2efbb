/** What was brought in, batch by batch; the other stores of this room are reached through this one. */
import type { ImportJob } from '@dravex/contract';
import { and, desc, eq, sql, type SQL } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import { one, type Database } from '../platform/database.ts';
import { jobColumns } from './store-jobs.ts';
import { importBatch, importJob } from './tables.ts';

export * from './store-jobs.ts';
export * from './store-lines.ts';
export * from './store-memory.ts';
export * from './store-rows.ts';
export * from './store-subscribers.ts';
export * from './store-sums.ts';

export type BatchRow = typeof importBatch.$inferSelect & {
  createdByName: string;
  job: (ImportJob & { changedAt: Date }) | null;
};

export async function insertBatch(
  db: Database,
  row: typeof importBatch.$inferInsert,
): Promise<number> {
  return one(await db.insert(importBatch).values(row).returning({ id: importBatch.id })).id;
}

export async function setBatch(
  db: Database,
  workspaceId: number,
  id: number,
  change: Partial<typeof importBatch.$inferInsert>,
): Promise<void> {
  await db
    .update(importBatch)
    .set(change)
    .where(and(eq(importBatch.workspaceId, workspaceId), eq(importBatch.id, id)));
}

function selectBatches(db: Database, where: SQL | undefined): Promise<BatchRow[]> {
  const { workspaceId, batchId, stop: _, backend: __, requestedBy: ___, ...job } = jobColumns;
  return db
    .select({ batch: importBatch, createdByName: person.name, job })
    .from(importBatch)
    .innerJoin(person, eq(person.id, importBatch.createdBy))
    .leftJoin(importJob, and(eq(workspaceId, importBatch.workspaceId), eq(batchId, importBatch.id)))
    .where(where)
    .orderBy(desc(importBatch.id))
    .then((rows) => rows.map(({ batch, ...rest }) => ({ ...batch, ...rest })));
}

export function batches(db: Database, workspaceId: number): Promise<BatchRow[]> {
  return selectBatches(db, eq(importBatch.workspaceId, workspaceId));
}

export async function batchById(
  db: Database,
  workspaceId: number,
  id: number,
): Promise<BatchRow | undefined> {
  const thisBatch = and(eq(importBatch.workspaceId, workspaceId), eq(importBatch.id, id));
  const [row] = await selectBatches(db, thisBatch);
  return row;
}

/** The state of a batch, locked until the transaction ends. */
export async function lockBatch(db: Database, workspaceId: number, id: number) {
  const [row] = await db
    .select({
      kind: importBatch.kind,
      source: importBatch.source,
      state: importBatch.state,
      good: importBatch.good,
    })
    .from(importBatch)
    .where(and(eq(importBatch.workspaceId, workspaceId), eq(importBatch.id, id)))
    .for('update');
  return row;
}

/** The newest batch of the same bytes, other than the one asked for, that was not put away. */
export async function batchLike(
  db: Database,
  workspaceId: number,
  { id, fingerprint }: Pick<BatchRow, 'id' | 'fingerprint'>,
) {
  if (fingerprint === null) return undefined;
  const [row] = await db
    .select()
    .from(importBatch)
    .where(
      and(
        eq(importBatch.workspaceId, workspaceId),
        eq(importBatch.fingerprint, fingerprint),
        sql`${importBatch.state} <> 'putAway' and ${importBatch.id} < ${id}`,
      ),
    )
    .orderBy(desc(importBatch.id))
    .limit(1);
  return row;
}
