/** The forecast line with the forecasts that were kept at closes in place of actuals. */
import { monthFrom, type MonthText } from '../calendar/month.ts';
import type { StablePlan } from '../forecast/plan.ts';
import { RESULTS } from '../measures/catalogue.ts';
import { rowsOfCells, type KeptCells } from '../sources/kept-cells.ts';
import { figuresFromRows, type Figures } from '../tables/figures.ts';

/** The forecast of closed months as it stood when each of them was closed. */
export interface KeptMonths {
  /** The months whose forecast was kept. */
  readonly months: readonly MonthText[];
  readonly cells: KeptCells;
}

/**
 * The forecast line with what was kept of closed months in place of their actuals. Months of which
 * nothing was kept stay actual. Source: calculations, *Close and roll*.
 */
export function withKept(line: Figures, plan: StablePlan, kept: KeptMonths | undefined): Figures {
  const { first, count } = line;
  const closed = monthFrom(plan.calendar.closedThrough);
  const months = new Set(
    (kept?.months ?? []).map(monthFrom).filter((month) => month >= first && month <= closed),
  );
  if (!kept || months.size === 0) return line;
  const then = figuresFromRows(plan, rowsOfCells(kept.cells));
  const measures = { ...line.measures };
  for (const code of RESULTS) {
    const series = line.measures[code].slice();
    for (let start = 0; start < series.length; start += count) {
      for (const month of months) {
        const at = start + month - first;
        series[at] = then.measures[code][at] ?? 0;
      }
    }
    measures[code] = series;
  }
  const { weeks } = line;
  return {
    ...line,
    measures,
    kept: months,
    // A forecast has no lines: its months are divided by their days.
    weeks: weeks && {
      ...weeks,
      of: (id, month) => (months.has(month) ? undefined : weeks.of(id, month)),
    },
  };
}
