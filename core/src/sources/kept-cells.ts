import { monthFrom, type MonthText } from '../calendar/month.ts';
import type { CellRow } from '../forecast/actual-rows.ts';

/** The cells of a kept version as they travel: columns, revenue and cost in minor units. */
export interface KeptCells {
  readonly combination: readonly number[];
  readonly month: readonly MonthText[];
  readonly units: readonly number[];
  readonly revenue: readonly number[];
  /** Null where the version was kept without cost. */
  readonly cost: readonly (number | null)[];
}

/** The cells of a kept version, row by row. */
export function* rowsOfCells(cells: KeptCells): Generator<CellRow> {
  for (let at = 0; at < cells.combination.length; at += 1) yield rowOfCells(cells, at);
}

/** One cell of a kept version. */
export function rowOfCells(
  { combination, month, units, revenue, cost }: KeptCells,
  at: number,
): CellRow {
  return {
    combination: combination[at] ?? -1,
    month: monthFrom(month[at] ?? ''),
    units: units[at] ?? 0,
    revenue: revenue[at] ?? 0,
    cost: cost[at] ?? null,
  };
}
