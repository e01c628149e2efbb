import type { Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import type { Database } from '../platform/database.ts';
import * as store from './store.ts';

/** Something with a code whose other properties are changed in place. */
function byCode<Row extends { readonly code: string }>(
  list: (db: Database, workspaceId: number) => Promise<Row[]>,
  cells: (row: Row) => Cells,
  set: (db: Database, workspaceId: number, code: string, next: Cells) => Promise<void>,
): Thing {
  return {
    async read(db, workspaceId, ids) {
      const rows = await list(db, workspaceId);
      return new Map(
        rows.filter(({ code }) => ids.includes(code)).map((row) => [row.code, cells(row)]),
      );
    },
    async write(db, { workspaceId }, changes) {
      for (const { id, next } of changes) await set(db, workspaceId, id, next ?? {});
    },
  };
}

/** A measured fact's name, unit and nature. */
export const measureThing = byCode(
  store.measures,
  ({ name, unit, nature }) => ({ name, unit, nature }),
  store.setMeasure,
);

/** A ledger account's name, kind and behaviour. */
export const accountThing = byCode(
  store.accounts,
  ({ name, kind, behaviour }) => ({ name, kind, behaviour }),
  // What is empty has no cell.
  (db, workspaceId, code, next) =>
    store.setAccount(db, workspaceId, code, { behaviour: null, ...next }),
);
