import type { Span } from '../calendar/period.ts';
import type { Figures } from '../tables/figures.ts';
import { rounded, UNIT_PARTS, type BudgetCell } from './cell.ts';

/** What keeping made: the rows, and how many cells could not be kept because an input is missing. */
export interface Kept {
  readonly rows: BudgetCell[];
  readonly missing: number;
}

/**
 * Rounds a forecast for keeping: each combination, month and measure on its own, to the cent or
 * the unit's smallest part. Totals of a version are sums of these cells.
 * @param minorDigits of the currency, 2 for cents
 */
export function keepForecast(figures: Figures, span: Span, minorDigits: number): Kept {
  const rows: BudgetCell[] = [];
  const minor = 10 ** minorDigits;
  let missing = 0;
  figures.combinations.forEach(({ id }, index) => {
    for (let month = span.from; month <= span.to; month += 1) {
      const t = month - figures.first;
      if (t < 0 || t >= figures.count) continue;
      const at = index * figures.count + t;
      const units = figures.measures.units[at] ?? 0;
      const revenue = figures.measures.revenue[at] ?? 0;
      const cost = figures.measures.cost[at] ?? Number.NaN;
      if (Number.isNaN(units) || Number.isNaN(revenue)) {
        missing += 1;
        continue;
      }
      if (units === 0 && revenue === 0) continue;
      rows.push({
        combination: id,
        month,
        units: rounded(units * UNIT_PARTS) / UNIT_PARTS,
        revenue: rounded(revenue * minor),
        cost: Number.isNaN(cost) ? null : rounded(cost * minor),
      });
    }
  });
  return { rows, missing };
}
