/** Plain days as ISO text, `2026-10-12`: no clock and no time zone. */
import { monthFrom, monthInWords } from './month.ts';

const DAY_MS = 86_400_000;

/** A stretch of days, both ends included. */
export interface Days {
  readonly from: string;
  readonly to: string;
}

function timeOf(day: string): number {
  return Date.parse(`${day}T00:00:00Z`);
}

/** A day as people say it: `12 October 2026`. */
export function dayInWords(day: string): string {
  return `${Number(day.slice(8, 10))} ${monthInWords(monthFrom(day.slice(0, 7)))}`;
}

/** The day so many days later, or earlier. */
export function addDays(day: string, days: number): string {
  return new Date(timeOf(day) + days * DAY_MS).toISOString().slice(0, 10);
}

/** How many days lie from one to another, both included. */
export function daysBetween(from: string, to: string): number {
  return Math.round((timeOf(to) - timeOf(from)) / DAY_MS) + 1;
}

/** The last day of a month, `2026-02` gives `2026-02-28`. */
export function lastDayOf(month: string): string {
  const [year = 0, number = 1] = month.split('-').map(Number);
  return new Date(Date.UTC(year, number, 0)).toISOString().slice(0, 10);
}

/** The same day a year before; of 29 February the 28th. */
export function yearBefore(day: string): string {
  const month = `${String(Number(day.slice(0, 4)) - 1).padStart(4, '0')}${day.slice(4, 7)}`;
  const last = lastDayOf(month);
  const same = `${month}${day.slice(7)}`;
  return same > last ? last : same;
}

/** The Monday of the ISO week that a day lies in. */
export function weekStart(day: string): string {
  const weekday = (new Date(timeOf(day)).getUTCDay() + 6) % 7;
  return addDays(day, -weekday);
}

/** The ISO week of a day, `2026-W42`: the year is that of its Thursday. */
export function isoWeek(day: string): string {
  const thursday = addDays(weekStart(day), 3);
  const year = thursday.slice(0, 4);
  const week = Math.floor((daysBetween(`${year}-01-01`, thursday) - 1) / 7) + 1;
  return `${year}-W${String(week).padStart(2, '0')}`;
}
