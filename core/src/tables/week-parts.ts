/**
 * What of a month's numbers lies in each of its weeks: what was sold is known by day from its lines,
 * what is planned is divided by calendar days. Source: calculations, *Time*.
 */
import { daysBetween, type Days } from '../calendar/day.ts';
import { monthFrom, type Month, type MonthText } from '../calendar/month.ts';
import {
  daysOfMonths,
  slicesOfMonth,
  weeksOfMonth,
  type GrainWithinMonth,
} from '../calendar/week.ts';
import type { AddingCode } from '../measures/catalogue.ts';
import { seriesOf, type Figures, type WeekParts, type WeekSums } from './figures.ts';

/** The weeks of what was sold as they travel: one row a combination and week of a month. */
export interface KeptWeeks {
  readonly combination: readonly number[];
  readonly month: readonly MonthText[];
  /** Which of the month's weeks, counted from 0. */
  readonly week: readonly number[];
  readonly units: readonly number[];
  /** Revenue and cost in minor units. */
  readonly revenue: readonly number[];
  readonly cost: readonly number[];
}

/**
 * What was sold by week.
 * @param minor how many minor units one of the currency has
 * @param through the last month that is read; later ones are planned
 */
export function weekParts(
  { combination, month, week, units, revenue, cost }: KeptWeeks,
  minor: number,
  through: Month,
  before?: WeekParts,
): WeekParts {
  const sums = new Map<string, WeekSums>();
  combination.forEach((id, row) => {
    const at = monthFrom(month[row] ?? '');
    if (at > through) return;
    const key = `${id} ${at}`;
    const empty = (): Float64Array => new Float64Array(weeksOfMonth(at).length);
    const ofMonth = sums.get(key) ?? { units: empty(), revenue: empty(), cost: empty() };
    sums.set(key, ofMonth);
    const place = week[row] ?? 0;
    ofMonth.units[place] = (ofMonth.units[place] ?? 0) + (units[row] ?? 0);
    ofMonth.revenue[place] = (ofMonth.revenue[place] ?? 0) + (revenue[row] ?? 0) / minor;
    ofMonth.cost[place] = (ofMonth.cost[place] ?? 0) + (cost[row] ?? 0) / minor;
  });
  return { of: (id, at) => sums.get(`${id} ${at}`), before };
}

/** Whether the weeks of a combination's month are known from lines. */
export function hasWeeks(figures: Figures, index: number, t: number): boolean {
  const { id = -1 } = figures.combinations[index] ?? {};
  return figures.weeks?.of(id, figures.first + t) !== undefined;
}

/**
 * A month of a combination by its weeks; together they are the month.
 * @param index of the combination among the figures'
 * @param t the month, counted from the figures' first
 */
export function monthByWeek(
  figures: Figures,
  code: AddingCode,
  index: number,
  t: number,
): readonly number[] {
  const month = figures.first + t;
  const { id = -1 } = figures.combinations[index] ?? {};
  const sums = figures.weeks?.of(id, month);
  const weeks = weeksOfMonth(month);
  if (!sums) {
    const value = seriesOf(figures, code)[index * figures.count + t] ?? 0;
    return weeks.map(({ share }) => value * share);
  }
  if (code !== 'margin') return [...sums[code]];
  return weeks.map((_, week) => (sums.revenue[week] ?? 0) - (sums.cost[week] ?? 0));
}

/**
 * The same by weeks or by days. By day only what is planned is read: what was sold on a day is told
 * by its sales lines, of which the weeks are all that is known here.
 */
export function monthBySlice(
  figures: Figures,
  code: AddingCode,
  index: number,
  t: number,
  grain: GrainWithinMonth,
): readonly number[] {
  if (grain === 'week') return monthByWeek(figures, code, index, t);
  return slicesOfMonth(figures.first + t, grain).map((day) => inDays(figures, code, index, t, day));
}

/** Which part of some days lies in others. */
function shareWithin({ from, to }: Days, days: Days): number {
  const [first, last] = [from > days.from ? from : days.from, to < days.to ? to : days.to];
  return first > last ? 0 : daysBetween(first, last) / daysBetween(from, to);
}

/** What of a month lies in some days of it: of a week that they cut, its part by days. */
export function inDays(
  figures: Figures,
  code: AddingCode,
  index: number,
  t: number,
  days: Days,
): number {
  const weeks = weeksOfMonth(figures.first + t);
  return monthByWeek(figures, code, index, t).reduce((sum, value, place) => {
    const week = weeks[place];
    const share = week ? shareWithin(week, days) : 0;
    return share === 0 ? sum : sum + value * share;
  }, 0);
}

/** Which part of a month's days lies in a stretch of days. */
export function shareOfDays(month: Month, days: Days): number {
  return shareWithin(daysOfMonths(month, month), days);
}
