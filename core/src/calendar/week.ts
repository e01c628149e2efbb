/** ISO weeks of whole months: a week that lies in two of them is cut at the end of the first. */
import { addDays, daysBetween, isoWeek, lastDayOf, weekStart, type Days } from './day.ts';
import { monthText, type Month } from './month.ts';

/** A week, or what of it lies in a month. */
export interface MonthWeek extends Days {
  /** `2026-W45` */
  readonly key: string;
  /** Its days over those of the month. */
  readonly share: number;
}

/** All days of a stretch of months. */
export function daysOfMonths(from: Month, to: Month): Days {
  return { from: `${monthText(from)}-01`, to: lastDayOf(monthText(to)) };
}

const known = new Map<Month, readonly MonthWeek[]>();

/** The four to six weeks of a month, in order. */
export function weeksOfMonth(month: Month): readonly MonthWeek[] {
  const weeksBefore = known.get(month);
  if (weeksBefore) return weeksBefore;
  const { from, to } = daysOfMonths(month, month);
  const days = daysBetween(from, to);
  const weeks: MonthWeek[] = [];
  for (let day = from; day <= to;) {
    const sunday = addDays(weekStart(day), 6);
    const end = sunday < to ? sunday : to;
    weeks.push({ key: isoWeek(day), from: day, to: end, share: daysBetween(day, end) / days });
    day = addDays(end, 1);
  }
  known.set(month, weeks);
  return weeks;
}
