import { fiscalQuarterOf, fiscalYearOf, fiscalYearStart } from './fiscal.ts';
import { monthText, type Month } from './month.ts';

/** How finely time is cut. Quarters and years are those of the fiscal year. */
export type Grain = 'month' | 'quarter' | 'year';

/** A stretch of whole months, both ends included. */
export interface Span {
  readonly from: Month;
  readonly to: Month;
}

/** A column of time: its months, and whether the span cut it short. */
export interface Period extends Span {
  /** `2026-04`, `FY2027-Q1` or `FY2027`. */
  readonly key: string;
  /** True when the span does not hold all months of this quarter or year. */
  readonly partial: boolean;
}

function keyOf(month: Month, grain: Grain, startMonth: number): string {
  if (grain === 'month') return monthText(month);
  const year = `FY${fiscalYearOf(month, startMonth)}`;
  return grain === 'year' ? year : `${year}-Q${fiscalQuarterOf(month, startMonth)}`;
}

const MONTHS_IN: Record<Grain, number> = { month: 1, quarter: 3, year: 12 };

/**
 * Cuts a span into months, fiscal quarters or fiscal years, in order. A period that the span
 * holds only in part is kept, cut to the span, and marked `partial`.
 */
export function periodsOf(span: Span, grain: Grain, startMonth: number): Period[] {
  const periods: Period[] = [];
  let from = span.from;
  while (from <= span.to) {
    const key = keyOf(from, grain, startMonth);
    let to = from;
    while (to < span.to && keyOf(to + 1, grain, startMonth) === key) to += 1;
    periods.push({ key, from, to, partial: to - from + 1 < MONTHS_IN[grain] });
    from = to + 1;
  }
  return periods;
}

/** All twelve months of a fiscal year. */
export function fiscalYearSpan(fiscalYear: number, startMonth: number): Span {
  const from = fiscalYearStart(fiscalYear, startMonth);
  return { from, to: from + 11 };
}
