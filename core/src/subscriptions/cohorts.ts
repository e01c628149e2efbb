/** Subscribers cohort by cohort: the same numbers as the movement, one by one. */
import { pricePaid, rowStart, runOf, valueAt, type SubscriptionInput } from './movement.ts';

/** A cohort as it is looked at: how many are left at each age, and what they bring. */
export interface CohortRow {
  /** The month it started in, counted from the first; below 0 before it. */
  readonly start: number;
  readonly size: number;
  /** By month from the first on; NaN before it started. */
  readonly active: Float64Array;
  /** The recurring revenue that those who are left bring; NaN before it started. */
  readonly revenue: Float64Array;
}

/**
 * The cohorts one by one, those of the opening base first, the youngest of them at the front; none of
 * customers who leave whole.
 */
export function cohortTable(input: SubscriptionInput): CohortRow[] {
  if (input.whole) return [];
  const count = input.starters.length;
  const base = input.opening.byAge.length;
  const { there, grown } = runOf(input);
  const rowOf = (start: number, size: number): CohortRow => {
    const active = new Float64Array(count).fill(Number.NaN);
    const revenue = active.slice();
    for (let t = Math.max(0, start); t < count; t += 1) {
      const place = rowStart(base, t + 1) + base + start;
      const left = there[place] ?? Number.NaN;
      active[t] = left;
      revenue[t] = left === 0 ? 0 : left * (grown?.[place] ?? 1) * pricePaid(input, start, t);
    }
    return { start, size, active, revenue };
  };
  return [
    ...input.opening.byAge.map((size, age) => rowOf(-1 - age, size)),
    ...Array.from({ length: count }, (_, start) =>
      rowOf(start, valueAt(input.starters, start) + valueAt(input.changedIn, start)),
    ),
  ].filter(({ size }) => size !== 0);
}
