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
