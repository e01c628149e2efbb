import type { PlanWarning, WarningKind } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';

/** What kinds of things are to be checked in a plan, as headings. */
export const WARNING_NAMES: Readonly<Record<WarningKind, string>> = {
  repeats: 'Repeats last year',
  growth: 'Unusual growth',
  price: 'Unusual price',
  margin: 'Unusual margin',
  sold: 'Less than is sold already',
};

/** What is to be checked in a line, as a sentence with both numbers. */
export function warningInWords({ kind, planned, beside }: PlanWarning, formats: Formats): string {
  const percent = (value: number): string => formats.signed(value, 'percent');
  switch (kind) {
    case 'repeats':
      return `${formats.inWords(planned)} is planned, nearly month by month what last year had`;
    case 'growth':
      return `${percent(planned)} on last year is planned; the last twelve months grew ${percent(beside)}, and no twelve months grew as much`;
    case 'price': {
      const price = (value: number): string =>
        `${formats.show(value, 'price')} ${formats.currency}`;
      return `${price(planned)} a unit is planned; the nearest price of any month was ${price(beside)}`;
    }
    case 'margin':
      return `${formats.show(planned, 'percent')} of revenue is planned; the nearest of any month was ${formats.show(beside, 'percent')}`;
    case 'sold':
      return `${formats.inWords(planned)} is planned in all of its months; ${formats.inWords(beside)} is sold already`;
  }
}
