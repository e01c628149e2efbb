import type { Month, SubscriptionTable } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { longMonth } from '../format/periods.ts';

/**
 * What new subscribers and churn of now lead to, in a sentence.
 * @param from the month from which it is counted
 */
export function plateauInWords(
  leadsTo: SubscriptionTable['leadsTo'],
  from: Month,
  formats: Pick<Formats, 'show'>,
): string {
  if (!leadsTo) return '';
  const { gain, churn, plateau, monthsToFraction } = leadsTo;
  const count = (value: number): string => formats.show(value, 'units', 1);
  const at = churn === null ? '' : ` and ${formats.show(churn, 'percent')} churn`;
  const now = `At ${count(gain)} new a month${at}`;
  if (plateau === null) return `${now}, nobody leaves: there is no level at which it ends.`;
  const way =
    monthsToFraction === null
      ? ''
      : `; from nothing, nine tenths of it would be reached by ${longMonth(from + monthsToFraction - 1)}`;
  return `${now}, subscribers level off at ${count(plateau)}${way}.`;
}
