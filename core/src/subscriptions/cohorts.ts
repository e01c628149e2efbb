/**
 * Subscribers by the month in which they started, and the recurring revenue that they bring.
 * Source: calculations, *Subscriptions*.
 */
import { churnAt, type Churn } from './survival.ts';

/**
 * Which list price a subscriber pays: that of the month, that of the start, or that of the month in
 * which the term last began.
 */
export type PricePolicy = 'current' | 'keptFromStart' | 'atRenewal';

/** Those who were there before the first month. */
export interface OpeningBase {
  /** By age at the end of the month before the first: one cohort of age 0, or an age table. */
  readonly byAge: readonly number[];
  /** What each of them pays a month, at that time. */
  readonly price: number;
}

/** What a subscription is computed from; one value a month, from the first open one on. */
export interface SubscriptionInput {
  readonly opening: OpeningBase;
  readonly starters: ArrayLike<number>;
  readonly churn: Churn;
  /**
   * The part of a churn that holds in a month, 1 for all of it: months in which more or fewer leave.
   * All of it where it is left out.
   */
  readonly churnFactor?: ArrayLike<number> | undefined;
  /** List price of a month. */
  readonly price: ArrayLike<number>;
  readonly pricePolicy: PricePolicy;
  /** Months of a term, for `atRenewal`; 12 where it is left out. */
  readonly term?: number | undefined;
  /** Off the price for the first so many months, as a part of it. */
  readonly promotion?: { readonly months: number; readonly off: number } | undefined;
  /** More and less that those who stay pay, as parts of what they paid a month before. */
  readonly expansion?: ArrayLike<number> | undefined;
  readonly contraction?: ArrayLike<number> | undefined;
  /** Those who come from another plan: they begin here as new ones do, and are not new. */
  readonly changedIn?: ArrayLike<number> | undefined;
  /** Of those who are there at an age, once they have not left, so many go to another plan. */
  readonly changes?: Changes | undefined;
  /** Customers leave whole, in some months only: then there are no cohorts. */
  readonly whole?: WholeRule | undefined;
}

/** A change to another plan, of those who reach an age of at least one month. */
export interface Changes {
  readonly age: number;
  /** The part of them that changes. */
  readonly share: number;
}

/** Whole customers leave in every n-th month. */
export interface WholeRule {
  readonly every: number;
  /** The month from which months are counted, from the first one on; below 0 before it. */
  readonly first: number;
}

/** Movements of a subscription, one value a month; they balance in every one. */
export interface Movement {
  /** Subscribers: opening + starters - lost + changedIn - changedOut = active. */
  readonly opening: Float64Array;
  readonly starters: Float64Array;
  readonly lost: Float64Array;
  /** From another plan, and to another one. */
  readonly changedIn: Float64Array;
  readonly changedOut: Float64Array;
  readonly active: Float64Array;
  /**
   * Recurring revenue: opening + new + priceChange + expansion - contraction - lost + changedIn -
   * changedOut = closing.
   */
  readonly revenue: {
    readonly opening: Float64Array;
    readonly new: Float64Array;
    readonly priceChange: Float64Array;
    readonly expansion: Float64Array;
    readonly contraction: Float64Array;
    readonly lost: Float64Array;
    readonly changedIn: Float64Array;
    readonly changedOut: Float64Array;
    readonly closing: Float64Array;
  };
}

/** A cohort: when it started, counted from the first month, and how many. */
interface Cohort {
  /** Below 0 for those who were there before. */
  readonly start: number;
  readonly size: number;
}

/** The cohorts that a subscription has: those of the opening base first. */
function cohortsOf({ opening, starters, changedIn, whole }: SubscriptionInput): Cohort[] {
  if (whole) return [];
  return [
    ...opening.byAge.map((size, age) => ({ start: -1 - age, size })),
    ...Array.from({ length: starters.length }, (_, start) => ({
      start,
      size: at(starters, start) + at(changedIn, start),
    })),
  ].filter(({ size }) => size !== 0);
}

const at = (series: ArrayLike<number> | undefined, t: number, otherwise = 0): number =>
  series === undefined ? otherwise : (series[t] ?? Number.NaN);

/** What a subscriber of a cohort pays in a month by the list, promotion counted. */
function pricePaid(input: SubscriptionInput, start: number, t: number): number {
  const { opening, price, pricePolicy, term = 12, promotion } = input;
  const age = t - start;
  const since =
    pricePolicy === 'current' ? t : pricePolicy === 'keptFromStart' ? start : t - (age % term);
  const list = since < 0 ? opening.price : at(price, since);
  // Those of the opening base pay what is given for them; their promotion is in it.
  return promotion && start >= 0 && age < promotion.months ? list * (1 - promotion.off) : list;
}

/** The part of those there that leaves a cohort in a month. */
const leaving = ({ churn, churnFactor }: SubscriptionInput, age: number, t: number): number =>
  Math.min(1, Math.max(0, churnAt(churn, age) * at(churnFactor, t, 1)));

