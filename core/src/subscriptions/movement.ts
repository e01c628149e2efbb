/**
 * How subscribers and the recurring revenue that they bring move. Source: calculations, *Subscriptions*.
 */
import { churnAt, type Changes, type Churn } from './survival.ts';

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
  /** For how many months those who start in a month have a promotion; none where it is left out. */
  readonly promotionMonths?: ArrayLike<number> | undefined;
  /** Of those who start in a month, the part of the price that the promotion takes off. */
  readonly promotionOff?: ArrayLike<number> | undefined;
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

/** A movement with what it goes on from: how many of each cohort are there, month by month. */
export interface CohortRun {
  readonly input: SubscriptionInput;
  readonly movement: Movement;
  /**
   * By month and cohort, the oldest first: those of the opening base, then one a month. What is kept of
   * each is how many are there, and what they pay beside the list; before the first month stands the
   * opening base.
   */
  readonly there: Float64Array;
  readonly grown: Float64Array | undefined;
}

/** A value of a series; a series that is left out has the same one throughout. */
export const valueAt = (series: ArrayLike<number> | undefined, t: number, otherwise = 0): number =>
  series === undefined ? otherwise : (series[t] ?? Number.NaN);

/** What a subscriber of a cohort pays in a month by the list, promotion counted. */
export function pricePaid(input: SubscriptionInput, start: number, t: number): number {
  const { opening, price, pricePolicy, term = 12 } = input;
  const age = t - start;
  const since =
    pricePolicy === 'current' ? t : pricePolicy === 'keptFromStart' ? start : t - (age % term);
  const list = since < 0 ? opening.price : valueAt(price, since);
  // Those of the opening base pay what is given for them; their promotion is in it.
  if (start < 0 || age >= valueAt(input.promotionMonths, start)) return list;
  return list * (1 - valueAt(input.promotionOff, start));
}

/** What leaves at each age in a month in which all of the churn holds. */
function leavingByAge({ churn, opening }: SubscriptionInput, count: number): Float64Array {
  const leaves = new Float64Array(count + opening.byAge.length + 1);
  for (let age = 1; age < leaves.length; age += 1) leaves[age] = churnAt(churn, age);
  return leaves;
}

/** The series of an input, month by month. */
const SERIES = [
  ...(['starters', 'churnFactor', 'price', 'expansion', 'contraction', 'changedIn'] as const),
  ...(['promotionMonths', 'promotionOff'] as const),
];
/** Whether what of two inputs holds for all months is the same. */
function sameSetting(one: SubscriptionInput, other: SubscriptionInput): boolean {
  const same = (a: unknown, b: unknown): boolean =>
    a === b || JSON.stringify(a) === JSON.stringify(b);
  return (
    one.pricePolicy === other.pricePolicy &&
    one.term === other.term &&
    same(one.churn, other.churn) &&
    same(one.opening, other.opening) &&
    same(one.changes, other.changes) &&
    same(one.whole, other.whole)
  );
}

/** The first month in which two inputs differ; 0 where they are set otherwise. */
function firstChange(before: SubscriptionInput, now: SubscriptionInput): number {
  const count = now.starters.length;
  if (before.starters.length !== count || !sameSetting(before, now)) return 0;
  let same = count;
  for (const code of SERIES) {
    const [one, other] = [before[code], now[code]];
    if (one === other) continue;
    if (one === undefined || other === undefined) return 0;
    let t = 0;
    while (t < same && Object.is(one[t], other[t])) t += 1;
    same = t;
  }
  return same;
}

/** Movements of a subscription; see {@link runOf}. */
export function movementOf(input: SubscriptionInput): Movement {
  return runOf(input).movement;
}

/** How many series a movement has. */
const ALL = 15;

