/** A node of a target tree in cells, as the journal keeps it. */
import type { DealPlanOf } from '@dravex/contract';
import { meaningOf, type TargetMeasure } from '@dravex/core';
import type { CellName, Cells } from '../journal/cells.ts';
import { fromFirst, toFirst } from '../platform/database.ts';
import type { TargetRow } from './store.ts';

type Row = Omit<TargetRow, 'workspaceId' | 'id'>;

/** A node of a target tree as the journal keeps it; what nobody has said is left out. */
export function targetCells(row: Row): Cells {
  const { fiscalYear, parentId, kind, position, scope, seller, name, percent, amount } = row;
  const said = {
    objective: row.objective,
    measure: row.measure,
    account: row.account,
    manager: row.manager,
    from: row.fromMonth === null ? null : fromFirst(row.fromMonth),
    until: row.untilMonth === null ? null : fromFirst(row.untilMonth),
    ramp: row.ramp.length === 0 ? null : row.ramp,
    full: row.fullCapacity,
    cushion: row.cushion === 0 ? null : row.cushion / 100,
    locked: row.locked || null,
    months: row.months,
    state: row.state === 'draft' ? null : row.state,
    comment: row.comment,
    deals: row.deals,
  };
  return {
    node: { fiscalYear, parentId, kind, position, scope, seller },
    name,
    ...(Object.fromEntries(Object.entries(said).filter(([, value]) => value !== null)) as Cells),
    // One of the two is set; a percent is kept as the decimal that was typed.
    ...(percent === null ? { amount } : { percent: Number(percent) / 100 }),
  };
}

/** The columns of a node that the journal kept. */
export function rowOf(cells: Cells): Row {
  type Node = Pick<Row, 'fiscalYear' | 'parentId' | 'kind' | 'position' | 'scope' | 'seller'>;
  const node = cells['node'] as unknown as Node;
  const words = (cell: string): string | null => {
    const value = cells[cell];
    return typeof value === 'string' ? value : null;
  };
  const number = (cell: string): number | null => {
    const value = cells[cell];
    return typeof value === 'number' ? value : null;
  };
  const month = (cell: string): string | null => {
    const value = words(cell);
    return value === null ? null : toFirst(value);
  };
  const percent = number('percent');
  const top = node.parentId === null;
  return {
    ...node,
    name: words('name') ?? '',
    objective: words('objective') ?? (top ? 'Revenue' : null),
    measure: (words('measure') as TargetMeasure | null) ?? (top ? 'revenue' : null),
    account: words('account'),
    manager: words('manager'),
    fromMonth: month('from'),
    untilMonth: month('until'),
    ramp: (cells['ramp'] as number[] | null | undefined) ?? [],
    fullCapacity: number('full'),
    cushion: Number(((number('cushion') ?? 0) * 100).toFixed(3)),
    locked: cells['locked'] === true,
    months: (cells['months'] as number[] | null | undefined) ?? null,
    state: (words('state') as Row['state'] | null) ?? 'draft',
    comment: words('comment'),
    deals: (cells['deals'] as unknown as DealPlanOf | null | undefined) ?? null,
    percent: percent === null ? null : (percent * 100).toFixed(6),
    amount: percent === null ? (number('amount') ?? 0) : null,
  };
}

/** What a cell of a node is called, behind the node's own name. */
const CELLS: Readonly<Record<string, string>> = {
  percent: 'share',
  name: 'name',
  objective: 'objective',
  account: 'account',
  manager: 'manager',
  from: 'first month',
  until: 'last month',
  ramp: 'ramp-up',
  full: 'full capacity a month',
  cushion: 'cushion',
  locked: 'locked',
  months: 'months',
  state: 'state',
  comment: 'comment',
  deals: 'deals',
};

/** What the journal calls the properties of a node. */
export function targetNames(
  { name, fiscalYear }: Pick<Row, 'name' | 'fiscalYear'>,
  measure: TargetMeasure,
) {
  const counted = meaningOf(measure).display === 'money' ? 'minor' : 'units';
  return (cell: string): CellName => {
    const label = `Target FY ${fiscalYear}, ${name}`;
    const own = CELLS[cell];
    const unit =
      cell === 'percent' || cell === 'cushion'
        ? 'percent'
        : cell === 'amount' || cell === 'full'
          ? counted
          : 'text';
    return { label: own === undefined ? label : `${label}, ${own}`, unit };
  };
}
