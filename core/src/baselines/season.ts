/** Seasonal indices by classical decomposition. Source: calculations, *Statistical baselines*. */

/** Months in a season. */
export const SEASON = 12;

/**
 * The centred moving average over a season: thirteen months, the outermost two at half weight.
 * @returns a value a month; NaN for the first and last six, which have no thirteen around them
 */
export function centredMean(history: readonly number[]): number[] {
  const half = SEASON / 2;
  return history.map((_, t) => {
    if (t < half || t + half >= history.length) return Number.NaN;
    let sum = ((history[t - half] ?? 0) + (history[t + half] ?? 0)) / 2;
    for (let at = t - half + 1; at < t + half; at += 1) sum += history[at] ?? 0;
    return sum / SEASON;
  });
}

/**
 * Twelve seasonal indices with mean 1, by the place of a month in its year counted from the first
 * of the history: the mean ratio of the months to the centred moving average.
 * @param history at least two years of months
 * @returns NaN for a place of which no month has thirteen months around it, or where these are zero
 */
export function seasonalIndex(history: readonly number[]): number[] {
  const mean = centredMean(history);
  const raw = Array.from({ length: SEASON }, (_, place) => {
    let sum = 0;
    let count = 0;
    for (let t = place; t < history.length; t += SEASON) {
      const ratio = (history[t] ?? Number.NaN) / (mean[t] ?? Number.NaN);
      if (!Number.isFinite(ratio)) continue;
      sum += ratio;
      count += 1;
    }
    return count === 0 ? Number.NaN : sum / count;
  });
  const scale = raw.reduce((sum, value) => sum + value, 0) / SEASON;
  return raw.map((value) => value / scale);
}