/** Series of a movement, with the months of an earlier one before the first that changes. */
function blank(count: number, before: Movement | undefined, from: number): Movement {
  // One piece of memory: what is asked for by itself is had more slowly than it is computed.
  const whole = new Float64Array(ALL * count);
  let place = 0;
  const series = (of: Float64Array | undefined): Float64Array => {
    const made = whole.subarray(place, place + count);
    place += count;
    if (of && from > 0) made.set(of.subarray(0, from));
    return made;
  };
  const then = before?.revenue;
  return {
    opening: series(before?.opening),
    starters: series(before?.starters),
    lost: series(before?.lost),
    changedIn: series(before?.changedIn),
    changedOut: series(before?.changedOut),
    active: series(before?.active),
    revenue: {
      opening: series(then?.opening),
      new: series(then?.new),
      priceChange: series(then?.priceChange),
      expansion: series(then?.expansion),
      contraction: series(then?.contraction),
      lost: series(then?.lost),
      changedIn: series(then?.changedIn),
      changedOut: series(then?.changedOut),
      closing: series(then?.closing),
    },
  };
}

/**
 * Where the cohorts of a month stand in what a run keeps: each month has one more than the one before.
 * @param base cohorts of the opening base
 * @param row 0 before the first month, 1 at its end
 */
export const rowStart = (base: number, row: number): number => row * base + (row * (row - 1)) / 2;

/** Nothing of anything is nothing, also where it is not known what it costs. */
const times = (count: number, each: number): number => (count === 0 ? 0 : count * each);

/**
 * Movements of subscribers and of their recurring revenue. New ones enter at this month's price, the
 * lost go at last month's, and the price change falls on those who stay. A cohort that is not whole
 * stays so: parts of subscribers are counted.
 * @param before an earlier run: of months before the first one that is another, its numbers stand
 * @returns NaN from the month on in which an input is missing
 */
export function runOf(input: SubscriptionInput, before?: CohortRun): CohortRun {
  const from = before ? firstChange(before.input, input) : 0;
  const count = input.starters.length;
  if (before && from === count) return before;
  const nothing = new Float64Array();
  if (input.whole) {
    const movement = wholeMovement(input, input.whole);
    return { input, movement, there: nothing, grown: undefined };
  }
  const base = input.opening.byAge.length;
  const some = (of: ArrayLike<number> | undefined): boolean =>
    of !== undefined && Array.prototype.some.call(of, (part: number) => part !== 0);
  const grows = some(input.expansion) || some(input.contraction);
  const promoted = some(input.promotionMonths) && some(input.promotionOff);
  // Where all pay the list of the month, and no more or less, counting them is enough.
  const alike = input.pricePolicy === 'current' && !promoted && !grows;
  const there = new Float64Array(rowStart(base, count + 1));
  input.opening.byAge.forEach((size, age) => (there[base - 1 - age] = size));
  const grown = alike ? undefined : new Float64Array(there.length).fill(1, 0, base);
  if (before && from > 0) {
    there.set(before.there.subarray(0, rowStart(base, from + 1)));
    // Before, all paid alike: nobody had grown.
    if (before.grown) grown?.set(before.grown.subarray(0, rowStart(base, from + 1)));
    else grown?.fill(1, 0, rowStart(base, from + 1));
  }
  const run = {
    ...{ input, there, grown, base },
    movement: blank(count, before?.movement, from),
    byAge: leavingByAge(input, count),
  };
  for (let t = from; t < count; t += 1) {
    if (grown) monthOfEach(run, grown, t);
    else monthOfAll(run, t);
    newOnes(run, t);
  }
  return { input, movement: run.movement, there, grown };
}

/** A run under way. */
interface Running {
  readonly input: SubscriptionInput;
  readonly movement: Movement;
  readonly there: Float64Array;
  readonly grown: Float64Array | undefined;
  readonly base: number;
  readonly byAge: Float64Array;
}

/** What leaves is a part of those who are there, whatever the months do to the curve. */
const within = (part: number): number => (part > 1 ? 1 : part < 0 ? 0 : part);

