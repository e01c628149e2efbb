import type { MemberTree, Stream } from '@dravex/core';
import type { CellName, Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import * as store from './store.ts';

/** A stream as the journal keeps it. */
export function streamCells({ combination, method }: Omit<Stream, 'id'>): Cells {
  return { stream: { combination, method } };
}

/** What the journal calls a stream. */
export function streamName(members: readonly number[], tree: MemberTree): () => CellName {
  return () => ({ label: `Stream ${tree.label(members)}`, unit: 'text' });
}

/** The forecast of a combination. */
export const streamThing: Thing = {
  async read(db, workspaceId, ids) {
    const wanted = new Set(ids);
    const rows = await store.streamsOf(db, workspaceId);
    return new Map(
      rows
        .filter(({ id }) => wanted.has(String(id)))
        .map((row) => [String(row.id), streamCells(row)]),
    );
  },
  async write(db, { workspaceId }, changes) {
    const gone = changes.filter(({ next }) => next === null).map(({ id }) => Number(id));
    await store.deleteStreams(db, workspaceId, gone);
    for (const { id, next } of changes) {
      const { combination, method } = (next?.['stream'] ?? {}) as Partial<Stream>;
      if (combination === undefined || method === undefined) continue;
      await store.restoreStream(db, {
        workspaceId,
        id: Number(id),
        combinationId: combination,
        method,
      });
    }
  },
};
