/** Exponential smoothing of level, trend and season. Source: calculations, *Statistical baselines*. */
import { SEASON } from './season.ts';

export type SeasonKind = 'additive' | 'multiplicative';

/** How fast level, trend and season follow what is new, each from 0 to 1. */
export interface SmoothingRates {
  readonly alpha: number;
  readonly beta: number;
  readonly gamma: number;
}

export interface Smoothed {
  /** One-step forecasts of the history from its thirteenth month on. */
  readonly fitted: number[];
  /** The months after the history. */
  readonly forecast: number[];
}

/** What a run ends with, and the squares of its one-step errors. */
interface Run {
  readonly fitted: number[];
  readonly level: number;
  readonly trend: number;
  readonly season: number[];
  readonly squares: number;
}

function run(
  history: readonly number[],
  kind: SeasonKind,
  { alpha, beta, gamma }: SmoothingRates,
): Run {
  const mean = (from: number): number => {
    let sum = 0;
    for (let t = from; t < from + SEASON; t += 1) sum += history[t] ?? 0;
    return sum / SEASON;
  };
  const first = mean(0);
  let trend = (mean(SEASON) - first) / SEASON;
  const line = (t: number): number => first + (t - (SEASON - 1) / 2) * trend;
  const additive = kind === 'additive';
  const season = Array.from({ length: SEASON }, (_, t) => {
    const value = history[t] ?? 0;
    return additive ? value - line(t) : value / line(t);
  });
  let level = line(SEASON - 1);
  const fitted: number[] = [];
  let squares = 0;
  for (let t = SEASON; t < history.length; t += 1) {
    const value = history[t] ?? 0;
    const old = season[t % SEASON] ?? 0;
    const expected = level + trend;
    const step = additive ? expected + old : expected * old;
    fitted.push(step);
    squares += (value - step) ** 2;
    const next = alpha * (additive ? value - old : value / old) + (1 - alpha) * expected;
    trend = beta * (next - level) + (1 - beta) * trend;
    season[t % SEASON] = gamma * (additive ? value - next : value / next) + (1 - gamma) * old;
    level = next;
  }
  return { fitted, level, trend, season, squares };
}

/**
 * Smooths a history and continues it.
 * @param history at least two years of months
 * @returns NaN where a multiplicative season would have to divide by zero
 */
export function smooth(
  history: readonly number[],
  kind: SeasonKind,
  rates: SmoothingRates,
  ahead: number,
): Smoothed {
  const { fitted, level, trend, season } = run(history, kind, rates);
  const forecast = Array.from({ length: ahead }, (_, h) => {
    const line = level + (h + 1) * trend;
    const own = season[(history.length + h) % SEASON] ?? 0;
    return kind === 'additive' ? line + own : line * own;
  });
  return { fitted, forecast };
}

/** Where the search for rates starts: coarse, so that it is quick, then finer around the best. */
const COARSE = [0.05, 0.2, 0.4, 0.6, 0.8];
const FINEST = 0.01;

/**
 * The rates with the least squared one-step error: the best of a coarse grid, then one rate after
 * the other in steps that halve. The same history always gives the same rates.
 * @returns null where no rates give a finite error
 */
export function fitRates(history: readonly number[], kind: SeasonKind): SmoothingRates | null {
  const error = (rates: SmoothingRates): number => {
    const { squares } = run(history, kind, rates);
    return Number.isFinite(squares) ? squares : Number.POSITIVE_INFINITY;
  };
  let best: SmoothingRates = { alpha: 0.2, beta: 0.05, gamma: 0.2 };
  let least = error(best);
  const consider = (rates: SmoothingRates): boolean => {
    const found = error(rates);
    if (found >= least) return false;
    least = found;
    best = rates;
    return true;
  };
  for (const alpha of COARSE)
    for (const beta of COARSE) for (const gamma of COARSE) consider({ alpha, beta, gamma });
  for (let step = 0.1; step >= FINEST; step /= 2) {
    let better = true;
    while (better) {
      better = false;
      for (const name of ['alpha', 'beta', 'gamma'] as const) {
        for (const way of [-step, step]) {
          const value = Math.min(1, Math.max(0, best[name] + way));
          if (consider({ ...best, [name]: value })) better = true;
        }
      }
    }
  }
  return Number.isFinite(least) ? best : null;
}
