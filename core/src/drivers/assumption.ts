import { monthFrom, monthText, type Month, type MonthText } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';

/** How an assumption gives its values. */
export type Profile =
  | { readonly kind: 'value'; readonly value: number }
  /** Each value holds from its month on until the next step. */
  | { readonly kind: 'steps'; readonly steps: readonly { from: MonthText; value: number }[] }
  /** A value per month; months that are not named are not covered. */
  | { readonly kind: 'months'; readonly values: Readonly<Record<MonthText, number>> };

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

/** The value an assumption gives a month, or `undefined` where it does not cover it. */
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
    }
  }
}

/** Every value an assumption names, for checking against its driver's bounds. */
export function valuesOf(profile: Profile): number[] {
  switch (profile.kind) {
    case 'value':
      return [profile.value];
    case 'steps':
      return profile.steps.map((step) => step.value);
    case 'months':
      return Object.values(profile.values);
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
  }
}
