/** Statistical baselines: each continues a history of months, and says what it needs for that. */
import { monthFrom, monthInYear, type Month, type MonthText } from '../calendar/month.ts';
import { lineWithSeason } from './line-with-season.ts';
import { fitRates, smooth, type SeasonKind, type SmoothingRates } from './smoothing.ts';
import { SEASON } from './season.ts';

/** The kinds there are, the plainest first; of two that do equally well the plainer one is taken. */
export const BASELINE_KINDS = [
  'lastMonth',
  'mean',
  'sameMonth',
  'sameMonthGrowth',
  'lineSeason',
  'smoothAdditive',
  'smoothMultiplicative',
] as const;
export type BaselineKind = (typeof BASELINE_KINDS)[number];

/** How a kind is set; what is left out is found in the history. */
export interface BaselineSettings {
  /** Of `mean`: how many of the last months; all of them where it is left out. */
  readonly months?: number | undefined;
  /** Of `mean`: the first and last month that count, instead of the last ones. */
  readonly span?: { readonly from: MonthText; readonly to: MonthText } | undefined;
  /** Of `lastMonth`: another closed month to be repeated. */
  readonly month?: MonthText | undefined;
  /**
   * Months of the year, 1 to 12, that are left blank: nothing is forecast in them, and they take no
   * part in a mean.
   */
  readonly blank?: readonly number[] | undefined;
  /** Of `sameMonthGrowth`: the rate, 0.05 is 5 %; the growth of the last year where it is left out. */
  readonly growth?: number | undefined;
  /** Of smoothing. */
  readonly rates?: SmoothingRates | undefined;
}

export interface BaselineKindInfo {
  readonly name: string;
  /** When it fits, in a sentence. */
  readonly when: string;
  /** Months of history without which it cannot work. */
  readonly needs: number;
}

export const BASELINES: Readonly<Record<BaselineKind, BaselineKindInfo>> = {
  lastMonth: {
    name: 'Last closed month',
    when: 'Sales continue as in the last month, or a month you choose, without season or trend.',
    needs: 1,
  },
  mean: {
    name: 'Average of a period',
    when: 'Sales vary around a stable level.',
    needs: 1,
  },
  sameMonth: {
    name: 'Same month last year',
    when: 'The season repeats and the level is stable.',
    needs: SEASON,
  },
  sameMonthGrowth: {
    name: 'Same month last year and growth',
    when: 'The season repeats and the level grows at a steady rate.',
    needs: SEASON,
  },
  lineSeason: {
    name: 'Linear trend with season',
    when: 'A steady trend under a season that grows with it.',
    needs: 2 * SEASON,
  },
  smoothAdditive: {
    name: 'Exponential smoothing, additive season',
    when: 'Level and trend change over time; the season is the same amount every year.',
    needs: 2 * SEASON,
  },
  smoothMultiplicative: {
    name: 'Exponential smoothing, multiplicative season',
    when: 'Level and trend change over time; the season grows with the level.',
    needs: 2 * SEASON,
  },
};

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

/**
 * The growth of the last year of a history on the same months before; of a shorter history of the
 * months that it has twice. 0 where there was nothing to grow on.
 */
function lastGrowth(history: readonly number[]): number {
  const twice = Math.min(SEASON, history.length - SEASON);
  if (twice <= 0) return 0;
  const end = history.length - SEASON;
  const before = sum(history.slice(end - twice, end));
  return before === 0 ? 0 : sum(history.slice(-twice)) / before - 1;
}

/** A month of a history by its name; undefined where the history does not reach it. */
function placeOf(month: MonthText, history: readonly number[], last: Month): number | undefined {
  const place = history.length - 1 - (last - monthFrom(month));
  return place >= 0 && place < history.length ? place : undefined;
}

/** The months that a mean is of: a chosen span, or the last ones; none that are left blank. */
function meantMonths(
  history: readonly number[],
  { months, span, blank = [] }: BaselineSettings,
  last: Month,
): number[] {
  const from = span
    ? history.length - 1 - (last - monthFrom(span.from))
    : history.length - (months ?? history.length);
  const to = span ? history.length - 1 - (last - monthFrom(span.to)) : history.length - 1;
  return history.filter((_, place) => {
    const month = monthInYear(last - (history.length - 1 - place));
    return place >= from && place <= to && !blank.includes(month);
  });
}

