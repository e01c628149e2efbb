import type { SubscriberCohorts } from '@dravex/contract';
import { monthFrom, ratio, type Month, type SubscriptionTable } from '@dravex/core';

/** A cohort as it is shown: how many there are, from the month of its start or in the months of a span. */
export interface CohortRow {
  readonly start: Month;
  readonly size: number;
  /** Null before it started, and beyond what is known. */
  readonly cells: readonly (number | null)[];
  /** The place of the first cell that is forecast and not counted. */
  readonly forecastFrom: number;
  /** That it was there before subscriptions are calculated by cohort. */
  readonly before: boolean;
  /** What it lost, where that is more than its elders did. */
  readonly worse: { readonly lost: number; readonly expected: number } | null;
}

/**
 * Cohorts by age: as their records have them through the last closed month, and as they are forecast
 * after it. A cohort of the forecast goes on one of the records where its age is known.
 * @param ages how many months after the start are shown at most
 */
export function byAge(
  records: Pick<SubscriberCohorts, 'cohorts'> | undefined,
  forecast: Pick<SubscriptionTable, 'cohorts' | 'months'> | undefined,
  ages: number,
): CohortRow[] {
  const counted = new Map(
    (records?.cohorts ?? []).map((cohort) => [monthFrom(cohort.start), cohort]),
  );
  const ahead = new Map((forecast?.cohorts ?? []).map((cohort) => [cohort.start, cohort]));
  const [first = 0] = forecast?.months ?? [];
  const starts = [...new Set([...counted.keys(), ...ahead.keys()])].sort((a, b) => a - b);
  return starts.map((start): CohortRow => {
    const known = counted.get(start);
    const planned = ahead.get(start);
    const cells: (number | null)[] = [...(known?.active ?? [])];
    const forecastFrom = cells.length;
    planned?.active.forEach((value, at) => {
      const age = first + at - start;
      if (age >= forecastFrom && value !== null) cells[age] = value;
    });
    return {
      start,
      size: known?.active[0] ?? planned?.size ?? 0,
      cells: Array.from({ length: ages + 1 }, (_, age) => cells[age] ?? null),
      forecastFrom,
      before: known === undefined && planned?.before === true,
      worse: known?.worse ?? null,
    };
  });
}

/** Cohorts of a forecast in the months of its span. */
export function byMonth({ cohorts }: Pick<SubscriptionTable, 'cohorts'>): CohortRow[] {
  return cohorts.map(({ start, size, before, active }) => ({
    start,
    size,
    cells: active,
    forecastFrom: 0,
    before,
    worse: null,
  }));
}

/** The part of a cohort that is there; null where nothing is known. */
export const keptOf = ({ size }: Pick<CohortRow, 'size'>, count: number | null): number | null =>
  count === null ? null : ratio(count, size);
