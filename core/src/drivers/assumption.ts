import {
  monthFrom,
  monthInYear,
  monthText,
  type Month,
  type MonthText,
} from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';

/** How an assumption gives its values. */
export type Profile =
  | { readonly kind: 'value'; readonly value: number }
  /** Each value holds from its month on until the next step. */
  | { readonly kind: 'steps'; readonly steps: readonly { from: MonthText; value: number }[] }
  /** A value per month; months that are not named are not covered. */
  | { readonly kind: 'months'; readonly values: Readonly<Record<MonthText, number>> }
  | GrowthProfile
  /** Totals by the first of the twelve months that each spreads over, by weights, January first. */
  | {
      readonly kind: 'annual';
      readonly totals: Readonly<Record<MonthText, number>>;
      readonly weights: readonly number[];
      /**
       * Whether each stream of the scope gets the totals. Left out, they are the scope's and are
       * divided over its streams by what these sold in the last twelve closed months.
       */
      readonly each?: boolean | undefined;
    }
  /** A level times twelve indices, January first, scaled to mean 1. For rates and prices. */
  | { readonly kind: 'level'; readonly level: number; readonly indices: readonly number[] }
  /** The value of the same month a year earlier x (1 + growth); see `DriverInputs`. */
  | { readonly kind: 'lastYear'; readonly growth: number };

/** A start that grows: from its month on; the months before it are not covered. */
export interface GrowthProfile {
  readonly kind: 'growth';
  readonly start: number;
  readonly startMonth: MonthText;
  /**
   * `month`: by a rate every month; `compound`: by a rate a year, compounded by the month;
   * `yearRate`, `yearAmount`: once a year in a named month, by a rate or by an amount.
   */
  readonly by: 'month' | 'compound' | 'yearRate' | 'yearAmount';
  readonly rate: number;
  /** 1 to 12: the month of a yearly step. */
  readonly stepMonth: number;
}

/** How often a calendar month came after `start`, up to and with `month`. */
function stepsBetween(start: Month, month: Month, stepMonth: number): number {
  const place = stepMonth - 1;
  return Math.floor((month - place) / 12) - Math.floor((start - place) / 12);
}

/** The value of a growing start in a month; undefined before its first. */
function grown(profile: GrowthProfile, month: Month): number | undefined {
  const { start, startMonth, by, rate, stepMonth } = profile;
  const from = monthFrom(startMonth);
  if (month < from) return undefined;
  switch (by) {
    case 'month':
      return start * (1 + rate) ** (month - from);
    case 'compound':
      return start * (1 + rate) ** ((month - from) / 12);
    case 'yearRate':
      return start * (1 + rate) ** stepsBetween(from, month, stepMonth);
    case 'yearAmount':
      return start + rate * stepsBetween(from, month, stepMonth);
  }
}

/** The value of a profile that is a formula of the month; undefined where it has none. */
function valueBySeason(
  profile: Extract<Profile, { kind: 'annual' | 'level' }>,
  month: Month,
): number | undefined {
  const place = monthInYear(month) - 1;
  if (profile.kind === 'level') {
    const mean = profile.indices.reduce((sum, index) => sum + index, 0) / 12;
    return (profile.level * (profile.indices[place] ?? Number.NaN)) / mean;
  }
  const year = Object.keys(profile.totals).find((text) => {
    const from = monthFrom(text);
    return from <= month && month < from + 12;
  });
  if (year === undefined) return undefined;
  const whole = profile.weights.reduce((sum, weight) => sum + weight, 0);
  return ((profile.totals[year] ?? Number.NaN) * (profile.weights[place] ?? 0)) / whole;
}

/** A value of a driver for a scope (at most one member per dimension) and a stretch of months. */
export interface Assumption {
  /** Ids grow with creation: of two otherwise equal assumptions the later one holds. */
  readonly id: number;
  readonly driver: string;
  readonly scope: Scope;
  /** First month covered, or null for no bound. */
  readonly from: MonthText | null;
  /** Last month covered, or null for no bound. */
  readonly to: MonthText | null;
  readonly profile: Profile;
  /** Why, in the words of whoever set it; may be empty. */
  readonly note: string;
}

