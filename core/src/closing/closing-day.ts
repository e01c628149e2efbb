/** When a month is closed by itself. Source: calculations, *Close and roll*. */
import { addDays, daysBetween, lastDayOf } from '../calendar/day.ts';
import { monthText, type Month } from '../calendar/month.ts';
import { readDay } from '../exchange/day.ts';
import type { Problem } from '../problem.ts';

/** By hand only, or on the n-th calendar or working day after the month's end. */
export interface ClosingRule {
  readonly by: 'hand' | 'calendarDay' | 'workingDay';
  /** Counted from the first day after the month's end, from 1. */
  readonly day: number;
}

/** The latest day after a month's end on which it can be closed by itself. */
export const LATEST_CLOSING_DAY = 28;

function isWeekend(day: string): boolean {
  return [0, 6].includes(new Date(`${day}T00:00:00Z`).getUTCDay());
}

/**
 * The day on which a month is closed by itself; null where it is closed by hand.
 * @param holidays days that are no working days, besides Saturday and Sunday
 */
export function closingDay(
  month: Month,
  { by, day }: ClosingRule,
  holidays: ReadonlySet<string>,
): string | null {
  if (by === 'hand') return null;
  const end = lastDayOf(monthText(month));
  if (by === 'calendarDay') return addDays(end, day);
  let at = end;
  for (let working = 0; working < day;) {
    at = addDays(at, 1);
    if (!isWeekend(at) && !holidays.has(at)) working += 1;
  }
  return at;
}

/** The most days that a list of holidays can have: fifty years of twenty each. */
const MOST_HOLIDAYS = 1000;

/**
 * Reads a list of holidays: a day on each line, whatever follows it is its name, and a heading may
 * stand above.
 * @returns the days, each once, in order, and the lines that name no day
 */
export function readHolidays(text: string): { days: string[]; problems: Problem[] } {
  const days = new Set<string>();
  const problems: Problem[] = [];
  text.split(/\r?\n/).forEach((line, place) => {
    const [first = ''] = line.replace(/^\uFEFF/, '').split(/[,;\t]| (?=\p{L})/u);
    const written = first.trim().replaceAll('"', '');
    if (written === '' || (place === 0 && !/\d/.test(written))) return;
    const day = readDay(written, 'dmy');
    if (day !== undefined) days.add(day);
    else {
      const message = `Line ${place + 1}, "${written.slice(0, 40)}", is not a day; write it as 2026-12-25`;
      problems.push({ code: 'not-a-day', message, where: { line: place + 1 } });
    }
  });
  if (days.size > MOST_HOLIDAYS) {
    const message = `The list has ${days.size} days; at most ${MOST_HOLIDAYS} can be kept`;
    problems.push({ code: 'too-many-days', message, where: {} });
  }
  return { days: [...days].sort(), problems };
}

/** Whether every day of a month has happened. @param asOf the day up to which things are known */
export function isOver(month: Month, asOf: string): boolean {
  return daysBetween(lastDayOf(monthText(month)), asOf) >= 1;
}
