/** How a measure rolls up over time and over dimensions. */
export type Nature = 'flow' | 'stock' | 'ratio' | 'level';

/** What is kept for every combination and month; ratios are made from these. */
export type BaseMeasure = 'units' | 'revenue' | 'cost';

/** A measure of a table. Ratios name what they are made of. */
export type Measure =
  | { readonly code: BaseMeasure; readonly name: string; readonly nature: 'flow' }
  | {
      readonly code: 'averagePrice';
      readonly name: string;
      readonly nature: 'ratio';
      readonly numerator: BaseMeasure;
      readonly denominator: BaseMeasure;
    };

export type MeasureCode = BaseMeasure | 'averagePrice';

/** The measures there are. Average price is weighted by volume because it is made from the sums. */
export const MEASURES: Readonly<Record<MeasureCode, Measure>> = {
  revenue: { code: 'revenue', name: 'Revenue', nature: 'flow' },
  units: { code: 'units', name: 'Units', nature: 'flow' },
  cost: { code: 'cost', name: 'Cost of sales', nature: 'flow' },
  averagePrice: {
    code: 'averagePrice',
    name: 'Average price',
    nature: 'ratio',
    numerator: 'revenue',
    denominator: 'units',
  },
};

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
 * month, a level is never rolled up. Ratios are made from rolled-up flows, so they are not asked here.
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
