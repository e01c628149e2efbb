import { divide } from '../spread/divide.ts';
import { ratio } from '../measures/nature.ts';

/** How far a target is reached. Ratios are fractions; null where there is nothing to divide by. */
export interface Attainment {
  /** Actual over the phased target of the closed months. */
  readonly toDate: number | null;
  /** Actual over the year's target. */
  readonly ofYear: number | null;
  /** What each month left has to bring, in the unit of the target; null when no month is left. */
  readonly pace: number | null;
  /** (Actual + forecast of the open months) over the year's target. */
  readonly outlook: number | null;
}

/** A year's target over twelve months by seasonal weights, exact to the cent. */
export function phase(target: number, weights: readonly number[]): number[] {
  return divide(target, weights);
}

/**
 * Attainment of a year's target.
 * @param target the year's, in minor units
 * @param weights twelve seasonal weights, the fiscal year's first month first
 * @param actual one amount a closed month, in minor units
 * @param forecast one amount a month that is left
 */
export function attainment(
  target: number,
  weights: readonly number[],
  actual: readonly number[],
  forecast: readonly number[],
): Attainment {
  return attainmentOf(phase(target, weights), actual, forecast);
}

/** The same of a target that is phased already. @param months what it is in each month */
export function attainmentOf(
  months: readonly number[],
  actual: readonly number[],
  forecast: readonly number[],
): Attainment {
  const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);
  const target = sum(months);
  const done = sum(actual);
  return {
    toDate: ratio(done, sum(months.slice(0, actual.length))),
    ofYear: ratio(done, target),
    pace: ratio(target - done, months.length - actual.length),
    outlook: ratio(done + sum(forecast), target),
  };
}