/** Those of one cohort who leave in a month. */
export interface Loss {
  /** The month that they started in, counted from the first; below 0 before it. */
  readonly start: number;
  /** How many were there before. */
  readonly count: number;
  /** The part of them that leaves. */
  readonly leaves: number;
  /** What each of them paid a month before. */
  readonly pays: number;
}

/** Who leaves in a month, cohort by cohort; those of whom nobody does are left out. */
export function lossesIn({ input, there, grown }: CohortRun, t: number): Loss[] {
  if (input.whole) return [];
  const base = input.opening.byAge.length;
  const before = rowStart(base, t);
  const losses: Loss[] = [];
  for (let cohort = 0; cohort < base + t; cohort += 1) {
    const start = cohort - base;
    const count = there[before + cohort] ?? Number.NaN;
    const leaves = within(churnAt(input.churn, t - start) * valueAt(input.churnFactor, t, 1));
    const then = t === 0 ? input.opening.price : pricePaid(input, start, t - 1);
    if (count * leaves === 0) continue;
    losses.push({ start, count, leaves, pays: (grown?.[before + cohort] ?? 1) * then });
  }
  return losses;
}

/** A month of cohorts that all pay the list price of the month. */
function monthOfAll(run: Running, t: number): void {
  const { input, movement, there, base, byAge } = run;
  const factor = valueAt(input.churnFactor, t, 1);
  const { age: changeAge, share } = input.changes ?? { age: -1, share: 0 };
  const before = rowStart(base, t);
  const after = rowStart(base, t + 1);
  let opening = 0;
  let lost = 0;
  let out = 0;
  for (let cohort = 0; cohort < base + t; cohort += 1) {
    const count = there[before + cohort] ?? 0;
    if (count === 0) continue;
    const age = t + base - cohort;
    const leaves = (byAge[age] ?? 0) * factor;
    const gone = count * within(leaves);
    let stay = count - gone;
    if (age === changeAge) {
      const goes = stay * share;
      stay -= goes;
      out += goes;
    }
    there[after + cohort] = stay;
    opening += count;
    lost += gone;
  }
  const stays = opening - lost - out;
  const now = valueAt(input.price, t);
  const then = t === 0 ? input.opening.price : valueAt(input.price, t - 1);
  const { revenue } = movement;
  movement.opening[t] = opening;
  movement.lost[t] = lost;
  movement.changedOut[t] = out;
  movement.active[t] = stays;
  revenue.opening[t] = times(opening, then);
  revenue.lost[t] = times(lost, then);
  revenue.changedOut[t] = times(out, then);
  revenue.priceChange[t] = times(stays, now - then);
  revenue.closing[t] = times(stays, now);
}

/** A month of cohorts each of which pays a price of its own. */
function monthOfEach(run: Running, grown: Float64Array, t: number): void {
  const { input, movement, there, base, byAge } = run;
  const factor = valueAt(input.churnFactor, t, 1);
  const { age: changeAge, share } = input.changes ?? { age: -1, share: 0 };
  const [more, less] = [valueAt(input.expansion, t), valueAt(input.contraction, t)];
  const { revenue } = movement;
  const sums = { opening: 0, lost: 0, out: 0, active: 0 };
  const paid = { opening: 0, lost: 0, out: 0, priceChange: 0, stays: 0 };
  const before = rowStart(base, t);
  const after = rowStart(base, t + 1);
  for (let cohort = 0; cohort < base + t; cohort += 1) {
    const count = there[before + cohort] ?? 0;
    if (count === 0) continue;
    const start = cohort - base;
    const beside = grown[before + cohort] ?? 1;
    const then = t === 0 ? input.opening.price : pricePaid(input, start, t - 1);
    const now = pricePaid(input, start, t);
    const leaves = (byAge[t - start] ?? 0) * factor;
    const gone = count * within(leaves);
    let stay = count - gone;
    const pays = beside * then;
    if (t - start === changeAge) {
      const goes = stay * share;
      stay -= goes;
      sums.out += goes;
      paid.out += goes * pays;
    }
    sums.opening += count;
    sums.lost += gone;
    sums.active += stay;
    paid.opening += count * pays;
    paid.lost += gone * pays;
    paid.priceChange += stay * beside * (now - then);
    paid.stays += stay * beside * now;
    there[after + cohort] = stay;
    grown[after + cohort] = beside * (1 + more - less);
  }
  movement.opening[t] = sums.opening;
  movement.lost[t] = sums.lost;
  movement.changedOut[t] = sums.out;
  movement.active[t] = sums.active;
  revenue.opening[t] = paid.opening;
  revenue.lost[t] = paid.lost;
  revenue.changedOut[t] = paid.out;
  revenue.priceChange[t] = paid.priceChange;
  revenue.expansion[t] = times(paid.stays, more);
  revenue.contraction[t] = times(paid.stays, less);
  revenue.closing[t] = paid.stays + (revenue.expansion[t] ?? 0) - (revenue.contraction[t] ?? 0);
}

