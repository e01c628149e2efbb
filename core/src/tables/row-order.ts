import type { TableCell, TableColumn, TableRow } from './roll-up.ts';

/** By which column rows are put in order, and which way. */
export interface RowOrder {
  /** A column's key, or `total`. */
  readonly column: string;
  readonly descending: boolean;
}

/**
 * Puts rows in order by a column, siblings among themselves: what lies below a row stays below it.
 * Rows without a value come last, either way. A column that is not there leaves rows as they are.
 */
export function sortRows<R extends TableRow>(
  rows: readonly R[],
  columns: readonly TableColumn[],
  order: RowOrder | undefined,
): readonly R[] {
  if (!order) return rows;
  const place = columns.findIndex(({ key }) => key === order.column);
  if (place < 0 && order.column !== 'total') return rows;
  const cellOf = (row: R): TableCell | undefined => (place < 0 ? row.total : row.cells[place]);
  const valueOf = (row: R): number => {
    const value = cellOf(row)?.value ?? null;
    if (value === null) return Number.NEGATIVE_INFINITY;
    return order.descending ? value : -value;
  };
  interface Branch {
    readonly row: R;
    readonly below: Branch[];
  }
  const top: Branch[] = [];
  const path: Branch[] = [];
  for (const row of rows) {
    const branch: Branch = { row, below: [] };
    path.length = row.level;
    (path.at(-1)?.below ?? top).push(branch);
    path.push(branch);
  }
  const inOrder = (branches: Branch[]): R[] =>
    branches
      .sort((a, b) => valueOf(b.row) - valueOf(a.row) || 0)
      .flatMap(({ row, below }) => [row, ...inOrder(below)]);
  return inOrder(top);
}
