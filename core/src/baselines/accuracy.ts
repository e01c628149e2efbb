/** How far forecasts were from what happened. Source: calculations, *Close and roll*. */
import { ratio } from '../measures/nature.ts';
import { SEASON } from './season.ts';

/** Measures of error; error = actual - forecast. Null is no value. */
export interface Accuracy {
  /** The mean error. */
  readonly bias: number | null;
  /** The mean absolute error. */
  readonly mae: number | null;
  /** The mean of absolute errors as shares of the actual, without months of no actual. */
  readonly mape: number | null;
  /** Absolute errors as a share of the absolute actuals. */
  readonly wape: number | null;
  /** The mean absolute error over the mean absolute seasonal difference of the history. */
  readonly mase: number | null;
}

const mean = (values: readonly number[]): number | null =>
  ratio(
    values.reduce((sum, value) => sum + value, 0),
    values.length,
  );

/** The mean absolute difference to the same month a year before; null for less than a year more. */
export function seasonalDifference(history: readonly number[]): number | null {
  return mean(
    history.slice(SEASON).map((value, t) => Math.abs(value - (history[t] ?? Number.NaN))),
  );
}

/**
 * @param forecast as many months as `actual`
 * @param history the months before, for the scaled error
 */
export function accuracyOf(
  actual: readonly number[],
  forecast: readonly number[],
  history: readonly number[],
): Accuracy {
  const errors = actual.map((value, t) => value - (forecast[t] ?? Number.NaN));
  const absolute = errors.map(Math.abs);
  const mae = mean(absolute);
  const scale = seasonalDifference(history);
  const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);
  const shares = absolute.flatMap((error, t) => {
    const value = actual[t] ?? 0;
    return value === 0 ? [] : [error / Math.abs(value)];
  });
  return {
    bias: mean(errors),
    mae,
    mape: mean(shares),
    wape: ratio(sum(absolute), sum(actual.map(Math.abs))),
    mase: mae === null || scale === null ? null : ratio(mae, scale),
  };
}
