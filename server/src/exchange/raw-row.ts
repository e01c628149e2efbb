import type { Cell } from '@dravex/core';

/** A row as it stands in the file, and its number as a person counts it. */
export interface RawRow {
  readonly row: number;
  readonly cells: readonly Cell[];
}

/** A table has no more columns; a row that has is known by the one cell that is kept beyond. */
export const MOST_COLUMNS = 2000;

/** Cells of a row as far as they are kept: what is wider is not held in memory. */
export function withinColumns<C>(cells: readonly C[]): readonly C[] {
  return cells.length > MOST_COLUMNS ? cells.slice(0, MOST_COLUMNS + 1) : cells;
}
