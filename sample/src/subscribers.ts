/** Subscribers of the monthly refill plan by cohort; the trial offer of March 2026 brought people who leave. */
import { monthFrom, monthText, type Month } from '@dravex/core';
import { CALENDAR, type Line } from './company.ts';

const START = monthFrom(CALENDAR.first);
const TRIAL_OFFER = monthFrom('2026-03');
const CHURN = 0.031;
const TRIAL_CHURN = 0.16;

/** New subscribers of a month as a share of the opening base. */
export function startersIn(line: Line, month: Month): number {
  const usual = line.base * 0.046 * 1.006 ** (month - START);
  return month === TRIAL_OFFER ? usual * 2.6 : usual;
}

export interface CohortMonth {
  /** The month they started, or null for those who were there before the history. */
  readonly cohort: Month | null;
  readonly active: number;
}

/** Active subscribers of a month, cohort by cohort. */
export function cohortsIn(line: Line, month: Month): CohortMonth[] {
  const opening = { cohort: null, active: line.base * (1 - CHURN) ** (month - START + 1) };
  const cohorts: CohortMonth[] = [opening];
  for (let start = START; start <= month; start += 1) {
    const churn = start === TRIAL_OFFER ? TRIAL_CHURN : CHURN;
    cohorts.push({
      cohort: start,
      active: startersIn(line, start) * (1 - churn) ** (month - start),
    });
  }
  return cohorts.map(({ cohort, active }) => ({ cohort, active: Math.round(active) }));
}

/** Active subscribers of a month in all. */
export function activeIn(line: Line, month: Month): number {
  return cohortsIn(line, month).reduce((sum, { active }) => sum + active, 0);
}

/** Who is there at the end of a month, by age: who was there before the history started the month before it. */
export function byAgeIn(line: Line, month: Month): number[] {
  const ages: number[] = [];
  for (const { cohort, active } of cohortsIn(line, month)) {
    ages[month - (cohort ?? START - 1)] = active;
  }
  return ages;
}

/** A day of a month that comes again for the same subscriber: they are spread over it evenly. */
const dayIn = (month: Month, n: number): string =>
  `${monthText(month)}-${String(1 + ((n * 11) % 27)).padStart(2, '0')}`;

/**
 * Subscribers one by one, as the shop's records have them: who was there before the history as a
 * cohort of the month before it, which is when they were taken over from the old system.
 */
export function subscriberRecords(lines: readonly Line[]): string[] {
  const closed = monthFrom(CALENDAR.closedThrough);
  const rows = ['subscriber,channel,product,customer group,region,start,end'];
  for (const line of lines) {
    const { channel, product, group, region } = line;
    const activeOf = (start: Month, month: Month): number => {
      if (month < START) return Math.round(line.base);
      const cohort = start < START ? null : start;
      return cohortsIn(line, month).find((one) => one.cohort === cohort)?.active ?? 0;
    };
    for (let start = START - 1; start <= closed; start += 1) {
      let there = activeOf(start, start);
      const first = there;
      const ends = new Map<number, Month>();
      for (let month = start + 1; month <= closed; month += 1) {
        const left = activeOf(start, month);
        // Who leaves is told by chance that comes out the same: every seventh of those there.
        for (; there > left; there -= 1) {
          let n = (there * 7) % first;
          while (ends.has(n)) n = (n + 1) % first;
          ends.set(n, month);
        }
      }
      const place = region.slice(0, 2).toUpperCase();
      for (let n = 0; n < first; n += 1) {
        const code = `${place}${monthText(start).replace('-', '')}-${String(n + 1).padStart(4, '0')}`;
        const end = ends.get(n);
        const ended = end === undefined ? '' : dayIn(end, n + 3);
        rows.push([code, channel, product.code, group, region, dayIn(start, n), ended].join(','));
      }
    }
  }
  return rows;
}
