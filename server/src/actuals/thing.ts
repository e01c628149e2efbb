import type { Remembered } from '@dravex/contract';
import type { CellName } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import type { Database } from '../platform/database.ts';
import { badRequest, conflict } from '../platform/errors.ts';
import { makeAccounts, makeMeasures } from '../facts/store.ts';
import * as store from './store.ts';

export type BatchState = store.BatchRow['state'];

/** What the journal calls a file's state. */
export function batchName(fileName: string): (cell: string) => CellName {
  return (cell) => ({
    label: cell === 'state' ? fileName : `${fileName}, ${cell}`,
    unit: 'text',
  });
}

/** Told of each step of moving a batch; may throw to stop it. */
export type Progress = (step: number, steps: number) => Promise<void>;

const NO_PROGRESS: Progress = () => Promise.resolve();

/**
 * Moves a batch from one state to another: its rows count, or count no longer. All in the caller's
 * transaction, the summary with it, so that neither is ever without the other.
 * @throws HttpProblem 409
 */
export async function moveBatch(
  db: Database,
  workspaceId: number,
  id: number,
  from: BatchState,
  to: BatchState,
  progress = NO_PROGRESS,
): Promise<void> {
  const batch = await store.lockBatch(db, workspaceId, id);
  const origin = batch?.source === 'hand' ? 'hand' : 'books';
  const sales = batch?.kind === 'sales';
  if (from === 'applied' && sales) await store.takeSums(db, workspaceId, id, origin);
  if (to === 'applied') {
    if (batch?.good === 0) throw badRequest('No row of this file can be imported');
    if (sales) {
      await progress(0, 3);
      if ((await store.lineCount(db, workspaceId, id)) !== batch?.good) {
        throw conflict('The checked rows of this file are gone; upload it again');
      }
      if (
        (await store.hasOtherLines(db, workspaceId, id)) &&
        (await store.clashes(db, workspaceId, id)) > 0
      ) {
        throw conflict(
          'Some of these document lines were imported from another file meanwhile; upload the file again to see which',
        );
      }
      await progress(1, 3);
      await store.addSums(db, workspaceId, id, origin);
      await progress(2, 3);
    }
    if (batch?.kind === 'facts') await makeMeasures(db, workspaceId, id);
    if (batch?.kind === 'ledger') await makeAccounts(db, workspaceId, id);
  }
  const appliedAt = to === 'applied' ? new Date() : null;
  await store.setBatch(db, workspaceId, id, { state: to, appliedAt });
}

/** A file: previewed, applied, or put away. */
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

/** What the journal calls a remembered repair. */
export function rememberedId({ kind, field, from }: Omit<Remembered, 'to'>): string {
  return JSON.stringify([kind, field, from]);
}

/** What a value of files to come is read as. */
export const rememberedThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.remembered(db, workspaceId);
    return new Map(
      rows
        .map((row) => [rememberedId(row), { to: row.to }] as const)
        .filter(([id]) => ids.includes(id)),
    );
  },
  async write(db, { workspaceId }, changes) {
    for (const { id, next } of changes) {
      const [kind, field, from] = JSON.parse(id) as [Remembered['kind'], string, string];
      const to = next?.['to'];
      if (typeof to === 'string') await store.remember(db, workspaceId, { kind, field, from, to });
      else await store.forget(db, workspaceId, { kind, field, from });
    }
  },
};
