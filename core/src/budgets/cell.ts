import type { CellRow } from '../forecast/actual-rows.ts';

/** What a version plans for a combination and month: units, and money in minor units. */
export type BudgetCell = CellRow;

/** The smallest part of a unit that is kept: a thousandth. */
export const UNIT_PARTS = 1000;

/** Half away from zero, so that a credit rounds as its sale does. */
export function rounded(value: number): number {
  return Math.sign(value) * Math.round(Math.abs(value)) || 0;
}
