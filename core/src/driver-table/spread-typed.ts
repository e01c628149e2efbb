import { monthFrom, type MonthText } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { TypedValue } from '../drivers/typing.ts';
import { seriesOfDriver, type Model } from '../forecast/run.ts';
import { streamsIn } from '../forecast/structure.ts';
import { spreadInParts } from '../spread/spread-in-parts.ts';
import { streamsOfDriver } from './rolled.ts';

/** A total typed over the streams of a scope in one month. */
export interface TypedTotal {
  readonly scope: Scope;
  readonly month: MonthText;
  readonly total: number;
}

/**
 * Spreads a typed total of a driver that adds up over the streams below, as they stand, so that they
 * add up to it: in whole units when the total and its cells are whole, else in thousandths. A
 * missing cell counts as 0.
 * @returns one typed value a stream that changes, at the stream's own scope
 */
export function spreadTyped(model: Model, driver: string, typed: TypedTotal): TypedValue[] {
  const t = monthFrom(typed.month) - model.first;
  const shown = new Set(streamsOfDriver(model, driver));
  const below = streamsIn(model, typed.scope)
    .filter((index) => shown.has(index))
    .map((index) => ({
      scope: model.streams[index]?.combination.members ?? [],
      value: seriesOfDriver(model, index, driver)?.values[t] || 0,
    }));
  const spread = spreadInParts(
    typed.total,
    below.map(({ value }) => value),
  );
  return below.flatMap(({ scope, value: before }, index) => {
    const value = spread[index] ?? 0;
    return value === before ? [] : [{ scope, month: typed.month, value }];
  });
}
