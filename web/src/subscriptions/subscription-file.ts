import { monthText, type SubscriptionTable } from '@dravex/core';
import type { Line } from '../grid/grid-file.ts';

/**
 * Movements as lines of a file, one a row with its unit; money in full.
 * @param currency of the money
 */
export function movementLines(
  { periods, lines }: Pick<SubscriptionTable, 'periods' | 'lines'>,
  currency: string,
): Line[] {
  return [
    ['Line', 'Unit', ...periods.map(({ key }) => key), 'Total'],
    ...lines.map(({ name, display, values, total }) => [
      name,
      display === 'money' ? currency : 'subscribers',
      ...values,
      total,
    ]),
  ];
}

/**
 * Cohorts as lines of a file, one a cohort: its month, its size, and how many are left in each month.
 * @param kept whether the part that is left stands in place of the count, as a fraction
 */
export function cohortLines(
  { cohorts, months }: Pick<SubscriptionTable, 'cohorts' | 'months'>,
  kept: boolean,
): Line[] {
  return [
    ['Started in', 'There before', 'Subscribers', ...months.map(monthText)],
    ...cohorts.map(({ start, before, size, active }) => [
      monthText(start),
      before ? 'yes' : 'no',
      size,
      ...active.map((value) => (value === null || !kept ? value : value / size)),
    ]),
  ];
}
