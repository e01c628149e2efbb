import { monthFrom, monthText, type MonthText } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { spreadAsTheyStand } from '../spread/divide.ts';
import { streamsIn, type Model } from './model.ts';
import type { Override } from './plan.ts';

/** A total typed over the forecast of a scope and a stretch of months. */
export interface TypedOverTotal {
  readonly scope: Scope;
  readonly from: MonthText;
  readonly to: MonthText;
  readonly measure: 'units' | 'revenue';
  /** In units, or in currency units. */
  readonly total: number;
}

/** Parts of a unit that are kept where a total or its cells are not whole. */
const FINEST = 1000;

/** What a stretch of the open forecast of a scope comes to; null where nothing is known of it. */
export function forecastTotal(
  model: Model,
  { scope, from, to, measure }: Omit<TypedOverTotal, 'total'>,
): number | null {
  const values = cellsOf(model, scope, from, to).map(({ at }) => model[measure][at] ?? Number.NaN);
  const known = values.filter((value) => !Number.isNaN(value));
  return known.length === 0 ? null : known.reduce((sum, value) => sum + value, 0);
}

/** The open cells of a scope and a stretch of months, by their places in the results. */
function cellsOf(
  model: Model,
  scope: Scope,
  from: MonthText,
  to: MonthText,
): { combination: number; month: MonthText; at: number }[] {
  const start = Math.max(model.open, monthFrom(from) - model.first);
  const end = Math.min(model.count - 1, monthFrom(to) - model.first);
  return streamsIn(model, scope).flatMap((index) =>
    Array.from({ length: Math.max(0, end - start + 1) }, (_, i) => ({
      combination: model.streams[index]?.combination.id ?? 0,
      month: monthText(model.first + start + i),
      at: index * model.count + start + i,
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
  const values = cells.map(({ at }) => model[measure][at] || 0);
  const whole = measure === 'units' && [total, ...values].every(Number.isInteger);
  const parts = measure === 'revenue' ? 10 ** model.plan.currency.minorDigits : whole ? 1 : FINEST;
  const spread = spreadAsTheyStand(
    Math.round(total * parts),
    values.map((value) => Math.round(value * parts)),
  );
  return cells.map(({ combination, month }, place) => ({
    combination,
    month,
    measure,
    value: (spread[place] ?? 0) / parts,
  }));
}
