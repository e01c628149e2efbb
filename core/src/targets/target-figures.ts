import { fiscalYearSpan } from '../calendar/period.ts';
import type { StablePlan } from '../forecast/plan.ts';
import { RESULTS } from '../measures/catalogue.ts';
import type { Objective } from '../sources/source.ts';
import type { Figures } from '../tables/figures.ts';

/**
 * An objective by combination and month: each cell has the part of it that the same cell had of the
 * revenue of the year before, so months follow the season and combinations what was sold of them.
 * All months of the year are missing where nothing was sold the year before; months outside the
 * year are 0. A target has no units and no cost. Source: calculations, *Targets* (season).
 * @param sold one line of actual and forecast, from which the year before is taken
 */
export function targetFigures(
  { calendar }: Pick<StablePlan, 'calendar'>,
  sold: Figures,
  { fiscalYear, objective }: Objective,
): Figures {
  const year = fiscalYearSpan(fiscalYear, calendar.fiscalStart);
  const from = Math.max(0, year.from - sold.first);
  const to = Math.min(sold.count - 1, year.to - sold.first);
  const before = (index: number, t: number): number =>
    t < 12 ? 0 : sold.measures.revenue[index * sold.count + t - 12] || 0;

  // All twelve months count, also where the last ones of the year are beyond the plan's.
  const lastBefore = Math.min(sold.count + 11, year.to - sold.first);
  let whole = 0;
  for (let index = 0; index < sold.combinations.length; index += 1) {
    for (let t = year.from - sold.first; t <= lastBefore; t += 1) whole += before(index, t);
  }
  const each = whole > 0 ? objective / whole : Number.NaN;
  const measures = { ...sold.measures };
  for (const code of RESULTS) {
    const values = new Float64Array(sold.measures[code].length);
    for (let index = 0; index < sold.combinations.length; index += 1) {
      for (let t = from; t <= to; t += 1) {
        const value = code === 'revenue' ? before(index, t) * each : Number.NaN;
        values[index * sold.count + t] = value;
      }
    }
    measures[code] = values;
  }
  return { ...sold, measures };
}
