/** Yearly terms that are billed ahead and earned by the month. Source: calculations, *Subscriptions*. */
import { cohortTable } from './cohorts.ts';
import { valueAt, type OpeningBase, type SubscriptionInput } from './movement.ts';

/** Yearly terms that are billed ahead, and earned by the month. */
export interface Prepaid {
  readonly billed: Float64Array;
  readonly earned: Float64Array;
  /** At the end of the month: what was billed and not earned yet. */
  readonly deferred: Float64Array;
}

/** Months of a term that is billed at once. */
export const PREPAID_TERM = 12;

/**
 * Bills terms as they begin, at that month's list price for the year, and earns them in twelfths from
 * the billing month on: opening deferred + billed - earned = closing deferred.
 * @param begun how many terms begin in a month: new ones and renewals
 * @param annualPrice of a month, for twelve months
 * @param before what was billed before the first month and is earned in the months from it on
 */
export function billedAhead(
  begun: ArrayLike<number>,
  annualPrice: ArrayLike<number>,
  before: ArrayLike<number> = [],
): Prepaid {
  const series = (): Float64Array => new Float64Array(begun.length);
  const { billed, earned, deferred } = { billed: series(), earned: series(), deferred: series() };
  let left = 0;
  for (let t = 0; t < before.length; t += 1) left += before[t] ?? 0;
  for (let t = 0; t < begun.length; t += 1) {
    billed[t] = valueAt(begun, t) * valueAt(annualPrice, t);
    let sum = before[t] ?? 0;
    for (let back = 0; back < PREPAID_TERM && back <= t; back += 1) {
      sum += valueAt(billed, t - back) / PREPAID_TERM;
    }
    earned[t] = sum;
    left += valueAt(billed, t) - sum;
    deferred[t] = left;
  }
  return { billed, earned, deferred };
}

/** How many yearly terms of a subscription begin in each month, of whatever cohort. */
export function termsBegun(input: SubscriptionInput): Float64Array {
  const begun = new Float64Array(input.starters.length);
  for (const { start, active } of cohortTable(input)) {
    for (let t = Math.max(0, start); t < begun.length; t += 1) {
      if ((t - start) % PREPAID_TERM === 0) begun[t] = valueAt(begun, t) + valueAt(active, t);
    }
  }
  return begun;
}

/**
 * What is still to be earned of the terms of an opening base, month by month: each was billed for a
 * year when it began, at the price that its subscribers pay.
 */
export function stillToEarn({ byAge, price }: OpeningBase): number[] {
  return Array.from({ length: PREPAID_TERM - 1 }, (_, t) =>
    byAge.reduce(
      (sum, size, age) => ((age % PREPAID_TERM) + t + 1 < PREPAID_TERM ? sum + size * price : sum),
      0,
    ),
  );
}