/**
 * The value an assumption gives a month, or `undefined` where it does not cover it. One that goes
 * by last year gives its growth: what it is of is not known here.
 */
export function valueIn(assumption: Assumption, month: Month): number | undefined {
  if (assumption.from !== null && month < monthFrom(assumption.from)) return undefined;
  if (assumption.to !== null && month > monthFrom(assumption.to)) return undefined;
  const { profile } = assumption;
  switch (profile.kind) {
    case 'value':
      return profile.value;
    case 'months':
      return profile.values[monthText(month)];
    case 'steps': {
      let held: { from: Month; value: number } | undefined;
      for (const step of profile.steps) {
        const from = monthFrom(step.from);
        if (from <= month && (!held || from >= held.from)) held = { from, value: step.value };
      }
      return held?.value;
    }
    case 'growth':
      return grown(profile, month);
    case 'lastYear':
      return profile.growth;
    default:
      return valueBySeason(profile, month);
  }
}

/**
 * Calls for every month of a stretch that an assumption covers, with its value there.
 * @param first the stretch's first month; months are told counted from it
 * @param count how many months the stretch has
 */
export function eachMonth(
  { from, to, profile }: Assumption,
  first: Month,
  count: number,
  call: (t: number, value: number) => void,
): void {
  const start = from === null ? 0 : Math.max(0, monthFrom(from) - first);
  const end = to === null ? count - 1 : Math.min(count - 1, monthFrom(to) - first);
  switch (profile.kind) {
    case 'value':
      for (let t = start; t <= end; t += 1) call(t, profile.value);
      return;
    case 'months':
      for (const month of Object.keys(profile.values)) {
        const t = monthFrom(month) - first;
        const value = profile.values[month];
        if (t >= start && t <= end && value !== undefined) call(t, value);
      }
      return;
    case 'steps': {
      const steps = profile.steps
        .map((step) => ({ t: monthFrom(step.from) - first, value: step.value }))
        .sort((a, b) => a.t - b.t);
      steps.forEach(({ t, value }, place) => {
        const until = Math.min(end, (steps[place + 1]?.t ?? count) - 1);
        for (let at = Math.max(start, t); at <= until; at += 1) call(at, value);
      });
      return;
    }
    case 'lastYear':
      for (let t = start; t <= end; t += 1) call(t, profile.growth);
      return;
    default:
      for (let t = start; t <= end; t += 1) {
        const value =
          profile.kind === 'growth' ? grown(profile, first + t) : valueBySeason(profile, first + t);
        if (value !== undefined) call(t, value);
      }
  }
}

/** Every value of a driver that a profile names as such, for checking against the driver's bounds. */
export function valuesOf(profile: Profile): number[] {
  switch (profile.kind) {
    case 'value':
      return [profile.value];
    case 'steps':
      return profile.steps.map((step) => step.value);
    case 'months':
      return Object.values(profile.values);
    case 'growth':
      return [profile.start];
    case 'level':
      return [profile.level];
    case 'annual':
    case 'lastYear':
      return [];
  }
}

/** Every month an assumption names, for checking against the horizon. */
export function monthsOf(assumption: Pick<Assumption, 'from' | 'to' | 'profile'>): MonthText[] {
  const { from, to, profile } = assumption;
  const ends = [from, to].filter((month) => month !== null);
  switch (profile.kind) {
    case 'value':
      return ends;
    case 'steps':
      return [...ends, ...profile.steps.map((step) => step.from)];
    case 'months':
      return [...ends, ...Object.keys(profile.values)];
    case 'growth':
      return [...ends, profile.startMonth];
    case 'annual':
      return [...ends, ...Object.keys(profile.totals)];
    default:
      return ends;
  }
}

/** What typing does to the assumptions: rows to put (new ones from `FRESH_ID` on), rows to drop. */
export interface AssumptionChange {
  readonly put: readonly Assumption[];
  readonly drop: readonly number[];
}
