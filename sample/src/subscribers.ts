/** Subscribers of the monthly refill plan by cohort; the trial offer of March 2026 brought people who leave. */
import { monthFrom, type Month } from '@dravex/core';
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
