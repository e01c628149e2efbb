/** Edits of a plan taken into its run: only what they touch is computed anew. */
import type { AdjustmentChange } from '../drivers/adjustment.ts';
import type { AssumptionChange } from '../drivers/assumption.ts';
import { computeAnew, resolveAnew, touchedBy, type Model } from './run.ts';

/** Changed assumptions and adjustments, together. */
export interface DriverEdit extends AssumptionChange {
  readonly adjustments?: AdjustmentChange | undefined;
}

/**
 * Takes in changed assumptions and adjustments and recomputes the streams they cover, and only
 * those: what an edit does not touch costs nothing.
 * @returns the indexes of the streams that were computed anew
 */
export function change(model: Model, edit: DriverEdit): number[] {
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
  return computeAnew(model, resolveAnew(model, touched));
}
