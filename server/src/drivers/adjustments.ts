/** Adjustments kept and dropped, and written down. */
import type { KeptAdjustment } from '@dravex/contract';
import type { Adjustment, Driver, MemberTree } from '@dravex/core';
import type { Recorder } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Database } from '../platform/database.ts';
import * as store from './store.ts';
import { adjustmentCells, adjustmentName } from './thing.ts';

/** What names in the journal are made of. */
export interface Naming {
  readonly tree: MemberTree;
  readonly drivers: readonly Driver[];
}

/** Keeps new adjustments and writes them down. @returns their ids, in the same order */
export async function addAdjustments(
  tx: Database,
  { workspaceId, personId }: Actor,
  rows: readonly Omit<Adjustment, 'id'>[],
  { tree, drivers }: Naming,
  record: Recorder,
): Promise<number[]> {
  const ids = await store.insertAdjustments(tx, workspaceId, personId, rows);
  rows.forEach((row, index) => {
    const id = ids[index] ?? 0;
    const name = adjustmentName(row, tree, drivers);
    record.changed('adjustment', id, null, adjustmentCells({ ...row, id }), name);
  });
  return ids;
}

/** Drops adjustments and writes that down. */
export async function dropAdjustments(
  tx: Database,
  { workspaceId }: Actor,
  rows: readonly KeptAdjustment[],
  { tree, drivers }: Naming,
  record: Recorder,
): Promise<void> {
  await store.deleteAdjustments(
    tx,
    workspaceId,
    rows.map(({ id }) => id),
  );
  for (const { by: _, at: __, ...row } of rows) {
    const name = adjustmentName(row, tree, drivers);
    record.changed('adjustment', row.id, adjustmentCells(row), null, name);
  }
}