/** Why a choice of months cannot be used for a history; undefined when it can. */
export function cannotChoose(
  kind: BaselineKind,
  history: readonly number[],
  settings: BaselineSettings,
  last: Month,
): string | undefined {
  const { name } = BASELINES[kind];
  if (kind === 'mean' && meantMonths(history, settings, last).length === 0) {
    return `${name}: none of the chosen months has history`;
  }
  const { month } = settings;
  if (kind !== 'lastMonth' || month === undefined) return undefined;
  return placeOf(month, history, last) === undefined
    ? `${name}: ${month} is no closed month with history`
    : undefined;
}

function smoothed(
  history: readonly number[],
  kind: SeasonKind,
  { rates: given }: BaselineSettings,
  ahead: number,
): number[] {
  const rates = given ?? fitRates(history, kind);
  if (!rates) return Array.from({ length: ahead }, () => Number.NaN);
  return smooth(history, kind, rates, ahead).forecast;
}

/** Repeats the last year, each year times what the one before it was times. */
function repeated(history: readonly number[], ahead: number, growth: number): number[] {
  return Array.from({ length: ahead }, (_, h) => {
    const base = history[history.length - SEASON + (h % SEASON)] ?? Number.NaN;
    return base * (1 + growth) ** (Math.floor(h / SEASON) + 1);
  });
}

/** The months without sales before the first sale are no history. */
export function historyOf(values: readonly number[]): number[] {
  const first = values.findIndex((value) => value !== 0);
  return first < 0 ? [] : values.slice(first);
}

/** Why a kind cannot continue a history; undefined when it can. */
export function cannot(kind: BaselineKind, history: readonly number[]): string | undefined {
  const { name, needs } = BASELINES[kind];
  if (history.length >= needs) return undefined;
  const had = `${history.length} ${history.length === 1 ? 'month' : 'months'}`;
  return history.length === 0
    ? `${name} needs ${needs} months of history; nothing was sold yet`
    : `${name} needs ${needs} months of history; there are ${had}`;
}

/**
 * The months after a history by one kind.
 * @param history without months before the first sale, see `historyOf`
 * @param last the month of the last of the history; needed where months are chosen by name
 * @returns NaN where the kind cannot tell
 */
export function baseline(
  kind: BaselineKind,
  history: readonly number[],
  ahead: number,
  settings: BaselineSettings = {},
  last: Month = 0,
): number[] {
  const values = continued(kind, history, ahead, settings, last);
  const { blank = [] } = settings;
  return values.map((value, h) => (blank.includes(monthInYear(last + 1 + h)) ? 0 : value));
}

function continued(
  kind: BaselineKind,
  history: readonly number[],
  ahead: number,
  settings: BaselineSettings,
  last: Month,
): number[] {
  if (cannot(kind, history)) return Array.from({ length: ahead }, () => Number.NaN);
  switch (kind) {
    case 'lastMonth': {
      const { month } = settings;
      const place = month === undefined ? -1 : placeOf(month, history, last);
      const value = place === undefined ? Number.NaN : (history.at(place) ?? Number.NaN);
      return Array.from({ length: ahead }, () => value);
    }
    case 'mean': {
      const span = meantMonths(history, settings, last);
      const mean = sum(span) / span.length;
      return Array.from({ length: ahead }, () => mean);
    }
    case 'sameMonth':
      return repeated(history, ahead, 0);
    case 'sameMonthGrowth':
      return repeated(history, ahead, settings.growth ?? lastGrowth(history));
    case 'lineSeason':
      return lineWithSeason(history, ahead);
    case 'smoothAdditive':
      return smoothed(history, 'additive', settings, ahead);
    case 'smoothMultiplicative':
      return smoothed(history, 'multiplicative', settings, ahead);
  }
}
