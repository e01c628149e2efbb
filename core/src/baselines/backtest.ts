/** Which baseline would have done best: forecasts from every month of the last year, held to what came. */
import {
  baseline,
  BASELINE_KINDS,
  cannot,
  type BaselineKind,
  type BaselineSettings,
} from './baseline.ts';
import { seasonalDifference } from './accuracy.ts';
import { SEASON } from './season.ts';
import { fitRates, type SeasonKind, type SmoothingRates } from './smoothing.ts';
import { ratio } from '../measures/nature.ts';

/** How a kind did, or why it could not be tried. */
export interface LeagueRow {
  readonly kind: BaselineKind;
  /** Mean absolute error over the mean absolute seasonal difference; null where it has none. */
  readonly score: number | null;
  /** The mean error, actual less forecast. */
  readonly bias: number | null;
  /** Errors by lead, months ahead, from 1 on. */
  readonly errors: readonly (readonly number[])[];
  /** Why it was left out; empty for one that took part. */
  readonly why: string;
}

/** Every kind, the best first; those that could not be tried last. */
export interface League {
  readonly rows: readonly LeagueRow[];
  /** The best; null where none could be tried. */
  readonly best: BaselineKind | null;
}

/** The kinds that fit rates, and the season that they fit them to. */
const SMOOTHED: Partial<Record<BaselineKind, SeasonKind>> = {
  smoothAdditive: 'additive',
  smoothMultiplicative: 'multiplicative',
};

/** How many closed months are forecast, each from all months before it. */
const ORIGINS = 12;

/**
 * Rolling origins over the last twelve months of a history: from each of them every kind forecasts
 * the rest. The score is the mean absolute error over all of these, scaled by the mean absolute
 * seasonal difference of the months before the first origin.
 * @param history without months before the first sale, see `historyOf`
 * @param settings what of them holds at any origin: growth and rates, not months by their names
 */
export function league(
  history: readonly number[],
  { growth, rates }: Pick<BaselineSettings, 'growth' | 'rates'> = {},
): League {
  const settings = { growth, rates };
  const start = history.length - ORIGINS;
  const before = history.slice(0, Math.max(0, start));
  // Less than two years before the first origin have no seasonal difference: month on month scales.
  const scale =
    seasonalDifference(before) ??
    ratio(
      before.slice(1).reduce((sum, value, t) => sum + Math.abs(value - (before[t] ?? 0)), 0),
      before.length - 1,
    );
  const rows = BASELINE_KINDS.map((kind): LeagueRow => {
    const out = (why: string): LeagueRow => ({ kind, score: null, bias: null, errors: [], why });
    const why = cannot(kind, before);
    if (why !== undefined) {
      return out(
        cannot(kind, history) ??
          `${why} before the last twelve months, which are forecast to try it`,
      );
    }
    const errors: number[][] = Array.from({ length: ORIGINS }, () => []);
    const season = SMOOTHED[kind];
    let near: SmoothingRates | undefined;
    for (let origin = start; origin < history.length; origin += 1) {
      const beforeOrigin = history.slice(0, origin);
      // A month more hardly changes the rates: the search goes on from those of the origin before.
      near = (season && !settings.rates && fitRates(beforeOrigin, season, near)) || undefined;
      const given = near ? { ...settings, rates: near } : settings;
      const ahead = baseline(kind, beforeOrigin, history.length - origin, given);
      ahead.forEach((value, lead) => {
        errors[lead]?.push((history[origin + lead] ?? Number.NaN) - value);
      });
    }
    const all = errors.flat();
    if (all.some(Number.isNaN)) return out('It divides by months in which nothing was sold');
    const mae = all.reduce((sum, error) => sum + Math.abs(error), 0) / all.length;
    const bias = all.reduce((sum, error) => sum + error, 0) / all.length;
    return { kind, score: scale === null ? null : ratio(mae, scale), bias, errors, why: '' };
  });
  const rank = ({ why, score }: LeagueRow): number =>
    why !== '' ? Number.POSITIVE_INFINITY : (score ?? Number.MAX_VALUE);
  const sorted = rows.toSorted((a, b) => rank(a) - rank(b) || 0);
  const [best] = sorted;
  return { rows: sorted, best: best && best.why === '' ? best.kind : null };
}

/** The kind to take where "the best" is asked for: the league's, or the best that can work at all. */
export function bestKind(history: readonly number[]): BaselineKind | null {
  const key = history.join();
  const decidedBefore = decided.get(key);
  if (decidedBefore !== undefined) return decidedBefore;
  const { best } = league(history);
  const short = history.length >= SEASON ? 'sameMonth' : history.length > 0 ? 'mean' : null;
  if (decided.size >= MOST_DECIDED) decided.clear();
  decided.set(key, best ?? short);
  return best ?? short;
}

/** What did best for a history: the same plan is computed again after every edit, history stays. */
const decided = new Map<string, BaselineKind | null>();
const MOST_DECIDED = 10_000;

/** A band around a forecast by the errors that a backtest made at each lead. */
export interface Interval {
  readonly low: number;
  readonly high: number;
}

/** So many root mean squares to either side of zero hold four of five normal errors. */
const FOUR_OF_FIVE = 1.281_551_565_544_6;

/**
 * Intervals by lead from backtest errors, wide enough for four of five of them if they are normal. Beyond the leads that were tried the widest one stays.
 */
export function intervals(
  forecast: readonly number[],
  errors: readonly (readonly number[])[],
): Interval[] {
  let widest = 0;
  return forecast.map((value, lead) => {
    const errorsOfLead = errors[lead] ?? [];
    if (errorsOfLead.length > 0) {
      const rms = Math.sqrt(
        errorsOfLead.reduce((sum, error) => sum + error ** 2, 0) / errorsOfLead.length,
      );
      widest = Math.max(widest, rms * FOUR_OF_FIVE);
    }
    return { low: value - widest, high: value + widest };
  });
}
