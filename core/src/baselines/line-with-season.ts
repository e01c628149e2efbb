/** A least-squares line times seasonal indices. */
import { SEASON, seasonalIndex } from './season.ts';

/** The least-squares line through values at 0, 1, 2, …; `start + slope x t`. */
export function leastSquares(values: readonly number[]): { start: number; slope: number } {
  const n = values.length;
  const middle = (n - 1) / 2;
  const mean = values.reduce((sum, value) => sum + value, 0) / n;
  let above = 0;
  let below = 0;
  values.forEach((value, t) => {
    above += (t - middle) * (value - mean);
    below += (t - middle) ** 2;
  });
  const slope = below === 0 ? 0 : above / below;
  return { start: mean - slope * middle, slope };
}

/**
 * The months after a history: the line through the history divided by its seasonal indices, times
 * the index of the month.
 * @param history at least two years of months
 * @example lineWithSeason(thirtySixMonths, 12) // the next year
 */
export function lineWithSeason(history: readonly number[], ahead: number): number[] {
  const index = seasonalIndex(history);
  const { start, slope } = leastSquares(
    history.map((value, t) => value / (index[t % SEASON] ?? Number.NaN)),
  );
  return Array.from({ length: ahead }, (_, h) => {
    const t = history.length + h;
    return (start + slope * t) * (index[t % SEASON] ?? Number.NaN);
  });
}
