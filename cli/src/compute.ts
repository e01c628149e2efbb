import type { PlanFile } from '@dravex/contract';
import {
  compile,
  evaluate,
  forecastFigures,
  monthText,
  RESULTS,
  type Figures,
  type Plan,
  valueOrNull,
} from '@dravex/core';

/** A row of what a plan computes to: one combination in one month. */
export interface ComputedRow {
  readonly month: string;
  /** The codes of its members, one a dimension. */
  readonly members: readonly string[];
  /** Whether the month is closed and the numbers are actuals. */
  readonly closed: boolean;
  /** Null where an input is missing. */
  readonly units: number | null;
  readonly revenue: number | null;
  /** Null also where nothing is assumed that it follows from. */
  readonly cost: number | null;
}

/**
 * Computes a plan file: actuals of closed months and the forecast of open ones, in full precision.
 * Combinations and months without any number are left out.
 */
export function computeRows({ plan }: Pick<PlanFile, 'plan'>): ComputedRow[] {
  const model = evaluate(compile(plan as Plan));
  const figures: Figures = forecastFigures(model);
  const codes = new Map(
    plan.dimensions.flatMap(({ members }) => members.map(({ id, code }) => [id, code])),
  );
  const rows: ComputedRow[] = [];
  figures.combinations.forEach(({ members }, index) => {
    for (let t = 0; t < figures.count; t += 1) {
      const at = index * figures.count + t;
      const units = figures.measures.units[at] ?? 0;
      const revenue = figures.measures.revenue[at] ?? 0;
      if (units === 0 && revenue === 0) continue;
      rows.push({
        month: monthText(figures.first + t),
        members: members.map((id) => codes.get(id) ?? ''),
        closed: t < model.open,
        units: valueOrNull(units),
        revenue: valueOrNull(revenue),
        cost: valueOrNull(figures.measures.cost[at] ?? Number.NaN),
      });
    }
  });
  return rows;
}

/** Computed rows as a file: CSV by RFC 4180, or JSON. Codes need no quotation marks. */
export function writeRows(
  { plan }: Pick<PlanFile, 'plan'>,
  rows: readonly ComputedRow[],
  format: 'csv' | 'json',
): string {
  const dimensions = plan.dimensions.map(({ code }) => code);
  if (format === 'json') return `${JSON.stringify({ dimensions, rows })}\n`;
  const lines = rows.map(({ month, members, closed, units, revenue, cost }) =>
    [
      month,
      ...members,
      closed ? 'actual' : 'forecast',
      ...[units, revenue, cost].map((value) => value ?? ''),
    ].join(','),
  );
  return `${[['month', ...dimensions, 'state', ...RESULTS].join(','), ...lines].join('\r\n')}\r\n`;
}
