import type { CellName } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import type { Database } from '../platform/database.ts';
import { badRequest, conflict, isTaken } from '../platform/errors.ts';
import * as store from './store.ts';

export type BatchState = store.BatchRow['state'];

/** What the journal calls a file's state. */
export function batchName(fileName: string): (cell: string) => CellName {
  return () => ({ label: fileName, unit: 'text' });
}

/** Moves a file from one state to another, with its sales lines. @throws HttpProblem 409 */
export async function moveBatch(
  db: Database,
  workspaceId: number,
  id: number,
  from: BatchState,
  to: BatchState,
): Promise<void> {
  if (from === 'applied') await store.takeBackApplied(db, workspaceId, id);
  if (to === 'applied') {
    const batch = await store.lockBatch(db, workspaceId, id);
    if (batch?.good === 0) throw badRequest('No row of this file can be taken in');
    if ((await store.stagedCount(db, workspaceId, id)) !== batch?.good) {
      throw conflict('The checked rows of this file are gone; upload it again');
    }
    try {
      await store.applyStaged(db, workspaceId, id);
    } catch (error) {
      if (!isTaken(error)) throw error;
      throw conflict(
        'Some of these document lines were taken in by another import meanwhile; upload the file again to see which',
      );
    }
  }
  const appliedAt = to === 'applied' ? new Date() : null;
  await store.setBatch(db, workspaceId, id, { state: to, appliedAt });
}

/** A file of sales lines: previewed, applied, or put away. */
export const importThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await Promise.all(ids.map((id) => store.lockBatch(db, workspaceId, Number(id))));
    return new Map(
      rows.flatMap((row, place) => (row ? [[ids[place] ?? '', { state: row.state }]] : [])),
    );
  },
  async write(db, { workspaceId }, changes) {
    for (const { id, now, next } of changes) {
      const state = (next?.['state'] ?? 'putAway') as BatchState;
      await moveBatch(db, workspaceId, Number(id), now?.['state'] as BatchState, state);
    }
  },
};
