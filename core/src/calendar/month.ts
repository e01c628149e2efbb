/**
 * A calendar month as one whole number, so that spans and lags are plain arithmetic:
 * `year * 12 + (month - 1)`. April 2026 is 24315.
 */
export type Month = number;

/** A month as people and files write it: `2026-04`. */
export type MonthText = string;

const MONTH_TEXT = /^(\d{4})-(0[1-9]|1[0-2])$/;

/**
 * The month of a calendar year.
 * @param year for example 2026
 * @param month 1 (January) to 12 (December)
 */
export function monthOf(year: number, month: number): Month {
  return year * 12 + (month - 1);
}

/** The calendar year a month lies in. */
export function yearOf(month: Month): number {
  return Math.floor(month / 12);
}

/** The month within its calendar year, 1 (January) to 12 (December). */
export function monthInYear(month: Month): number {
  return month - yearOf(month) * 12 + 1;
}

/** Months that were read before: plans name the same few thousands of times. */
const monthsByText = new Map<MonthText, Month>();

/** Reads `2026-04`; `undefined` for anything else. */
export function parseMonth(text: string): Month | undefined {
  const before = monthsByText.get(text);
  if (before !== undefined) return before;
  const match = MONTH_TEXT.exec(text);
  if (!match) return undefined;
  const month = monthOf(Number(match[1]), Number(match[2]));
  monthsByText.set(text, month);
  return month;
}

/**
 * Reads a month that the caller knows to be well formed.
 * @throws RangeError naming the text when it is not `YYYY-MM`
 */
export function monthFrom(text: MonthText): Month {
  const month = parseMonth(text);
  if (month === undefined) throw new RangeError(`"${text}" is not a month; write it as 2026-04`);
  return month;
}

/** Writes a month as `2026-04`. */
export function monthText(month: Month): MonthText {
  return `${String(yearOf(month)).padStart(4, '0')}-${String(monthInYear(month)).padStart(2, '0')}`;
}

/** January to December. */
export const MONTH_NAMES: readonly string[] = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

/** A month as people say it: `April 2026`. */
export function monthInWords(month: Month): string {
  return `${MONTH_NAMES[monthInYear(month) - 1] ?? ''} ${yearOf(month)}`;
}
