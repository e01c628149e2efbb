import { monthText, type Month, type SubscriptionTable } from '@dravex/core';
import { WORDS } from '../format/words.ts';
import type { Line } from '../grid/grid-file.ts';
import { keptOf, type CohortRow } from './cohort-row.ts';
import { TEXTS } from './texts.ts';

/**
 * Movements as lines of a file, one a row with its unit; money in full.
 * @param currency of the money
 */
export function movementLines(
  { periods, lines }: Pick<SubscriptionTable, 'periods' | 'lines'>,
  currency: string,
): Line[] {
  return [
    [TEXTS.line, WORDS.unit, ...periods.map(({ key }) => key), WORDS.total],
    ...lines.map(({ name, display, values, total }) => [
      name,
      display === 'money' ? currency : 'subscribers',
      ...values,
      total,
    ]),
  ];
}

/**
 * Sources of new subscribers as lines of a file: how many, what they bring, what they cost.
 * @param currency of the money
 */
export function sourceFileLines(
  { periods, sources }: Pick<SubscriptionTable, 'periods' | 'sources'>,
  currency: string,
): Line[] {
  const KINDS = [
    { key: 'starters', unit: 'subscribers' },
    { key: 'revenue', unit: currency },
    { key: 'cost', unit: currency },
    { key: 'costOfOne', unit: currency },
  ] as const;
  const NAMES = {
    starters: WORDS.new,
    revenue: WORDS.revenue,
    cost: TEXTS.spent,
    costOfOne: TEXTS.spentForOne,
  };
  return [
    [TEXTS.source, TEXTS.line, WORDS.unit, ...periods.map(({ key }) => key), WORDS.total],
    ...sources.flatMap((source) =>
      KINDS.map(({ key, unit }) => [
        ...[source.name, NAMES[key], unit],
        ...source[key].values,
        source[key].total,
      ]),
    ),
  ];
}

/**
 * Cohorts as lines of a file, one a cohort: its month, its size, and how many are left at each age.
 * @param ages the headings of the ages
 * @param kept whether the part that is left stands in place of the count, as a fraction
 * @param closedThrough the last month that is counted; what is later is forecast
 */
export function cohortLines(
  rows: readonly CohortRow[],
  ages: readonly string[],
  kept: boolean,
  closedThrough: Month,
): Line[] {
  return [
    [TEXTS.startedIn, TEXTS.countedThrough, TEXTS.subscribers, ...ages],
    ...rows.map((row) => [
      monthText(row.start),
      row.forecastFrom > 0 ? monthText(closedThrough) : 'forecast',
      row.size,
      ...row.cells.map((value) => (kept ? keptOf(row, value) : value)),
    ]),
  ];
}
