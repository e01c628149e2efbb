import { monthInYear, monthOf, yearOf, type Month } from './month.ts';

/**
 * The fiscal year a month belongs to, named by the calendar year in which it ends
 * (a year that starts in January is the calendar year).
 * @param startMonth 1 to 12, the month in which fiscal years start
 */
export function fiscalYearOf(month: Month, startMonth: number): number {
  const year = yearOf(month);
  return startMonth > 1 && monthInYear(month) >= startMonth ? year + 1 : year;
}

/** The first month of a fiscal year. */
export function fiscalYearStart(fiscalYear: number, startMonth: number): Month {
  return startMonth > 1 ? monthOf(fiscalYear - 1, startMonth) : monthOf(fiscalYear, 1);
}

/** The quarter of the fiscal year a month lies in, 1 to 4. */
export function fiscalQuarterOf(month: Month, startMonth: number): number {
  const sinceStart = (monthInYear(month) - startMonth + 12) % 12;
  return Math.floor(sinceStart / 3) + 1;
}
