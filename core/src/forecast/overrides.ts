/** Forecast values typed over the computed ones. */
import { monthFrom } from '../calendar/month.ts';
import type { StreamResults } from './methods/method.ts';
import type { Override, OverrideCell, OverrideChange } from './plan.ts';
import type { Structure } from './structure.ts';

/** What is typed over the results of one month of a stream. */
export interface TypedOver {
  readonly units?: Override | undefined;
  readonly revenue?: Override | undefined;
}
/** What is typed over a stream, by month counted from the plan's first. */
export type OverridesOf = ReadonlyMap<number, TypedOver>;

/** What was computed where something is typed over it. */
export interface BeforeOverride {
  readonly units: number;
  readonly revenue: number;
}

/** Overrides by stream and month. Those of closed months and of combinations without a stream rest. */
export function overridesByStream(
  overrides: readonly Override[],
  { placeOf, first, count, open }: Pick<Structure, 'placeOf' | 'first' | 'count' | 'open'>,
): Map<number, OverridesOf> {
  const typedByStream = new Map<number, Map<number, TypedOver>>();
  for (const override of overrides) {
    const place = placeOf.get(override.combination);
    const t = monthFrom(override.month) - first;
    if (place === undefined || t < open || t >= count) continue;
    const typedOfStream = typedByStream.get(place) ?? new Map<number, TypedOver>();
    typedByStream.set(
      place,
      typedOfStream.set(t, { ...typedOfStream.get(t), [override.measure]: override }),
    );
  }
  return typedByStream;
}

/** What an override lies over, as a text. */
const overrideKey = ({ combination, month, measure }: OverrideCell): string =>
  `${combination} ${month} ${measure}`;

/** Overrides after a change, in the order of combinations, months and measures. */
export function changedOverrides(
  overrides: readonly Override[],
  { put, drop }: OverrideChange,
): Override[] {
  const next = new Map(overrides.map((override) => [overrideKey(override), override]));
  for (const cell of drop) next.delete(overrideKey(cell));
  for (const override of put) next.set(overrideKey(override), override);
  return [...next.values()].sort(
    (a, b) =>
      a.combination - b.combination ||
      monthFrom(a.month) - monthFrom(b.month) ||
      a.measure.localeCompare(b.measure),
  );
}

/**
 * Puts what is typed over one month in place of what was computed there. Units that are typed take
 * revenue along at the computed price; revenue that is typed leaves units as they are.
 * @returns what was computed
 */
export function applyOverride(results: StreamResults, t: number, typed: TypedOver): BeforeOverride {
  const units = results.units[t] ?? Number.NaN;
  const revenue = results.revenue[t] ?? Number.NaN;
  if (typed.units) {
    const price = revenue / units;
    results.units[t] = typed.units.value;
    if (Number.isFinite(price)) results.revenue[t] = typed.units.value * price;
  }
  if (typed.revenue) results.revenue[t] = typed.revenue.value;
  return { units, revenue };
}
