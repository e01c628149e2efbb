/** The size of the market behind combinations, so that a share of it can be told. */
import type { Model } from '../forecast/model.ts';
import { scopeKey } from '../drivers/scope-key.ts';

/**
 * Market sizes by combination and month, months innermost. A size that is set for a wider scope
 * than a combination is the same fact for all of them: it bears the same number in `facts`, and
 * counts once.
 */
export interface Market {
  /** NaN where no market is known. */
  readonly size: Float64Array;
  /** Which fact a size is; 0 for none. */
  readonly facts: Int32Array;
  /** The assumption that a size rests on, by its id. */
  readonly holders: Int32Array;
}

const MARKET = 'marketSize';

/** What the plan says of markets, for every combination that has a stream. */
export function marketOf(model: Model): Market {
  const { combinations } = model.plan;
  const { count, tree } = model;
  const size = new Float64Array(combinations.length * count).fill(Number.NaN);
  const facts = new Int32Array(combinations.length * count);
  const heldBy = new Int32Array(combinations.length * count);
  if (!model.drivers.holdings.has(MARKET)) return { size, facts, holders: heldBy };
  const places = new Map(combinations.map(({ id }, place) => [id, place]));
  const numbers = new Map<string, number>();
  const numberOf = (key: string): number => {
    const known = numbers.get(key) ?? numbers.size + 1;
    numbers.set(key, known);
    return known;
  };
  model.streams.forEach(({ combination }, stream) => {
    const offset = (places.get(combination.id) ?? 0) * count;
    const { values, holders } = model.drivers.series(MARKET, combination.members, stream);
    for (let t = 0; t < count; t += 1) {
      const value = values[t] ?? Number.NaN;
      if (Number.isNaN(value)) continue;
      const scope = model.assumptions.get(holders[t] ?? 0)?.scope;
      size[offset + t] = value;
      heldBy[offset + t] = holders[t] ?? 0;
      facts[offset + t] = numberOf(
        scope ? scopeKey(scope) : `of ${tree.label(combination.members)}`,
      );
    }
  });
  return { size, facts, holders: heldBy };
}
