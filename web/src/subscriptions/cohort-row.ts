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

type Counted = SubscriberCohorts['cohorts'][number];
type Planned = SubscriptionTable['cohorts'][number];

/** Whether a forecast goes on where the records end: it begins with as many as they have. */
const goesOn = (known: Counted, planned: Planned): boolean =>
  !planned.before || Math.abs((known.active.at(-1) ?? 0) - planned.size) <= 1;

/**
 * Cohorts by age, oldest first: as their records have them through the last closed month, and as they
 * are forecast after it. An opening base that is one cohort, whatever its ages, is a row of its own.
 * @param ages how many months after the start are shown at most
 * @param shown how many there are, or what they bring, of which records say nothing
 */
export function byAge(
  records: Pick<SubscriberCohorts, 'cohorts'> | undefined,
  forecast: Pick<SubscriptionTable, 'cohorts' | 'months'> | undefined,
  ages: number,
  shown: 'active' | 'revenue' = 'active',
): CohortRow[] {
  const [first = 0] = forecast?.months ?? [];
  const row = (start: Month, known?: Counted, planned?: Planned): CohortRow => {
    const there = known?.active ?? [];
    const forecastFrom = there.length;
    const cells: (number | null)[] = there.map((count) => (shown === 'active' ? count : null));
    planned?.[shown].forEach((value, at) => {
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
  };
  const counted = new Map(
    (records?.cohorts ?? []).map((cohort) => [monthFrom(cohort.start), cohort]),
  );
  const planned = new Map((forecast?.cohorts ?? []).map((cohort) => [cohort.start, cohort]));
  const starts = [...new Set([...counted.keys(), ...planned.keys()])].sort((a, b) => a - b);
  return starts.flatMap((start) => {
    const [known, ahead] = [counted.get(start), planned.get(start)];
    return known && ahead && !goesOn(known, ahead)
      ? [row(start, known), row(start, undefined, ahead)]
      : [row(start, known, ahead)];
  });
}

/** The part of a cohort that is there; null where nothing is known. */
export const keptOf = ({ size }: Pick<CohortRow, 'size'>, count: number | null): number | null =>
  count === null ? null : ratio(count, size);
