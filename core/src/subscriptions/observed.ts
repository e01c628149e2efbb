/**
 * What subscriber records say: cohorts as they were, how many leave at each age, the curve that fits
 * them, and cohorts that do worse than their elders. Source: calculations, *Subscriptions*.
 */
import type { Month, MonthText } from '../calendar/month.ts';
import { ratio } from '../measures/nature.ts';
import { churnAt, type Churn } from './survival.ts';

/** So many subscribers started in a month and left in another one, or are still there. */
export interface SubscriberCount {
  readonly start: Month;
  readonly end: Month | null;
  readonly count: number;
}

/**
 * The month in which somebody is lost. Nobody leaves in the month of the start: who starts and ends
 * in one month is lost in the next, as a cohort has it.
 */
const lostIn = ({ start, end }: SubscriberCount): Month =>
  end === null ? Infinity : Math.max(start + 1, end);

/** Subscribers of a month: opening + new - lost = closing. */
export interface SubscriberMonth {
  readonly month: Month;
  readonly opening: number;
  readonly added: number;
  readonly lost: number;
  readonly closing: number;
}

/** How subscribers moved, month by month. */
export function subscriberMonths(
  counts: readonly SubscriberCount[],
  from: Month,
  to: Month,
): SubscriberMonth[] {
  const added = new Map<Month, number>();
  const lost = new Map<Month, number>();
  let there = 0;
  for (const one of counts) {
    const { start, count } = one;
    const left = lostIn(one);
    if (start < from && left >= from) there += count;
    added.set(start, (added.get(start) ?? 0) + count);
    lost.set(left, (lost.get(left) ?? 0) + count);
  }
  return Array.from({ length: Math.max(0, to - from + 1) }, (_, at) => {
    const [month, opening] = [from + at, there];
    const moved = { added: added.get(month) ?? 0, lost: lost.get(month) ?? 0 };
    there = opening + moved.added - moved.lost;
    return { month, opening, ...moved, closing: there };
  });
}

/** How subscribers of combinations moved, one column a field; combinations without records have no row. */
export interface RecordedMonths {
  readonly combination: readonly number[];
  readonly month: readonly MonthText[];
  readonly opening: readonly number[];
  readonly added: readonly number[];
  readonly lost: readonly number[];
}

/** The subscribers who started in a month. */
export interface ObservedCohort {
  readonly start: Month;
  /** How many there were at each age, from 0 (the month of the start) to the last month that is known. */
  readonly active: readonly number[];
}

/** How many of those of one age less left before an age was reached. */
export interface ObservedAge {
  readonly age: number;
  /** How many could have left: those of the age before whose next month is known. */
  readonly atRisk: number;
  readonly lost: number;
  /** lost / atRisk; null where nobody was at risk. */
  readonly rate: number | null;
}

/**
 * Cohorts by the month of the start, oldest first, as they were at the end of each month.
 * @param through the last month that is known whole; who starts later is left out
 */
export function observedCohorts(
  counts: readonly SubscriberCount[],
  through: Month,
): ObservedCohort[] {
  const byStart = new Map<Month, number[]>();
  for (const one of counts) {
    const { start, count } = one;
    if (start > through) continue;
    const active = byStart.get(start) ?? new Array<number>(through - start + 1).fill(0);
    byStart.set(start, active);
    const ages = Math.min(lostIn(one), through + 1) - start;
    for (let age = 0; age < ages; age += 1) active[age] = (active[age] ?? 0) + count;
  }
  return [...byStart]
    .sort(([one], [other]) => one - other)
    .map(([start, active]) => ({ start, active }));
}

/** Churn by age over all cohorts, from age 1 on, with how many subscribers stand behind each. */
export function observedChurn(cohorts: readonly ObservedCohort[]): ObservedAge[] {
  const oldest = Math.max(0, ...cohorts.map(({ active }) => active.length - 1));
  return Array.from({ length: oldest }, (_, place) => {
    const age = place + 1;
    let [atRisk, lost] = [0, 0];
    for (const { active } of cohorts) {
      if (age >= active.length) continue;
      const before = active[age - 1] ?? 0;
      atRisk += before;
      lost += before - (active[age] ?? 0);
    }
    return { age, atRisk, lost, rate: ratio(lost, atRisk) };
  });
}

