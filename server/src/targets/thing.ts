import type { CellName, Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import { fromFirst, toFirst } from '../platform/database.ts';
import { conflict } from '../platform/errors.ts';
import type { TargetRow } from './store.ts';
import * as store from './store.ts';

type Row = Omit<TargetRow, 'workspaceId' | 'id'>;

/** A node of a target tree as the journal keeps it. */
export function targetCells(row: Row): Cells {
  const { fiscalYear, parentId, kind, position, scope, seller, name, percent, amount } = row;
  return {
    node: { fiscalYear, parentId, kind, position, scope, seller },
    name,
    ...(row.untilMonth === null ? {} : { until: fromFirst(row.untilMonth) }),
    // One of the two is set; a percent is kept as the decimal that was typed.
    ...(percent === null ? { amount } : { percent: Number(percent) / 100 }),
  };
}

function rowOf(cells: Cells): Row {
  const node = cells['node'] as unknown as Omit<Row, 'name' | 'percent' | 'amount' | 'untilMonth'>;
  const percent = cells['percent'];
  const until = cells['until'];
  return {
    ...node,
    untilMonth: typeof until === 'string' ? toFirst(until) : null,
    name: String(cells['name']),
    percent: typeof percent === 'number' ? (percent * 100).toFixed(6) : null,
    amount: typeof percent === 'number' ? null : Number(cells['amount'] ?? 0),
  };
}

/** What the journal calls the properties of a node. */
export function targetNames({ name, fiscalYear }: Pick<Row, 'name' | 'fiscalYear'>) {
  return (cell: string): CellName => {
    const label = `Target FY ${fiscalYear}, ${name}`;
    if (cell === 'percent') return { label: `${label}, share`, unit: 'percent' };
    if (cell === 'amount') return { label, unit: 'minor' };
    if (cell === 'until') return { label: `${label}, last month`, unit: 'text' };
    return { label: cell === 'name' ? `${label}, name` : label, unit: 'text' };
  };
}

/** A node of a target tree. */
export const targetThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await store.nodesById(db, workspaceId, ids.map(Number));
    return new Map(rows.map((row) => [String(row.id), targetCells(row)]));
  },
  async write(db, { workspaceId }, changes) {
    for (const { id, now, next } of changes) {
      if (!next) {
        const below = await store.childrenOf(db, workspaceId, Number(id));
        if (below > 0) throw conflict(`${below} parts lie below it; take them out first`);
        await store.deleteNode(db, workspaceId, Number(id));
      } else if (now) await store.updateNode(db, workspaceId, Number(id), rowOf(next));
      else await store.restoreNode(db, { ...rowOf(next), workspaceId, id: Number(id) });
    }
  },
};
