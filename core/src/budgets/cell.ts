import type { Month } from '../calendar/month.ts';

/** What a version plans for a combination and month: units, and money in minor units. */
export interface BudgetCell {
  readonly combination: number;
  readonly month: Month;
  readonly units: number;
  readonly revenue: number;
  /** Null where it is not planned. */
  readonly cost: number | null;
}

/** The smallest part of a unit that is kept: a thousandth. */
export const UNIT_PARTS = 1000;

/** Half away from zero, so that a credit rounds as its sale does. */
export function rounded(value: number): number {
  return Math.sign(value) * Math.round(Math.abs(value)) || 0;
}
