/**
 * When a series, at or below another, gets above it, in months from the first, straight lines
 * between months; null when it never does. A missing number (NaN) is no crossing.
 * @example crossover([1, 3], [2, 2]) // 0.5
 */
export function crossover(series: ArrayLike<number>, other: ArrayLike<number>): number | null {
  const count = Math.min(series.length, other.length);
  for (let t = 1; t < count; t += 1) {
    const before = (series[t - 1] ?? Number.NaN) - (other[t - 1] ?? Number.NaN);
    const now = (series[t] ?? Number.NaN) - (other[t] ?? Number.NaN);
    if (before <= 0 && now > 0) return t - 1 + -before / (now - before);
  }
  return null;
}
