import { daysBetween, type Days } from './day.ts';
import { fiscalQuarterOf, fiscalYearOf, fiscalYearStart } from './fiscal.ts';
import { monthText, type Month } from './month.ts';
import { slicesOfMonth, WITHIN_MONTH, type GrainWithinMonth } from './week.ts';

/** How finely time is cut. Quarters and years are those of the fiscal year, weeks ISO weeks. */
export type Grain = GrainWithinMonth | 'month' | 'quarter' | 'year';

/** A stretch of whole months, both ends included. */
export interface Span {
  readonly from: Month;
  readonly to: Month;
  /** Where not all of their days are meant: the first and the last of them. */
  readonly days?: Days | undefined;
}

/** A column of time: its months, and whether the span cut it short. */
export interface Period extends Span {
  /** `2026-04-03`, `2026-W14`, `2026-04`, `FY2027-Q1` or `FY2027`. */
  readonly key: string;
  /** True when the span does not hold all of this week, quarter or year. */
  readonly partial: boolean;
}

/** A grain of whole months. */
type MonthGrain = Exclude<Grain, GrainWithinMonth>;

/** Whether a grain cuts months. */
export const isWithinMonth = (grain: Grain): grain is GrainWithinMonth =>
  WITHIN_MONTH.some((fine) => fine === grain);

function keyOf(month: Month, grain: MonthGrain, startMonth: number): string {
  if (grain === 'month') return monthText(month);
  const year = `FY${fiscalYearOf(month, startMonth)}`;
  return grain === 'year' ? year : `${year}-Q${fiscalQuarterOf(month, startMonth)}`;
}

/** How many months a grain has. */
export const MONTHS_IN: Readonly<Record<MonthGrain, number>> = { month: 1, quarter: 3, year: 12 };

/** The days, or ISO weeks, of a span of whole months; the first and last week may be cut short by it. */
function slicesOf({ from, to }: Span, grain: GrainWithinMonth): Period[] {
  const periods: Period[] = [];
  for (let month = from; month <= to; month += 1) {
    for (const { key, from: start, to: end } of slicesOfMonth(month, grain)) {
      const last = periods.at(-1);
      if (last?.key === key) {
        const days = { from: last.days?.from ?? start, to: end };
        periods[periods.length - 1] = { ...last, to: month, days };
      } else
        periods.push({
          key,
          from: month,
          to: month,
          partial: false,
          days: { from: start, to: end },
        });
    }
  }
  return periods.map((period) => {
    const { days } = period;
    const cut = days !== undefined && daysBetween(days.from, days.to) < 7;
    return { ...period, partial: grain === 'week' && cut };
  });
}

/**
 * Cuts a span into days, ISO weeks, months, fiscal quarters or fiscal years, in order. A period that the span
 * holds only in part is kept, cut to the span, and marked `partial`.
 */
export function periodsOf(span: Span, grain: Grain, startMonth: number): Period[] {
  if (isWithinMonth(grain)) return slicesOf(span, grain);
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