/** Those who begin in a month: new ones, and who comes from another plan. */
function newOnes({ input, movement, there, grown, base }: Running, t: number): void {
  const { revenue } = movement;
  const [fresh, changed] = [valueAt(input.starters, t), valueAt(input.changedIn, t)];
  const pays = pricePaid(input, t, t);
  const place = rowStart(base, t + 1) + base + t;
  there[place] = fresh + changed;
  if (grown) grown[place] = 1;
  movement.starters[t] = fresh;
  movement.changedIn[t] = changed;
  movement.active[t] = (movement.active[t] ?? Number.NaN) + fresh + changed;
  revenue.new[t] = times(fresh, pays);
  revenue.changedIn[t] = times(changed, pays);
  revenue.closing[t] =
    (revenue.closing[t] ?? Number.NaN) + (revenue.new[t] ?? 0) + (revenue.changedIn[t] ?? 0);
}

/** A series as typed numbers; `otherwise` throughout where it is left out. */
function numbers(of: ArrayLike<number> | undefined, count: number, otherwise = 0): Float64Array {
  if (of === undefined) return new Float64Array(count).fill(otherwise);
  const made = new Float64Array(count);
  for (let t = 0; t < count; t += 1) made[t] = of[t] ?? Number.NaN;
  return made;
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
    starters.map((value, t) => value + valueAt(changedIn, t)),
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
    const now = valueAt(input.price, t);
    const left = there === 0 ? 0 : (recurring * valueAt(lost, t)) / there;
    const stays = recurring - left;
    const priced = then === 0 ? (there - valueAt(lost, t)) * now : (stays * now) / then;
    revenue.opening[t] = recurring;
    revenue.lost[t] = left;
    revenue.priceChange[t] = priced - stays;
    revenue.expansion[t] = priced * valueAt(input.expansion, t);
    revenue.contraction[t] = priced * valueAt(input.contraction, t);
    revenue.new[t] = valueAt(starters, t) * now;
    revenue.changedIn[t] = valueAt(changedIn, t) * now;
    recurring =
      priced +
      (revenue.expansion[t] ?? 0) -
      (revenue.contraction[t] ?? 0) +
      (revenue.new[t] ?? 0) +
      (revenue.changedIn[t] ?? 0);
    revenue.closing[t] = recurring;
    there = valueAt(active, t);
    then = now;
  }
  const opening = active.map((_, t) => (t === 0 ? base : valueAt(active, t - 1)));
  return { ...{ opening, starters, lost, changedIn, changedOut: series(), active }, revenue };
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
    const gone = leaves ? Math.floor(valueAt(rate, t) * there + 1e-9) : 0;
    there += (starters[t] ?? Number.NaN) - gone;
    lost[t] = gone;
    active[t] = there;
  }
  return { active, lost };
}