/** Of every fitted curve: what it is, and how sure the data make it. */
export interface FittedCurve {
  readonly churn: Churn;
  /** From age 0 on: the part that is left, and the band around it. */
  readonly left: readonly { readonly s: number; readonly low: number; readonly high: number }[];
  /** How many subscriber months stand behind it, and how many of them ended. */
  readonly atRisk: number;
  readonly lost: number;
}

/** Standard deviations to each side: nine bands in ten hold the true curve. */
const BAND = 1.645;
/** A rate by age is told apart from one rate where it is so much likelier (Akaike's criterion). */
const WORTH_A_PARAMETER = 1;
/** Terms by which subscribers may leave, in months. */
const TERMS = [12, 6, 3] as const;
/** Of those who leave at renewals, so many of the lost leave then. */
const AT_RENEWAL = 0.85;
/** Fewer ends than this say nothing about a curve. */
const FEWEST_LOST = 5;

/**
 * Rates that fall with age, r(a) = m / (1 + w (a - 1)): what a mix of subscribers who are more and
 * less likely to leave comes to (Fader and Hardie, *How to project customer retention*, 2007). With
 * w = 0 it is one rate.
 */
const rateAt = (m: number, w: number, age: number): number => m / (1 + w * (age - 1));

function likelihood(ages: readonly ObservedAge[], m: number, w: number): number {
  let sum = 0;
  for (const { age, atRisk, lost } of ages) {
    if (atRisk === 0) continue;
    const rate = Math.min(1 - 1e-12, Math.max(1e-12, rateAt(m, w, age)));
    sum += lost * Math.log(rate) + (atRisk - lost) * Math.log(1 - rate);
  }
  return sum;
}

/** Where a function of one number that has one top is highest, by golden sections. */
function highest(of: (x: number) => number, from: number, to: number): number {
  const part = (Math.sqrt(5) - 1) / 2;
  let [low, high] = [from, to];
  for (let step = 0; step < 60; step += 1) {
    const [a, b] = [high - part * (high - low), low + part * (high - low)];
    if (of(a) < of(b)) low = a;
    else high = b;
  }
  return (low + high) / 2;
}

/**
 * How sure two parameters are: their variances and covariance, by the information that each age has
 * about its rate. One parameter alone where w is 0 and fixed.
 */
function variances(ages: readonly ObservedAge[], m: number, w: number, both: boolean) {
  let [mm, mw, ww] = [0, 0, 0];
  for (const { age, atRisk } of ages) {
    const rate = rateAt(m, w, age);
    if (atRisk === 0 || rate <= 0 || rate >= 1) continue;
    const information = atRisk / (rate * (1 - rate));
    const [dm, dw] = slopes(m, w, age);
    mm += information * dm * dm;
    mw += information * dm * dw;
    ww += information * dw * dw;
  }
  if (!both) return { mm: mm === 0 ? 0 : 1 / mm, mw: 0, ww: 0 };
  const det = mm * ww - mw * mw;
  return det <= 0
    ? { mm: mm === 0 ? 0 : 1 / mm, mw: 0, ww: 0 }
    : { mm: ww / det, mw: -mw / det, ww: mm / det };
}
const slopes = (m: number, w: number, age: number): [number, number] => {
  const below = 1 + w * (age - 1);
  return [1 / below, (-m * (age - 1)) / (below * below)];
};

/** S(a) with a band, from rates and how sure each is. */
function bandOf(rates: readonly number[], sigma: readonly number[]): FittedCurve['left'] {
  const clipped = (rate: number): number => Math.min(1, Math.max(0, rate));
  const left = [{ s: 1, low: 1, high: 1 }];
  rates.forEach((rate, at) => {
    const { s, low, high } = left[at] ?? { s: 1, low: 1, high: 1 };
    const wide = BAND * (sigma[at] ?? 0);
    left.push({
      s: s * (1 - rate),
      low: low * (1 - clipped(rate + wide)),
      high: high * (1 - clipped(rate - wide)),
    });
  });
  return left;
}

/** The term at whose ends nearly all of those who leave do; undefined where there is none. */
function renewalTerm(ages: readonly ObservedAge[]): number | undefined {
  const lost = ages.reduce((sum, one) => sum + one.lost, 0);
  return TERMS.find((term) => {
    const atEnds = ages.filter(({ age }) => age % term === 0);
    const then = atEnds.reduce((sum, one) => sum + one.lost, 0);
    return atEnds.length > 0 && then >= AT_RENEWAL * lost;
  });
}