/** A series as typed numbers; `otherwise` throughout where it is left out. */
function numbers(of: ArrayLike<number> | undefined, count: number, otherwise = 0): Float64Array {
  if (of === undefined) return new Float64Array(count).fill(otherwise);
  const made = new Float64Array(count);
  for (let t = 0; t < count; t += 1) made[t] = of[t] ?? Number.NaN;
  return made;
}

/** What leaves at each age in a month in which all of the churn holds. */
function leavingByAge({ churn, opening }: SubscriptionInput, count: number): Float64Array {
  const ages = count + opening.byAge.length + 1;
  return Float64Array.from({ length: ages }, (_, age) => (age === 0 ? 0 : churnAt(churn, age)));
}

/**
 * Movements of subscribers and of their recurring revenue. New ones enter at this month's price, the
 * lost go at last month's, and the price change falls on those who stay. A cohort that is not whole
 * stays so: parts of subscribers are counted.
 * @returns NaN from the month on in which an input is missing
 */
export function movementOf(input: SubscriptionInput): Movement {
  if (input.whole) return wholeMovement(input, input.whole);
  const count = input.starters.length;
  const series = (): Float64Array => new Float64Array(count);
  const [opening, starters, lost, active] = [series(), series(), series(), series()];
  // Each by its own name: they are written in the innermost loop.
  const [before, entered, priceChange, expansion] = [series(), series(), series(), series()];
  const [contraction, left, closing] = [series(), series(), series()];
  const [changedIn, changedOut, paidIn, paidOut] = [series(), series(), series(), series()];
  const { age: changeAge, share: changeShare } = input.changes ?? { age: -1, share: 0 };
  const byAge = leavingByAge(input, count);
  const factor = numbers(input.churnFactor, count, 1);
  const list = numbers(input.price, count);
  const [more, less] = [numbers(input.expansion, count), numbers(input.contraction, count)];
  const grows = more.some((part) => part !== 0) || less.some((part) => part !== 0);
  // Where all pay the list of the month, all cohorts share it.
  const alike = input.pricePolicy === 'current' && input.promotion === undefined;
  const own = alike ? list : series();
  for (const { start, size } of cohortsOf(input)) {
    let there = size;
    // What each pays beside the list, by what they took more or less of since they started.
    let grown = 1;
    if (!alike) {
      for (let t = Math.max(0, start); t < count; t += 1) own[t] = pricePaid(input, start, t);
    }
    if (start >= 0) {
      const pays = own[start] ?? Number.NaN;
      const changed = at(input.changedIn, start);
      starters[start] = size - changed;
      changedIn[start] = changed;
      active[start] = (active[start] ?? 0) + size;
      entered[start] = (size - changed) * pays;
      paidIn[start] = changed * pays;
      closing[start] = (closing[start] ?? 0) + size * pays;
    }
    const from = Math.max(0, start + 1);
    let then = from === 0 ? input.opening.price : (own[from - 1] ?? Number.NaN);
    for (let t = from; t < count; t += 1) {
      const now = own[t] ?? Number.NaN;
      const leaves = (byAge[t - start] ?? 0) * (factor[t] ?? 1);
      const gone = there * (leaves > 1 ? 1 : leaves < 0 ? 0 : leaves);
      let stay = there - gone;
      const paid = grown * then;
      if (t - start === changeAge) {
        const goes = stay * changeShare;
        stay -= goes;
        changedOut[t] = (changedOut[t] ?? 0) + goes;
        paidOut[t] = (paidOut[t] ?? 0) + goes * paid;
      }
      const stayPaid = stay * grown * now;
      opening[t] = (opening[t] ?? 0) + there;
      lost[t] = (lost[t] ?? 0) + gone;
      active[t] = (active[t] ?? 0) + stay;
      before[t] = (before[t] ?? 0) + there * paid;
      left[t] = (left[t] ?? 0) + gone * paid;
      priceChange[t] = (priceChange[t] ?? 0) + stay * grown * (now - then);
      closing[t] = (closing[t] ?? 0) + stayPaid;
      if (grows) {
        const [up, down] = [stayPaid * (more[t] ?? 0), stayPaid * (less[t] ?? 0)];
        expansion[t] = (expansion[t] ?? 0) + up;
        contraction[t] = (contraction[t] ?? 0) + down;
        closing[t] = (closing[t] ?? 0) + up - down;
        grown *= 1 + (more[t] ?? 0) - (less[t] ?? 0);
      }
      then = now;
      there = stay;
    }
  }
  return {
    ...{ opening, starters, lost, changedIn, changedOut, active },
    revenue: {
      ...{ opening: before, new: entered, priceChange, expansion, contraction },
      ...{ lost: left, changedIn: paidIn, changedOut: paidOut, closing },
    },
  };
}

/**
 * The movement of customers who leave whole. Without cohorts all of them pay the list price of the
 * month, and share what was taken more or less of.
 */
