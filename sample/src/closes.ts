/** What was forecast when each of the last twelve months was closed. */
import { monthText, type Month } from '@dravex/core';
import { combinations, type Family, type Line } from './company.ts';
import type { Random } from './random.ts';
import type { SalesLine } from './sales-lines.ts';

/** How far ahead each forecast looked. */
const AHEAD = 12;
/** How much less is known of a month for each month that it is further away. */
const SPREAD = 0.012;
/** What was always hoped for too much or too little, as a factor. */
const HOPES: Partial<Record<Family, number>> = { dispensers: 1.09, cartridges: 0.965 };
/** So many months say how fast something grows. */
const RECENT = 3;
const [SLOWEST, FASTEST] = [0.7, 1.45];

interface Sold {
  units: number;
  revenue: number;
  cost: number;
}

const keyOf = ({ channel, product, group, region }: Line): string =>
  [channel, product.code, group, region].join(',');

/** Sales by combination and month; money in cents. */
function sums(lines: Iterable<SalesLine>): Map<string, Sold> {
  const all = new Map<string, Sold>();
  for (const { line, date, quantity, netAmount, cost } of lines) {
    const key = `${keyOf(line)} ${date.slice(0, 7)}`;
    const sum = all.get(key) ?? { units: 0, revenue: 0, cost: 0 };
    sum.units += quantity;
    sum.revenue += netAmount;
    sum.cost += cost;
    all.set(key, sum);
  }
  return all;
}

/**
 * The forecasts of Ondwell's planner, one file a close: last year's month times the growth of the
 * last three months, less sure the further away, with its hopes.
 * @param first the first month that was closed with a forecast; the last one is `last`
 * @returns the rows of each file, by the month that was closed
 */
export function keptForecasts(
  lines: readonly SalesLine[],
  first: Month,
  last: Month,
  random: Random,
): Map<string, string[]> {
  const sold = sums(lines);
  const at = (line: Line, month: Month): Sold =>
    sold.get(`${keyOf(line)} ${monthText(month)}`) ?? { units: 0, revenue: 0, cost: 0 };
  const recent = (line: Line, closed: Month): number =>
    Array.from({ length: RECENT }, (_, back) => at(line, closed - 1 - back).units).reduce(
      (sum, units) => sum + units,
      0,
    );
  const files = new Map<string, string[]>();
  for (let closed = first; closed <= last; closed += 1) {
    const rows = ['month,channel,product,customer group,region,units,revenue,cost'];
    for (const line of combinations()) {
      const now = recent(line, closed);
      if (now <= 0) continue;
      const before = recent(line, closed - 12);
      const growth = before > 0 ? Math.min(FASTEST, Math.max(SLOWEST, now / before)) : 1;
      const hope = HOPES[line.product.family] ?? 1;
      for (let ahead = 0; ahead < AHEAD; ahead += 1) {
        const month = closed + ahead;
        const yearAgo = at(line, month - 12);
        const base = yearAgo.units > 0 ? yearAgo.units * growth : now / RECENT;
        const units = Math.round(base * hope * random.around(0.03 + SPREAD * ahead));
        const price = at(line, closed - 1);
        if (units <= 0 || price.units <= 0) continue;
        const money = (sum: number): string => ((units * sum) / price.units / 100).toFixed(2);
        rows.push(
          [monthText(month), keyOf(line), units, money(price.revenue), money(price.cost)].join(','),
        );
      }
    }
    files.set(monthText(closed), rows);
  }
  return files;
}
