import type { LeadsTo } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { longMonth } from '../format/periods.ts';

/** What new subscribers and churn of now lead to, in a sentence. */
export function plateauInWords(leadsTo: LeadsTo | null, formats: Pick<Formats, 'show'>): string {
  if (!leadsTo) return '';
  const { gain, churn, plateau, near } = leadsTo;
  const count = (value: number): string => formats.show(value, 'units', 1);
  const at = churn === null ? '' : ` and ${formats.show(churn, 'percent')} churn`;
  const now = `At ${count(gain)} new a month${at}`;
  if (plateau === null) return `${now}, nobody leaves: there is no level at which it ends.`;
  const month = near ? longMonth(near.month) : '';
  const way = {
    below: `; nine tenths of it are reached in ${month}`,
    above: `; they come down to within a tenth of it in ${month}`,
    there: ', and are within a tenth of it already',
    never: '',
  }[near?.from ?? 'never'];
  return `${now}, subscribers level off at ${count(plateau)}${way}.`;
}
