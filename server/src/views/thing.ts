import type { View } from '@dravex/contract';
import type { Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import * as store from './store.ts';

/** A view as the journal keeps it. */
export function viewCells({ room, address }: Pick<View, 'room' | 'address'>): Cells {
  return { room, address };
}

/** A view that is kept under a name. */
export const viewThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.viewsOf(db, workspaceId);
    return new Map(
      rows.filter(({ name }) => ids.includes(name)).map((row) => [row.name, viewCells(row)]),
    );
  },
  async write(db, { workspaceId, personId }, changes) {
    for (const { id, next } of changes) {
      if (next === null) await store.deleteView(db, workspaceId, id);
      else {
        const room = next['room'] as View['room'];
        await store.putView(db, workspaceId, personId, id, {
          room,
          address: typeof next['address'] === 'string' ? next['address'] : '',
        });
      }
    }
  },
};
