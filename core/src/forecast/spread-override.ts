import { monthFrom, monthText, type MonthText } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { ForecastResult } from '../measures/catalogue.ts';
import { spreadInParts } from '../spread/spread-in-parts.ts';
import type { Override } from './plan.ts';
import type { Model } from './run.ts';
import { streamsIn } from './structure.ts';

/** A total typed over the forecast of a scope and a stretch of months. */
export interface TypedOverTotal {
  readonly scope: Scope;
  readonly from: MonthText;
  readonly to: MonthText;
  readonly measure: ForecastResult;
  /** In units, or in currency units. */
  readonly total: number;
}

/** What a stretch of the open forecast of a scope comes to; null where nothing is known of it. */
export function forecastTotal(
  model: Model,
  { scope, from, to, measure }: Omit<TypedOverTotal, 'total'>,
): number | null {
  const values = cellsOf(model, scope, from, to).map(valueIn(model, measure));
  const valuesThere = values.filter((value) => !Number.isNaN(value));
  return valuesThere.length === 0 ? null : valuesThere.reduce((sum, value) => sum + value, 0);
}

interface Cell {
  readonly combination: number;
  readonly month: MonthText;
  readonly index: number;
  readonly t: number;
}

const valueIn =
  (model: Model, measure: ForecastResult) =>
  ({ index, t }: Cell): number =>
    model.results[measure][index]?.[t] ?? Number.NaN;

/** The open cells of a scope and a stretch of months, by their places in the results. */
function cellsOf(model: Model, scope: Scope, from: MonthText, to: MonthText): Cell[] {
  const start = Math.max(model.open, monthFrom(from) - model.first);
  const end = Math.min(model.count - 1, monthFrom(to) - model.first);
  return streamsIn(model, scope).flatMap((index) =>
    Array.from({ length: Math.max(0, end - start + 1) }, (_, i) => ({
      combination: model.streams[index]?.combination.id ?? 0,
      month: monthText(model.first + start + i),
      index,
      t: start + i,
    })),
  );
}

/**
 * Spreads a total typed over the forecast to the cells below it, as they stand, so that they add up
 * to it: revenue in whole minor units, units in whole ones where total and cells are whole, else in
 * thousandths. Every cell of the stretch is typed over: unrounded ones would not add up. A missing
 * cell counts as 0.
 * @returns one override a cell, without who and why; none where no stream lies there
 */
export function spreadOverride(
  model: Model,
  { scope, from, to, measure, total }: TypedOverTotal,
): Omit<Override, 'by' | 'why'>[] {
  const cells = cellsOf(model, scope, from, to);
  if (cells.length === 0) return [];
  const values = cells.map(valueIn(model, measure)).map((value) => value || 0);
  const parts = measure === 'revenue' ? 10 ** model.plan.currency.minorDigits : undefined;
  const spread = spreadInParts(total, values, parts);
  return cells.map(({ combination, month }, place) => ({
    combination,
    month,
    measure,
    value: spread[place] ?? 0,
  }));
}
