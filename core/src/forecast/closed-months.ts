/** The closed months of a plan: where results begin, and what drivers hear of them. */
import { monthFrom } from '../calendar/month.ts';
import type { ClosedMonths } from '../drivers/observed.ts';
import { HeldFacts } from '../facts/held-facts.ts';
import { actualRows, addRows, emptyResults, type Results } from './actual-rows.ts';
import type { StablePlan } from './plan.ts';
import type { Structure } from './structure.ts';

/** Combinations that are sold and not forecast, in the order of the plan. */
function notForecast({ plan, placeOf }: Structure): number[] {
  const sold = new Set(plan.actuals.combination);
  return plan.combinations.flatMap(({ id }) => (sold.has(id) && !placeOf.has(id) ? [id] : []));
}

/** Units that came back by place and closed month; null where the plan does not tell. */
function returnedIn(
  { actuals }: StablePlan,
  places: number,
  placeOf: (combination: number) => number | undefined,
  { first, open }: Pick<Structure, 'first' | 'open'>,
): Float64Array[] | null {
  const { returned, combination, month } = actuals;
  if (!returned) return null;
  const sums = Array.from({ length: places }, () => new Float64Array(open));
  returned.forEach((units, i) => {
    if (units === 0) return;
    const sumsOfCombination = sums[placeOf(combination[i] ?? -1) ?? -1];
    const t = monthFrom(month[i] ?? '') - first;
    if (sumsOfCombination && t >= 0 && t < open)
      sumsOfCombination[t] = (sumsOfCombination[t] ?? 0) + units;
  });
  return sums;
}

/**
 * Results with the actuals of closed months, and the closed months of everything that was sold:
 * streams first, then combinations without one.
 * @param assumed what was assumed of a driver for members, month by month
 */
export function closedMonthsOf(
  structure: Structure,
  assumed: (driver: string, members: readonly number[]) => Float64Array | undefined,
): { readonly results: Results; readonly closed: ClosedMonths } {
  const { plan, streams, placeOf, tree, first, count, open } = structure;
  const { results } = emptyResults(streams.length, count);
  const others = notForecast(structure);
  const { results: sold } = emptyResults(others.length, open);
  const otherPlace = new Map(others.map((id, place) => [id, place]));
  const months = { first, months: open, minor: 10 ** plan.currency.minorDigits };
  addRows(actualRows(plan), results, (id) => placeOf.get(id), months);
  addRows(actualRows(plan), sold, (id) => otherPlace.get(id), months);
  const placeOfAny = (id: number): number | undefined => {
    const other = otherPlace.get(id);
    return placeOf.get(id) ?? (other === undefined ? undefined : streams.length + other);
  };
  const members = new Map(plan.combinations.map((one) => [one.id, one.members]));
  const all = [
    ...streams.map(({ combination }) => combination.members),
    ...others.map((id) => members.get(id) ?? []),
  ];
  const closed: ClosedMonths = {
    open,
    units: [...results.units, ...sold.units],
    revenue: [...results.revenue, ...sold.revenue],
    cost: [...results.cost, ...sold.cost],
    returned: returnedIn(plan, all.length, placeOfAny, structure),
    facts: new HeldFacts(plan.facts ?? [], tree, first, open),
    drivers: plan.drivers,
    members: all,
    assumed: (driver, place) => assumed(driver, all[place] ?? []),
  };
  return { results, closed };
}
