import type { WorthOfOne } from '@dravex/core';
import { DASH, type Formats } from '../format/numbers.ts';

/** A figure of what a subscriber is worth, with how it comes about. */
export interface WorthLine {
  readonly name: string;
  readonly value: string;
  readonly how: string;
}

/** What a new subscriber is worth, figure by figure, each with the numbers that it is made of. */
export function worthLines(
  { price, margin, lifetime, lifetimeValue, acquisitionCost, monthsToPayBack }: WorthOfOne,
  { show }: Pick<Formats, 'show'>,
): WorthLine[] {
  const money = (value: number | null): string => show(value, 'price');
  const months = (value: number | null): string =>
    value === null ? DASH : `${show(Math.round(value * 10) / 10, 'units', 1)} months`;
  return [
    { name: 'Price a month', value: money(price), how: 'recurring revenue / active subscribers' },
    {
      name: 'Gross margin',
      value: show(margin, 'percent'),
      how: '(revenue - cost of sales) / revenue of the last month',
    },
    {
      name: 'Lifetime',
      value: months(lifetime),
      how: lifetime === null ? 'nobody leaves' : 'months that one stays on average, by churn',
    },
    {
      name: 'Lifetime value',
      value: money(lifetimeValue),
      how: `price ${money(price)} x margin ${show(margin, 'percent')} x ${months(lifetime)}`,
    },
    {
      name: 'Acquisition cost',
      value: money(acquisitionCost),
      how:
        acquisitionCost === null
          ? 'nothing is spent on sources'
          : 'spent on all sources / new subscribers of the period',
    },
    {
      name: 'Paid back after',
      value: months(monthsToPayBack),
      how: `acquisition cost ${money(acquisitionCost)} / (price ${money(price)} x margin ${show(margin, 'percent')})`,
    },
  ];
}
