/** The stretches of time that a summary of days is cut into, and the span it is compared with. */
import {
  addDays,
  daysBetween,
  isoWeek,
  lastDayOf,
  weekStart,
  yearBefore,
  type Days,
} from '../calendar/day.ts';
import { fiscalQuarterOf, fiscalYearOf } from '../calendar/fiscal.ts';
import { monthFrom } from '../calendar/month.ts';

/** How finely days are cut; `none` is the whole span as one. */
export const DAY_GRAINS = ['day', 'week', 'month', 'quarter', 'year', 'none'] as const;
export type DayGrain = (typeof DAY_GRAINS)[number];
/** A stretch of time as a column. */
export interface DayColumn extends Days {
  readonly key: string;
  readonly label: string;
  readonly partial: boolean;
}

/** Whether columns are stretches of time. */
export const isDayGrain = (columns: string): columns is DayGrain =>
  (DAY_GRAINS as readonly string[]).includes(columns);

/** Which stretch of time a day lies in. */
export function bucketOf(day: string, grain: DayGrain, fiscalStart: number): string {
  switch (grain) {
    case 'day':
      return day;
    case 'week':
      return isoWeek(day);
    case 'none':
      return 'all';
    default: {
      const month = monthFrom(day.slice(0, 7));
      if (grain === 'month') return day.slice(0, 7);
      const year = `FY${fiscalYearOf(month, fiscalStart)}`;
      return grain === 'year' ? year : `${year}-Q${fiscalQuarterOf(month, fiscalStart)}`;
    }
  }
}

/**
 * The stretches of time of a span, in order; those that the span cuts short are marked.
 * @param fiscalStart 1 to 12, for quarters and years
 */
export function timeColumns(days: Days, grain: DayGrain, fiscalStart: number): DayColumn[] {
  const columns: DayColumn[] = [];
  const step = (day: string): string =>
    grain === 'day'
      ? addDays(day, 1)
      : grain === 'week'
        ? addDays(weekStart(day), 7)
        : addDays(lastDayOf(day.slice(0, 7)), 1);
  for (let day = days.from; day <= days.to;) {
    const key = bucketOf(day, grain, fiscalStart);
    let next = step(day);
    while (next <= days.to && bucketOf(next, grain, fiscalStart) === key) next = step(next);
    const to = addDays(next, -1);
    const last = columns.at(-1);
    const end = to > days.to ? days.to : to;
    if (last?.key === key) columns[columns.length - 1] = { ...last, to: end };
    else columns.push({ key, label: key, from: day, to: end, partial: false });
    day = next;
  }
  return columns.map((column) => ({
    ...column,
    partial:
      grain !== 'none' &&
      (bucketOf(addDays(column.from, -1), grain, fiscalStart) === column.key ||
        bucketOf(addDays(column.to, 1), grain, fiscalStart) === column.key),
  }));
}

/** The span a year before, day by day; of whole weeks the weeks of the same number. */
export function spanBefore({ from, to }: Days, grain: DayGrain): Days {
  if (grain === 'week') return { from: addDays(from, -364), to: addDays(to, -364) };
  // A month that is over is compared with the whole of it, also where February has a day more.
  const whole = to === lastDayOf(to.slice(0, 7));
  const end = yearBefore(to);
  return { from: yearBefore(from), to: whole ? lastDayOf(end.slice(0, 7)) : end };
}

/** The stretches of the earlier span, each in the place of the one it is compared with. */
export function shiftedPlaces(
  span: Days,
  grain: DayGrain,
  fiscalStart: number,
  count: number,
): ReadonlyMap<string, number> {
  const columns = timeColumns(span, grain, fiscalStart);
  return new Map(columns.slice(0, count).map(({ key }, place) => [key, place]));
}

/** Says when two spans are not alike. */
export function unlikeSpans(
  days: Days,
  span: Days,
  first: string,
  grain: DayGrain | undefined,
): string {
  if (span.to < first) return `There are no sales lines a year before: they begin on ${first}`;
  if (span.from < first) {
    return `The spans are of unlike length: a year before, sales lines only begin on ${first}`;
  }
  const daysHere = daysBetween(days.from, days.to);
  const other = daysBetween(span.from, span.to);
  if (daysHere !== other && grain !== 'week') {
    return `The spans are of unlike length: ${daysHere} days beside ${other}`;
  }
  return '';
}
