/** What people can sell. Source: calculations, *Targets* (capacity in a month). */
import type { Month } from '../calendar/month.ts';

/** Somebody who sells: from when and to when, and how it grows to the full capacity of a month. */
export interface Ramping {
  /** The first month; null for somebody who has been there all the time. */
  readonly from: Month | null;
  /** The last month, which counts; null for somebody who stays. */
  readonly until: Month | null;
  /** Shares of full capacity by months since the start, as fractions; full after them. */
  readonly ramp: readonly number[];
  /** Full capacity of a month. */
  readonly full: number;
}

/**
 * Capacity of some people in each of some months: full capacity times the share of the ramp that
 * they have reached, through the month in which they leave.
 * @param first the first month; `count` how many
 */
export function capacityByMonth(people: readonly Ramping[], first: Month, count: number): number[] {
  return Array.from({ length: count }, (_, place) => {
    const month = first + place;
    return people.reduce((sum, { from, until, ramp, full }) => {
      if ((from !== null && month < from) || (until !== null && month > until)) return sum;
      const share = from === null ? 1 : (ramp[month - from] ?? 1);
      return sum + full * share;
    }, 0);
  });
}
