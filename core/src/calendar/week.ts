/** Days and ISO weeks of whole months: a week that lies in two is cut at the end of the first. */
import { addDays, daysBetween, isoWeek, lastDayOf, weekStart, type Days } from './day.ts';
import { monthText, type Month } from './month.ts';

/** A week, or what of it lies in a month; or one of its days. */
export interface MonthSlice extends Days {
  /** `2026-W45` or `2026-11-03` */
  readonly key: string;
  /** Its days over those of the month. */
  readonly share: number;
}

/** All days of a stretch of months. */
export function daysOfMonths(from: Month, to: Month): Days {
  return { from: `${monthText(from)}-01`, to: lastDayOf(monthText(to)) };
}

const known = new Map<Month, readonly MonthSlice[]>();

/** The four to six weeks of a month, in order. */
export function weeksOfMonth(month: Month): readonly MonthSlice[] {
  const weeksBefore = known.get(month);
  if (weeksBefore) return weeksBefore;
  const { from, to } = daysOfMonths(month, month);
  const days = daysBetween(from, to);
  const weeks: MonthSlice[] = [];
  for (let day = from; day <= to;) {
    const sunday = addDays(weekStart(day), 6);
    const end = sunday < to ? sunday : to;
    weeks.push({ key: isoWeek(day), from: day, to: end, share: daysBetween(day, end) / days });
    day = addDays(end, 1);
  }
  known.set(month, weeks);
  return weeks;
}

/** How finely a month can be cut. */
export const WITHIN_MONTH = ['day', 'week'] as const;
export type GrainWithinMonth = (typeof WITHIN_MONTH)[number];

const knownDays = new Map<Month, readonly MonthSlice[]>();

/** A month cut into its weeks or days, in order. */
export function slicesOfMonth(month: Month, grain: GrainWithinMonth): readonly MonthSlice[] {
  if (grain === 'week') return weeksOfMonth(month);
  const daysBefore = knownDays.get(month);
  if (daysBefore) return daysBefore;
  const { from, to } = daysOfMonths(month, month);
  const share = 1 / daysBetween(from, to);
  const days: MonthSlice[] = [];
  for (let day = from; day <= to; day = addDays(day, 1)) {
    days.push({ key: day, from: day, to: day, share });
  }
  knownDays.set(month, days);
  return days;
}
