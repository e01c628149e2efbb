import { monthText, type Month, type Profile } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { TEXTS } from './texts.ts';

/** A profile that is set by the form; one that is typed month by month is edited in the grid. */
export type FormProfile = Exclude<Profile, { readonly kind: 'months' }>;
type Growth = Extract<Profile, { readonly kind: 'growth' }>;

/** How a start grows, in words. */
export const GROWTHS: readonly { readonly value: Growth['by']; readonly name: string }[] = [
  { value: 'month', name: TEXTS.byRateEveryMonth },
  { value: 'compound', name: TEXTS.byYearlyRateMonthBy },
  { value: 'yearRate', name: TEXTS.byRateOnceYear },
  { value: 'yearAmount', name: TEXTS.byAmountOnceYear },
];

/** The form of a profile: numbers are texts, as they are typed. */
export interface ProfileForm {
  /** The assumption that it replaces; null for a new one. */
  id: number | null;
  kind: FormProfile['kind'];
  value: string;
  /** The months it holds for; empty without a bound. Of a growth it begins in the first of them. */
  from: string;
  to: string;
  steps: { from: string; value: string }[];
  by: Growth['by'];
  rate: string;
  stepMonth: number;
  season: string[];
  /** The first of the twelve months of a yearly total. */
  year: string;
  each: boolean;
  growth: string;
  note: string;
}

/** What a form begins with: the first open month, the start of fiscal years, the season of the past. */
export interface FormStart {
  readonly closedThrough: Month;
  readonly fiscalStart: number;
  readonly value: string;
  readonly season: readonly number[] | null;
}

/** An empty form. */
export function blankForm({ closedThrough, fiscalStart, value, season }: FormStart): ProfileForm {
  const firstOpen = monthText(closedThrough + 1);
  return {
    id: null,
    kind: 'value',
    value,
    from: '',
    to: '',
    steps: [{ from: firstOpen, value: '' }],
    by: 'yearRate',
    rate: '',
    stepMonth: fiscalStart,
    season: (season ?? Array<number>(12).fill(1)).map(String),
    year: firstOpen,
    each: false,
    growth: '',
    note: '',
  };
}

/** Reads and writes the numbers of a driver as they are typed: percents as percents. */
export interface FormNumbers {
  readonly formats: Pick<Formats, 'read' | 'typed'>;
  readonly percent: boolean;
  /** The month in which a growth begins where none is given. */
  readonly firstOpen: string;
}

/** The profile that a form says; a number that cannot be read is NaN. */
export function profileOf(form: ProfileForm, numbers: FormNumbers): FormProfile {
  const { formats, percent, firstOpen } = numbers;
  const read = (text: string, asPercent = percent): number =>
    formats.read(text, asPercent) ?? Number.NaN;
  const { kind, value, steps, by, rate, stepMonth, year, each, growth } = form;
  const twelve = form.season.map((one) => read(one, false));
  switch (kind) {
    case 'value':
      return { kind, value: read(value) };
    case 'steps':
      return { kind, steps: steps.map((step) => ({ from: step.from, value: read(step.value) })) };
    case 'growth':
      return {
        kind,
        start: read(value),
        startMonth: form.from || firstOpen,
        by,
        rate: read(rate, by !== 'yearAmount' || percent),
        stepMonth,
      };
    case 'annual':
      return { kind, totals: { [year]: read(value) }, weights: twelve, ...(each ? { each } : {}) };
    case 'level':
      return { kind, level: read(value), indices: twelve };
    default:
      return { kind, growth: read(growth, true) };
  }
}

/** The form that says a profile, from an empty one. */
export function formOf(
  profile: FormProfile,
  blank: ProfileForm,
  numbers: FormNumbers,
): ProfileForm {
  const { formats, percent, firstOpen } = numbers;
  const text = (value: number | null): string => formats.typed(value, percent);
  const form = { ...blank, kind: profile.kind };
  switch (profile.kind) {
    case 'value':
      return { ...form, value: text(profile.value) };
    case 'steps':
      return {
        ...form,
        steps: profile.steps.map(({ from, value }) => ({ from, value: text(value) })),
      };
    case 'growth':
      return {
        ...form,
        value: text(profile.start),
        from: profile.startMonth,
        by: profile.by,
        rate: formats.typed(profile.rate, profile.by !== 'yearAmount' || percent),
        stepMonth: profile.stepMonth,
      };
    case 'annual': {
      const [year = firstOpen] = Object.keys(profile.totals);
      return {
        ...form,
        year,
        value: text(profile.totals[year] ?? null),
        season: profile.weights.map(String),
        each: profile.each === true,
      };
    }
    case 'level':
      return { ...form, value: text(profile.level), season: profile.indices.map(String) };
    default:
      return { ...form, growth: formats.typed(profile.growth, true) };
  }
}

/** Whether every number of a profile can be read. */
export function isComplete(profile: FormProfile): boolean {
  return !JSON.stringify(profile).includes('null');
}
