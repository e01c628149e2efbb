import { monthText, type MonthText } from '../calendar/month.ts';
import type { CellRow } from '../forecast/actual-rows.ts';

/** What a version plans for a combination and month: units, and money in minor units. */
export type BudgetCell = CellRow;

/** The smallest part of a unit that is kept: a thousandth. */
export const UNIT_PARTS = 1000;

/** Half away from zero, so that a credit rounds as its sale does. */
export function rounded(value: number): number {
  return Math.sign(value) * Math.round(Math.abs(value)) || 0;
}

/** Cells of a version as they travel: one column a field. */
export interface CellColumns {
  combination: number[];
  month: MonthText[];
  units: number[];
  revenue: number[];
  cost: (number | null)[];
}

/** Lays cells out in columns. */
export function inColumns(cells: readonly BudgetCell[]): CellColumns {
  return {
    combination: cells.map(({ combination }) => combination),
    month: cells.map(({ month }) => monthText(month)),
    units: cells.map(({ units }) => units),
    revenue: cells.map(({ revenue }) => revenue),
    cost: cells.map(({ cost }) => cost),
  };
}
