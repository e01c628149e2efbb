/** What is unusual in a month before it is closed. */
import type { Month } from '../calendar/month.ts';
import type { Combination } from '../dimensions/dimension.ts';
import type { Figures } from '../tables/figures.ts';

/** A combination whose sales of a month are far from what was forecast and from the year before. */
export interface Jump {
  readonly combination: Combination;
  /** Revenue in currency units. */
  readonly actual: number;
  readonly forecast: number;
  readonly yearBefore: number;
}

export interface MonthLook {
  /** The largest first. */
  readonly jumps: readonly Jump[];
  /** What had a forecast and no sale, the largest forecast first. */
  readonly unsold: readonly Jump[];
}

/** A jump is this share away from the forecast and, where there was one, from the year before. */
const FAR = 0.3;
/** What is less than this share of the month is no news. */
const SMALL = 0.002;

/**
 * Looks at the revenue of a month by combination: what is more than 30 % off its forecast and off
 * the same month a year before, and what had a forecast and no sale. Differences of less than 0.2 %
 * of the month's forecast are left out.
 * @param actual the month's sales, also where it is open
 * @param forecast the forecast of the month, before it is closed
 */
export function lookAtMonth(actual: Figures, forecast: Figures, month: Month): MonthLook {
  const t = month - actual.first;
  const at = (figures: Figures, index: number, time: number): number =>
    time < 0 || time >= figures.count
      ? 0
      : (figures.measures.revenue[index * figures.count + time] ?? 0);
  const all = actual.combinations.map((combination, index) => ({
    combination,
    actual: at(actual, index, t),
    forecast: at(forecast, index, t),
    yearBefore: at(actual, index, t - 12),
  }));
  const known = all.filter((one) => !Number.isNaN(one.forecast));
  const least = SMALL * known.reduce((sum, one) => sum + Math.abs(one.forecast), 0);
  const off = ({ actual: now, forecast: said }: Jump): number => Math.abs(now - said);
  const worthIt = known.filter((one) => off(one) > least);
  const far = (now: number, other: number): boolean =>
    other === 0 || Math.abs(now - other) > FAR * Math.abs(other);
  const bySize = (a: Jump, b: Jump): number => off(b) - off(a);
  return {
    jumps: worthIt
      .filter((one) => one.actual !== 0 && one.forecast !== 0)
      .filter((one) => far(one.actual, one.forecast) && far(one.actual, one.yearBefore))
      .sort(bySize),
    unsold: worthIt.filter((one) => one.actual === 0 && one.forecast !== 0).sort(bySize),
  };
}
