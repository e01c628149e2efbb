/**
 * Back from the costs: the revenue that covers other costs and leaves a wanted profit, the mix held.
 * Source: calculations, *Statements*: (fixed + profit) / contribution ratio.
 */
import type { BudgetCell } from './cell.ts';

/** What has to be earned beside the cost of sales; money in minor units. */
export interface WantedProfit {
  /** Costs that do not follow sales. */
  readonly fixed: number;
  /** What is to be left of the margin after them; less than nothing is a loss that is accepted. */
  readonly profit: number;
}

/** What some cells earn, and what they would have to; money in minor units. */
export interface RevenueNeeded {
  readonly revenue: number;
  readonly cost: number;
  /** Margin over revenue, as a fraction: what a euro more of revenue contributes. */
  readonly ratio: number;
  readonly needed: number;
}

/** Why no revenue can be said. */
export type NotNeeded =
  /** Nothing is planned. */
  | 'no-revenue'
  /** Of some of the cells no cost is planned: what they contribute is not known. */
  | 'no-cost'
  /** Cost of sales is as much as revenue, or more: no revenue covers anything else. */
  | 'no-margin'
  /** Margin needed is below zero. */
  | 'no-need';

/**
 * The revenue that cells need. Spread over them with prices and unit costs kept, so that the mix is
 * held, it leaves the profit within the rounding of each cell's units.
 */
export function revenueNeeded(
  cells: readonly BudgetCell[],
  { fixed, profit }: WantedProfit,
): RevenueNeeded | NotNeeded {
  const sold = cells.filter(({ revenue, units }) => revenue !== 0 || units !== 0);
  const revenue = sold.reduce((sum, cell) => sum + cell.revenue, 0);
  if (revenue <= 0) return 'no-revenue';
  if (sold.some((cell) => cell.cost === null)) return 'no-cost';
  const cost = sold.reduce((sum, cell) => sum + (cell.cost ?? 0), 0);
  if (cost >= revenue) return 'no-margin';
  if (fixed + profit <= 0) return 'no-need';
  const ratio = (revenue - cost) / revenue;
  return { revenue, cost, ratio, needed: Math.round((fixed + profit) / ratio) };
}