/**
 * The retention curve that fits what was observed: one rate, rates that fall with age, or a rate at
 * the end of each term, whichever says most with least. The band holds nine true curves in ten.
 * @param ages churn by age as observed
 * @returns null where too few have left to say anything
 */
export function fitRetention(ages: readonly ObservedAge[]): FittedCurve | null {
  const seen = ages.filter(({ atRisk }) => atRisk > 0);
  const lost = seen.reduce((sum, one) => sum + one.lost, 0);
  if (lost < FEWEST_LOST) return null;
  const atRisk = seen.reduce((sum, one) => sum + one.atRisk, 0);
  const last = seen.at(-1)?.age ?? 0;
  const all = Array.from({ length: last }, (_, at) => at + 1);
  const counted = { atRisk, lost };
  const term = renewalTerm(seen);
  if (term !== undefined) {
    const ends = seen.filter(({ age }) => age % term === 0);
    const risked = ends.reduce((sum, one) => sum + one.atRisk, 0);
    const rate = ends.reduce((sum, one) => sum + one.lost, 0) / risked;
    const churn: Churn = { kind: 'atRenewal', term, rate };
    const sigma = Math.sqrt((rate * (1 - rate)) / risked);
    const rates = all.map((age) => churnAt(churn, age));
    return {
      churn,
      ...counted,
      left: bandOf(
        rates,
        rates.map((r) => (r > 0 ? sigma : 0)),
      ),
    };
  }
  const one = lost / atRisk;
  const bestFor = (w: number): number => highest((m) => likelihood(seen, m, w), 1e-6, 1 - 1e-6);
  const w = highest((wide) => likelihood(seen, bestFor(wide), wide), 0, 8);
  const m = bestFor(w);
  const gain = likelihood(seen, m, w) - likelihood(seen, one, 0);
  const falls = gain > WORTH_A_PARAMETER;
  const [start, fall] = falls ? [m, w] : [one, 0];
  const sure = variances(seen, start, fall, falls);
  const rates = all.map((age) => rateAt(start, fall, age));
  const sigma = all.map((age) => {
    const [dm, dw] = slopes(start, fall, age);
    return Math.sqrt(Math.max(0, dm * dm * sure.mm + 2 * dm * dw * sure.mw + dw * dw * sure.ww));
  });
  const churn: Churn = falls
    ? { kind: 'byAge', rates: rates.slice(0, RATES).map(rounded) }
    : { kind: 'constant', rate: rounded(one) };
  return { churn, ...counted, left: bandOf(rates, sigma) };
}
/** Rates by age that are proposed; the last goes on, as those of later ages hardly differ. */
const RATES = 24;
/** A rate as people write it: to a hundredth of a percent. */
const rounded = (rate: number): number => Math.round(rate * 10_000) / 10_000;

/** A cohort that lost more than those before it would have. */
export interface WorseCohort {
  readonly start: Month;
  readonly size: number;
  readonly lost: number;
  /** How many it would have lost if it had left as its elders did at the same ages. */
  readonly expected: number;
}

/** A cohort this small may do badly by chance. */
const SMALLEST = 20;
/** Standard deviations beyond which chance is no explanation, and the least share of the cohort. */
const FAR = 3;
const WORTH_A_WORD = 0.05;

/**
 * Cohorts that do worse than their elders: they lost more than three standard deviations, and five
 * percent of themselves, beyond what those before them lost at the same ages.
 * @param cohorts oldest first
 */
export function worseThanElders(cohorts: readonly ObservedCohort[]): WorseCohort[] {
  const worse: WorseCohort[] = [];
  const elders: ObservedCohort[] = [];
  for (const cohort of cohorts) {
    const { start, active } = cohort;
    const [size = 0] = active;
    const known = observedChurn(elders);
    let [expected, variance, lost] = [0, 0, 0];
    active.slice(1).forEach((there, place) => {
      const rate = known[place]?.rate;
      if (rate === null || rate === undefined) return;
      const before = active[place] ?? 0;
      expected += before * rate;
      variance += before * rate * (1 - rate);
      lost += before - there;
    });
    const more = lost - expected;
    if (size >= SMALLEST && more > FAR * Math.sqrt(variance) && more >= WORTH_A_WORD * size) {
      worse.push({ start, size, lost, expected });
      // What went wrong once is no measure for those that come.
    } else elders.push(cohort);
  }
  return worse;
}
