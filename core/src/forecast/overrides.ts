/** Forecast values typed over the computed ones: applied, and spread below a total. */
import { monthFrom, type Month } from '../calendar/month.ts';
import type { Override } from './plan.ts';

/** What is typed over the results of one month of a stream. */
export interface TypedOver {
  readonly units?: Override | undefined;
  readonly revenue?: Override | undefined;
}
/** What is typed over a stream, by month counted from the plan's first. */
export type OverridesOf = ReadonlyMap<number, TypedOver>;

/** Overrides by stream and month. Those of closed months and of combinations without a stream rest. */
export function overridesByStream(
  overrides: readonly Override[],
  placeOf: ReadonlyMap<number, number>,
  { first, count, open }: { readonly first: Month; readonly count: number; readonly open: number },
): Map<number, OverridesOf> {
  const found = new Map<number, Map<number, TypedOver>>();
  for (const override of overrides) {
    const place = placeOf.get(override.combination);
    const t = monthFrom(override.month) - first;
    if (place === undefined || t < open || t >= count) continue;
    const own = found.get(place) ?? new Map<number, TypedOver>();
    found.set(place, own.set(t, { ...own.get(t), [override.measure]: override }));
  }
  return found;
}

/**
 * Puts what is typed over one month in place of what was computed there. Units that are typed take
 * revenue along at the computed price; revenue that is typed leaves units as they are.
 * @param at the place in the results
 */
export function applyOverride(
  model: {
    readonly units: Float64Array;
    readonly revenue: Float64Array;
    readonly instead: Map<number, { readonly units: number; readonly revenue: number }>;
  },
  at: number,
  typed: TypedOver,
): void {
  const units = model.units[at] ?? Number.NaN;
  const revenue = model.revenue[at] ?? Number.NaN;
  model.instead.set(at, { units, revenue });
  if (typed.units) {
    const price = revenue / units;
    model.units[at] = typed.units.value;
    if (Number.isFinite(price)) model.revenue[at] = typed.units.value * price;
  }
  if (typed.revenue) model.revenue[at] = typed.revenue.value;
}
