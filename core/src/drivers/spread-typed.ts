import { monthFrom, type MonthText } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { Model } from '../forecast/model.ts';
import { spreadAsTheyStand } from '../spread/divide.ts';
import type { TypedValue } from './typing.ts';

/** A total typed over the streams of a scope in one month. */
export interface TypedTotal {
  readonly scope: Scope;
  readonly month: MonthText;
  readonly total: number;
}

/** Decimals that are kept when a total or its cells are not whole. */
const FINEST = 1000;

/**
 * Spreads a typed total of a counted driver over the streams it holds, as they stand, so that they
 * add up to it: in whole units when the total and its cells are whole, else in thousandths.
 * A missing cell counts as 0.
 * @returns one typed value a stream, at the stream's own scope
 */
export function spreadTyped(model: Model, driver: string, typed: TypedTotal): TypedValue[] {
  const t = monthFrom(typed.month) - model.first;
  const below = model.streams.flatMap(({ combination, codes, inputs }) => {
    const position = codes.indexOf(driver);
    if (position < 0 || !model.tree.covers(typed.scope, combination.members)) return [];
    return [{ scope: combination.members, value: inputs[position]?.values[t] || 0 }];
  });
  const whole = [typed.total, ...below.map(({ value }) => value)].every(Number.isInteger);
  const parts = whole ? 1 : FINEST;
  const cells = below.map(({ value }) => Math.round(value * parts));
  const spread = spreadAsTheyStand(Math.round(typed.total * parts), cells);
  return below.flatMap(({ scope }, index) => {
    const value = (spread[index] ?? 0) / parts;
    return spread[index] === cells[index] ? [] : [{ scope, month: typed.month, value }];
  });
}
