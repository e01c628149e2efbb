import type { WorthOfOne } from '@dravex/core';
import { DASH, type Formats } from '../format/numbers.ts';
import { TEXTS } from './texts.ts';

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
    value === null ? DASH : TEXTS.months(show(Math.round(value * 10) / 10, 'units', 1));
  return [
    { name: TEXTS.priceAMonth, value: money(price), how: TEXTS.recurringRevenueActiveSubscribers },
    {
      name: TEXTS.grossMargin,
      value: show(margin, 'percent'),
      how: TEXTS.revenueCostOfSalesRevenue,
    },
    {
      name: TEXTS.lifetime,
      value: months(lifetime),
      how: lifetime === null ? TEXTS.nobodyLeaves : TEXTS.monthsThatOneStaysOn,
    },
    {
      name: TEXTS.lifetimeValue,
      value: money(lifetimeValue),
      how: TEXTS.priceXMarginX(money(price), show(margin, 'percent'), months(lifetime)),
    },
    {
      name: TEXTS.acquisitionCost,
      value: money(acquisitionCost),
      how: acquisitionCost === null ? TEXTS.nothingIsSpentOnSources : TEXTS.spentOnAllSourcesNew,
    },
    {
      name: TEXTS.paidBackAfter,
      value: months(monthsToPayBack),
      how: TEXTS.acquisitionCostPriceXMargin(
        money(acquisitionCost),
        money(price),
        show(margin, 'percent'),
      ),
    },
  ];
}
