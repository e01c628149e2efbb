import type { TableColumn, TableRow } from './roll-up.ts';

/** By which column rows are put in order, and which way. */
export interface RowOrder {
  /** A column's key, or `total`. */
  readonly column: string;
  readonly descending: boolean;
}

/**
 * Rows of a tree in another order, siblings among themselves: what lies below a row stays below it,
 * and siblings that are equal stay as they came.
 * @param rows each after the one it lies below, one level deeper
 */
export function amongSiblings<R extends { readonly level: number }>(
  rows: readonly R[],
  compare: (a: R, b: R) => number,
): readonly R[] {
  interface Branch {
    readonly row: R;
    readonly below: Branch[];
  }
  const top: Branch[] = [];
  const path: Branch[] = [];
  for (const row of rows) {
    const branch: Branch = { row, below: [] };
    path.length = Math.min(path.length, row.level);
    (path.at(-1)?.below ?? top).push(branch);
    path.push(branch);
  }
  const inOrder = (branches: readonly Branch[]): R[] =>
    branches
      .toSorted((a, b) => compare(a.row, b.row))
      .flatMap(({ row, below }) => [row, ...inOrder(below)]);
  return inOrder(top);
}

/** Compares by a number of each row. Rows without one come last, either way. */
export function byValue<R>(
  valueOf: (row: R) => number | null,
  descending: boolean,
): (a: R, b: R) => number {
  return (a, b) => {
    const [one, two] = [valueOf(a), valueOf(b)];
    if (one === null || two === null) return Number(one === null) - Number(two === null);
    return descending ? two - one : one - two;
  };
}

/** Puts rows in order by a column. One that is not there leaves them as they are. */
export function sortRows<R extends TableRow>(
  rows: readonly R[],
  columns: readonly TableColumn[],
  order: RowOrder | undefined,
): readonly R[] {
  if (!order) return rows;
  const place = columns.findIndex(({ key }) => key === order.column);
  if (place < 0 && order.column !== 'total') return rows;
  const valueOf = (row: R): number | null =>
    (place < 0 ? row.total : row.cells[place])?.value ?? null;
  return amongSiblings(rows, byValue(valueOf, order.descending));
}
