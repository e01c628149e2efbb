/** Exponential smoothing of level, trend and season. Source: calculations, *Statistical baselines*. */
import { leastSquaresInBox } from './least-squares-in-box.ts';
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

/** What a run over a history ends with. */
interface Run {
  readonly level: number;
  readonly trend: number;
  readonly season: number[];
}

/**
 * Runs the smoothing over a history. Source of the updates and of how it starts: calculations,
 * *Statistical baselines*.
 * @param fitted takes the one-step forecasts from the thirteenth month on
 */
function run(
  history: readonly number[],
  additive: boolean,
  { alpha, beta, gamma }: SmoothingRates,
  fitted: Float64Array,
): Run {
  const mean = (from: number): number => {
    let sum = 0;
    for (let t = from; t < from + SEASON; t += 1) sum += history[t] ?? 0;
    return sum / SEASON;
  };
  const first = mean(0);
  let trend = (mean(SEASON) - first) / SEASON;
  const season: number[] = [];
  for (let t = 0; t < SEASON; t += 1) {
    const line = first + (t - (SEASON - 1) / 2) * trend;
    season.push(additive ? (history[t] ?? 0) - line : (history[t] ?? 0) / line);
  }
  let level = first + ((SEASON - 1) / 2) * trend;
  let place = 0;
  for (let t = SEASON; t < history.length; t += 1) {
    const value = history[t] ?? 0;
    const old = season[place] ?? 0;
    const expected = level + trend;
    fitted[t - SEASON] = additive ? expected + old : expected * old;
    const next = alpha * (additive ? value - old : value / old) + (1 - alpha) * expected;
    trend = beta * (next - level) + (1 - beta) * trend;
    season[place] = gamma * (additive ? value - next : value / next) + (1 - gamma) * old;
    level = next;
    place = place === SEASON - 1 ? 0 : place + 1;
  }
  return { level, trend, season };
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
  const fitted = new Float64Array(Math.max(0, history.length - SEASON));
  const { level, trend, season } = run(history, kind === 'additive', rates, fitted);
  const forecast = Array.from({ length: ahead }, (_, h) => {
    const line = level + (h + 1) * trend;
    const seasonal = season[(history.length + h) % SEASON] ?? 0;
    return kind === 'additive' ? line + seasonal : line * seasonal;
  });
  return { fitted: [...fitted], forecast };
}

/** Rates from which the search looks for places to start; levels that hardly follow have hollows of their own. */
const COARSE = {
  alpha: [0, 0.01, 0.04, 0.15, 0.45, 1],
  beta: [0, 0.1, 0.4, 1],
  gamma: [0, 0.15, 0.5, 1],
};
/** From so many of them it goes down to a least error. */
const STARTS = 24;

/**
 * The rates with the least squared one-step error in [0, 1] each: the error has several hollows, so
 * the search goes down from the best places of a coarse grid. The same history always gives the
 * same rates.
 * @param near rates of almost the same history: the search starts there and at the best of the grid
 * @returns null where no rates give a finite error
 */
export function fitRates(
  history: readonly number[],
  kind: SeasonKind,
  near?: SmoothingRates,
): SmoothingRates | null {
  const count = Math.max(0, history.length - SEASON);
  const additive = kind === 'additive';
  const residuals = ([alpha = 0, beta = 0, gamma = 0]: readonly number[], out: Float64Array) => {
    run(history, additive, { alpha, beta, gamma }, out);
    for (let t = 0; t < count; t += 1) out[t] = (history[t + SEASON] ?? 0) - (out[t] ?? 0);
  };
  const errors = new Float64Array(count);
  const errorOf = (rates: readonly number[]): number => {
    residuals(rates, errors);
    const sum = errors.reduce((all, error) => all + error * error, 0);
    return Number.isFinite(sum) ? sum : Number.POSITIVE_INFINITY;
  };
  const grid = COARSE.alpha
    .flatMap((alpha) =>
      COARSE.beta.flatMap((beta) => COARSE.gamma.map((gamma) => [alpha, beta, gamma])),
    )
    .map((rates) => ({ rates, error: errorOf(rates) }))
    .sort((a, b) => a.error - b.error);
  const starts = grid.slice(0, near ? 1 : STARTS).map(({ rates }) => rates);
  if (near) starts.push([near.alpha, near.beta, near.gamma]);
  let best: { parameters: number[]; squares: number } | null = null;
  for (const start of starts) {
    const fit = leastSquaresInBox(residuals, start, count);
    if (Number.isFinite(fit.squares) && (!best || fit.squares < best.squares)) best = fit;
  }
  if (!best) return null;
  const [alpha = 0, beta = 0, gamma = 0] = best.parameters;
  return { alpha, beta, gamma };
}
