/** Statistical baselines: each continues a history of months, and says what it needs for that. */
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
    when: 'Sales go on as they last were, without season or trend.',
    needs: 1,
  },
  mean: {
    name: 'Mean of a span',
    when: 'Sales scatter around a level that does not move.',
    needs: 1,
  },
  sameMonth: {
    name: 'Same month last year',
    when: 'The season repeats itself and the level does not move.',
    needs: SEASON,
  },
  sameMonthGrowth: {
    name: 'Same month last year and growth',
    when: 'The season repeats itself and the level grows at a steady rate.',
    needs: 2 * SEASON,
  },
  lineSeason: {
    name: 'Line with season',
    when: 'A steady trend under a season that grows with it.',
    needs: 2 * SEASON,
  },
  smoothAdditive: {
    name: 'Smoothing, added season',
    when: 'Level and trend change over time; the season is the same amount every year.',
    needs: 2 * SEASON,
  },
  smoothMultiplicative: {
    name: 'Smoothing, multiplied season',
    when: 'Level and trend change over time; the season grows with the level.',
    needs: 2 * SEASON,
  },
};

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

/** The growth of the last year of a history on the year before it; 0 where that was nothing. */
function lastGrowth(history: readonly number[]): number {
  const before = sum(history.slice(-2 * SEASON, -SEASON));
  return before === 0 ? 0 : sum(history.slice(-SEASON)) / before - 1;
}

function smoothed(
  history: readonly number[],
  kind: SeasonKind,
  given: SmoothingRates | undefined,
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
 * @returns NaN where the kind cannot tell
 */
export function baseline(
  kind: BaselineKind,
  history: readonly number[],
  ahead: number,
  { months, growth, rates }: BaselineSettings = {},
): number[] {
  if (cannot(kind, history)) return Array.from({ length: ahead }, () => Number.NaN);
  switch (kind) {
    case 'lastMonth':
      return Array.from({ length: ahead }, () => history.at(-1) ?? Number.NaN);
    case 'mean': {
      const span = months === undefined ? history : history.slice(-months);
      const mean = sum(span) / span.length;
      return Array.from({ length: ahead }, () => mean);
    }
    case 'sameMonth':
      return repeated(history, ahead, 0);
    case 'sameMonthGrowth':
      return repeated(history, ahead, growth ?? lastGrowth(history));
    case 'lineSeason':
      return lineWithSeason(history, ahead);
    case 'smoothAdditive':
      return smoothed(history, 'additive', rates, ahead);
    case 'smoothMultiplicative':
      return smoothed(history, 'multiplicative', rates, ahead);
  }
}
