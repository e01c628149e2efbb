/** Edits of a plan taken into its run: only what they touch is computed anew. */
import type { AdjustmentChange } from '../drivers/adjustment.ts';
import type { AssumptionChange } from '../drivers/assumption.ts';
import { changedOverrides, overridesByStream } from './overrides.ts';
import type { OverrideChange } from './plan.ts';
import { computeAnew, resolveAnew, touchedBy, type Model } from './run.ts';

/** Changed assumptions, adjustments and overrides, together. */
export interface PlanEdit extends AssumptionChange {
  readonly adjustments?: AdjustmentChange | undefined;
  readonly overrides?: OverrideChange | undefined;
}

/**
 * Takes in changed assumptions, adjustments and overrides and recomputes the streams they cover, and
 * only those: what an edit does not touch costs nothing.
 * @returns the indexes of the streams that were computed anew
 */
export function change(model: Model, edit: PlanEdit): number[] {
  const before = [...edit.drop, ...edit.put.map(({ id }) => id)].flatMap(
    (id) => model.assumptions.get(id) ?? [],
  );
  for (const assumption of before) {
    model.drivers.holdings.get(assumption.driver)?.remove(assumption);
  }
  model.assumptions.apply(edit);
  for (const assumption of edit.put) {
    const holdings = model.drivers.holdings.get(assumption.driver);
    if (!holdings) throw new RangeError(`There is no driver "${assumption.driver}"`);
    holdings.add(assumption);
  }
  const { put = [], drop = [] } = edit.adjustments ?? {};
  const { adjustments } = model.drivers;
  const adjusted = [...drop, ...put.map(({ id }) => id)].flatMap((id) => adjustments.get(id) ?? []);
  adjustments.apply({ put, drop });
  const touched = touchedBy(model, [...before, ...edit.put, ...adjusted, ...put]);
  const overridden = edit.overrides ? override(model, edit.overrides) : [];
  return computeAnew(model, [...resolveAnew(model, touched), ...overridden]);
}

/**
 * Puts other overrides in place of those there are. What lies over a combination without a stream
 * rests until the stream is there, and is no part of the plan.
 * @returns the places of the streams they lie over
 */
function override(model: Model, { put, drop }: OverrideChange): Set<number> {
  const { placeOf } = model;
  // Most edits are of drivers: the overrides there are cost them nothing.
  if (put.length === 0 && drop.length === 0) return new Set();
  const there = put.filter(({ combination }) => placeOf.has(combination));
  const overrides = changedOverrides(model.plan.overrides ?? [], { put: there, drop });
  model.plan = { ...model.plan, overrides };
  const places = new Set(
    [...there, ...drop].flatMap(({ combination }) => placeOf.get(combination) ?? []),
  );
  const ofPlaces = overrides.filter(({ combination }) =>
    places.has(placeOf.get(combination) ?? -1),
  );
  const byStream = overridesByStream(ofPlaces, model);
  for (const place of places) {
    const typed = byStream.get(place);
    if (typed) model.overrides.set(place, typed);
    else model.overrides.delete(place);
    model.beforeOverride.delete(place);
  }
  return places;
}