function wholeMovement(input: SubscriptionInput, { every, first }: WholeRule): Movement {
  const count = input.starters.length;
  const series = (): Float64Array => new Float64Array(count);
  const starters = numbers(input.starters, count);
  const changedIn = numbers(input.changedIn, count);
  const base = input.opening.byAge.reduce((sum, size) => sum + size, 0);
  const { active, lost } = wholeCustomersLeave(
    base,
    starters.map((value, t) => value + at(changedIn, t)),
    every,
    numbers(input.churnFactor, count, 1),
    first,
  );
  const revenue = {
    ...{ opening: series(), new: series(), priceChange: series(), expansion: series() },
    ...{ contraction: series(), lost: series(), changedIn: series(), changedOut: series() },
    closing: series(),
  };
  let [there, recurring, then] = [base, base * input.opening.price, input.opening.price];
  for (let t = 0; t < count; t += 1) {
    const now = at(input.price, t);
    const left = there === 0 ? 0 : (recurring * at(lost, t)) / there;
    const stays = recurring - left;
    const priced = then === 0 ? (there - at(lost, t)) * now : (stays * now) / then;
    revenue.opening[t] = recurring;
    revenue.lost[t] = left;
    revenue.priceChange[t] = priced - stays;
    revenue.expansion[t] = priced * at(input.expansion, t);
    revenue.contraction[t] = priced * at(input.contraction, t);
    revenue.new[t] = at(starters, t) * now;
    revenue.changedIn[t] = at(changedIn, t) * now;
    recurring =
      priced +
      (revenue.expansion[t] ?? 0) -
      (revenue.contraction[t] ?? 0) +
      (revenue.new[t] ?? 0) +
      (revenue.changedIn[t] ?? 0);
    revenue.closing[t] = recurring;
    there = at(active, t);
    then = now;
  }
  const opening = active.map((_, t) => (t === 0 ? base : at(active, t - 1)));
  return { ...{ opening, starters, lost, changedIn, changedOut: series(), active }, revenue };
}

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

/** The recurring revenue of one cohort: the movement of nobody else. */
function revenueOf(input: SubscriptionInput, start: number, size: number): Float64Array {
  const count = input.starters.length;
  const starters = new Float64Array(count);
  if (start >= 0) starters[start] = size;
  const byAge = Array.from({ length: Math.max(0, -start) }, (_, age) =>
    age === -1 - start ? size : 0,
  );
  const alone = { ...input, starters, changedIn: undefined, opening: { ...input.opening, byAge } };
  return movementOf(alone).revenue.closing.fill(Number.NaN, 0, Math.max(0, start));
}

/** The cohorts one by one; computed when they are looked at, and the same as the sums of the movement. */
export function cohortTable(input: SubscriptionInput): CohortRow[] {
  const count = input.starters.length;
  return cohortsOf(input).map(({ start, size }) => {
    const active = new Float64Array(count).fill(Number.NaN);
    if (start >= 0) active[start] = size;
    let left = size;
    for (let t = Math.max(0, start + 1); t < count; t += 1) {
      left *= 1 - leaving(input, t - start, t);
      if (t - start === input.changes?.age) left *= 1 - input.changes.share;
      active[t] = left;
    }
    return { start, size, active, revenue: revenueOf(input, start, size) };
  });
}

/** Customers who leave whole, and in every n-th month only. */
export interface WholeMovement {
  readonly active: Float64Array;
  readonly lost: Float64Array;
}

/**
 * Whole customers leave in months n, 2n, … counted from a first one: floor(rate x opening + 1e-9).
 * @param every n, at least 1
 * @param rate one a month
 * @param first the month that is counted as 1, from the first one of the series on
 */
export function wholeCustomersLeave(
  opening: number,
  starters: ArrayLike<number>,
  every: number,
  rate: ArrayLike<number>,
  first = 0,
): WholeMovement {
  const active = new Float64Array(starters.length);
  const lost = new Float64Array(starters.length);
  let there = opening;
  for (let t = 0; t < starters.length; t += 1) {
    const month = t - first + 1;
    const leaves = month > 0 && month % every === 0;
    const gone = leaves ? Math.floor(at(rate, t) * there + 1e-9) : 0;
    there += (starters[t] ?? Number.NaN) - gone;
    lost[t] = gone;
    active[t] = there;
  }
  return { active, lost };
}

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
    billed[t] = at(begun, t) * at(annualPrice, t);
    let sum = before[t] ?? 0;
    for (let back = 0; back < PREPAID_TERM && back <= t; back += 1) {
      sum += at(billed, t - back) / PREPAID_TERM;
    }
    earned[t] = sum;
    left += at(billed, t) - sum;
    deferred[t] = left;
  }
  return { billed, earned, deferred };
}

/** How many yearly terms of a subscription begin in each month, of whatever cohort. */
export function termsBegun(input: SubscriptionInput): Float64Array {
  const begun = new Float64Array(input.starters.length);
  for (const { start, active } of cohortTable(input)) {
    for (let t = Math.max(0, start); t < begun.length; t += 1) {
      if ((t - start) % PREPAID_TERM === 0) begun[t] = at(begun, t) + at(active, t);
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
