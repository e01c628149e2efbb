import {
  dayInWords,
  fiscalYearOf,
  MONTH_NAMES,
  monthFrom,
  monthInWords,
  monthInYear,
  yearOf,
  type Month,
  type Span,
  type TableColumn,
} from '@dravex/core';

export { dayInWords } from '@dravex/core';

const SHORT = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const COUNTS = [
  'no',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
];

/** `Apr`, or `Apr 26` where the year has to be said. */
export function shortMonth(month: Month, withYear = false): string {
  const name = SHORT[monthInYear(month) - 1] ?? '';
  return withYear ? `${name} ${String(yearOf(month) % 100).padStart(2, '0')}` : name;
}

/** `April`, of the calendar month 4 */
export function monthName(month: number): string {
  return MONTH_NAMES[month - 1] ?? '';
}

/** `April 2026` */
export const longMonth = monthInWords;

/** `April 2026 to March 2027`, `April to September 2026`, `April 2026`, `2 to 8 November 2026` */
export function spanInWords({ from, to, days }: Span): string {
  if (days) {
    const start = from === to ? String(Number(days.from.slice(8))) : dayInWords(days.from);
    return days.from === days.to ? dayInWords(days.from) : `${start} to ${dayInWords(days.to)}`;
  }
  if (from === to) return longMonth(from);
  const start = yearOf(from) === yearOf(to) ? monthName(monthInYear(from)) : longMonth(from);
  return `${start} to ${longMonth(to)}`;
}

/** `six months`, `one month`, `18 months` */
export function monthsInWords(count: number): string {
  return `${COUNTS[count] ?? count} ${count === 1 ? 'month' : 'months'}`;
}

/** How much of a span is closed: `six months closed`, `all closed`, `all open`. */
export function closedInWords({ from, to }: Span, closedThrough: Month): string {
  const closed = Math.min(to, closedThrough) - from + 1;
  if (closed <= 0) return 'all open';
  return closed >= to - from + 1 ? 'all closed' : `${monthsInWords(closed)} closed`;
}

/** A day of a table's columns, `3 Nov`. */
const shortDay = (day: string): string =>
  `${Number(day.slice(8))} ${shortMonth(monthFrom(day.slice(0, 7)))}`;

/** The heading of a column: a month, `Q1 27`, `FY 2027`, with a mark where the window cuts it short. */
export function columnHeading(column: TableColumn, span: Span, fiscalStart: number): string {
  const { period } = column;
  if (!period) return column.label;
  const [year = '', quarter] = column.key.split('-');
  const cut = period.partial ? ' ·' : '';
  if (/^FY/.test(year)) {
    const short = year.slice(-2);
    return quarter ? `${quarter} ${short}${cut}` : `FY ${year.slice(2)}${cut}`;
  }
  if (period.days && period.days.from === period.days.to && !period.partial) {
    return shortDay(period.days.from);
  }
  if (period.days) {
    const many = span.to - span.from >= 12;
    return `${quarter ?? ''}${many ? ` ${year.slice(-2)}` : ''}${cut}`;
  }
  const many = fiscalYearOf(span.from, fiscalStart) !== fiscalYearOf(span.to, fiscalStart);
  return shortMonth(period.from, many);
}
