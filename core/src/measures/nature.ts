/** How numbers roll up, by their nature. Source: calculations, *Dimensions, streams, measures*. */

/**
 * How a number rolls up: a flow adds over time and scopes, a stock adds over scopes and takes its
 * last month, a ratio is made from its numerator and denominator, a level is never rolled up.
 */
export type Nature = 'flow' | 'stock' | 'ratio' | 'level';

/** A computed value as it is handed on: null where it is missing (NaN, or not there at all). */
export function valueOrNull(value: number | undefined): number | null {
  return value === undefined || Number.isNaN(value) ? null : value;
}

/** A ratio, or null (no value, a dash) when there is nothing to divide by. */
export function ratio(numerator: number, denominator: number): number | null {
  const value = numerator / denominator;
  return denominator === 0 || !Number.isFinite(value) ? null : value;
}

/** Each part's share of the whole they make up, or null where the whole is zero. */
export function sharesOf(parts: readonly number[]): (number | null)[] {
  const whole = parts.reduce((sum, part) => sum + part, 0);
  return parts.map((part) => ratio(part, whole));
}

/**
 * One number for a stretch of months by a measure's nature: flows add, a stock is that of the last
 * month, a level is never rolled up. Ratios are made from rolled-up parts, so they are not asked here.
 */
export function overTime(
  nature: Exclude<Nature, 'ratio'>,
  months: readonly number[],
): number | null {
  switch (nature) {
    case 'flow':
      return months.reduce((sum, value) => sum + value, 0);
    case 'stock':
      return months.at(-1) ?? null;
    case 'level':
      return months.length === 1 ? (months[0] ?? null) : null;
  }
}
