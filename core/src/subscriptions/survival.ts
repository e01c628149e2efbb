/** How long subscribers stay: the part of a cohort that is left at an age. Source: calculations, *Subscriptions*. */

/**
 * How subscribers leave. In the month of their start nobody does.
 * - `constant`: the same part of those who are there every month.
 * - `byAge`: `rates[a - 1]` of those of age a - 1 leave before age a; the last rate goes on.
 * - `atRenewal`: a part leaves at the end of each term of so many months.
 */
export type Churn =
  | { readonly kind: 'constant'; readonly rate: number }
  | { readonly kind: 'byAge'; readonly rates: readonly number[] }
  | { readonly kind: 'atRenewal'; readonly term: number; readonly rate: number };

/** A change to another plan, of those who reach an age of at least one month. */
export interface Changes {
  readonly age: number;
  /** The part of them that changes. */
  readonly share: number;
}

/** What is wrong with a churn, in words, with the field; empty where nothing is. */
export function churnProblems(churn: Churn): { field: string; message: string }[] {
  const outside = (rate: number): boolean => !(rate >= 0 && rate <= 1);
  switch (churn.kind) {
    case 'byAge': {
      if (churn.rates.length === 0) return [{ field: 'rates', message: 'name a rate for age 1' }];
      return churn.rates.flatMap((rate, at) =>
        outside(rate)
          ? [{ field: `rates.${at}`, message: `the rate at age ${at + 1} lies outside 0 to 100 %` }]
          : [],
      );
    }
    case 'atRenewal':
      return [
        ...(Number.isInteger(churn.term) && churn.term >= 1
          ? []
          : [{ field: 'term', message: 'a term has at least one whole month' }]),
        ...(outside(churn.rate)
          ? [{ field: 'rate', message: 'the rate lies outside 0 to 100 %' }]
          : []),
      ];
    case 'constant':
      return outside(churn.rate)
        ? [{ field: 'rate', message: 'the rate lies outside 0 to 100 %' }]
        : [];
  }
}

/** The rate at which those of age a - 1 leave before age a, from age 1 on. */
export function churnAt(churn: Churn, age: number): number {
  switch (churn.kind) {
    case 'constant':
      return churn.rate;
    case 'byAge':
      return churn.rates[Math.min(age, churn.rates.length) - 1] ?? 0;
    case 'atRenewal':
      return age % churn.term === 0 ? churn.rate : 0;
  }
}

/** S(0) to S(ages): the part of a cohort that is left at each age. S(0) is 1. */
export function survival(churn: Churn, ages: number): Float64Array {
  const left = new Float64Array(ages + 1);
  left[0] = 1;
  for (let age = 1; age <= ages; age += 1) {
    left[age] = (left[age - 1] ?? 0) * (1 - churnAt(churn, age));
  }
  return left;
}

/** The sum of S over the ages below one. */
const monthsBelow = (churn: Churn, age: number): number =>
  survival(churn, age - 1).reduce((sum, left) => sum + left, 0);

/**
 * The months that a subscriber stays on average, which is the sum of S over all ages: 1 / c with one
 * rate. Null where nobody ever leaves.
 * @param changes those who go to another plan stay no longer in this one
 */
export function expectedMonths(churn: Churn, changes?: Changes): number | null {
  const all = monthsAtAll(churn);
  if (!changes) return all;
  const before = monthsBelow(churn, changes.age);
  if (all === null) return changes.share === 1 ? before : null;
  return before + (1 - changes.share) * (all - before);
}

function monthsAtAll(churn: Churn): number | null {
  switch (churn.kind) {
    case 'constant':
      return churn.rate === 0 ? null : 1 / churn.rate;
    case 'atRenewal':
      return churn.rate === 0 ? null : churn.term / churn.rate;
    case 'byAge': {
      const last = churn.rates.at(-1) ?? 0;
      let [sum, left] = [0, 1];
      // Ages before the last rate holds by themselves; from there on a geometric rest.
      for (const rate of churn.rates.slice(0, -1)) {
        sum += left;
        left *= 1 - rate;
      }
      if (left === 0) return sum;
      return last === 0 ? null : sum + left / last;
    }
  }
}

/** Where a constant gain levels off, and how far the way is. */
export interface Plateau {
  /** Subscribers; null where nobody leaves, so that it never levels off. */
  readonly plateau: number | null;
  /** The first month at which the wanted part of the way is done; null where one rate does not say it. */
  readonly monthsToFraction: number | null;
}

/**
 * The count that a constant monthly gain levels off at: gain x the sum of S over all ages. With one
 * rate, also the first whole month at which a part of the way is done:
 * ceil(ln(1 - f) / ln(1 - c) - 1e-9).
 * @param fraction of the way, from 0 to below 1
 * @param changes those who go to another plan
 */
export function plateauOf(gain: number, churn: Churn, fraction = 0.9, changes?: Changes): Plateau {
  const months = expectedMonths(churn, changes);
  const way =
    churn.kind !== 'constant' || churn.rate === 0 || changes
      ? null
      : Math.max(0, Math.ceil(Math.log(1 - fraction) / Math.log(1 - churn.rate) - 1e-9));
  return { plateau: months === null ? null : gain * months, monthsToFraction: way };
}
