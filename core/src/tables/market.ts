/** The size of the market behind combinations, so that a share of it can be told. */
import type { Scope } from '../dimensions/dimension.ts';
import { containers } from '../dimensions/scopes.ts';
import { MARKET_SIZE as MARKET } from '../drivers/catalogue.ts';
import type { Model } from '../forecast/run.ts';
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
  /** The assumption that a size rests on, by its id; 0 where it was measured. */
  readonly holders: Int32Array;
  /** The scope of each fact, the first one's first. */
  readonly scopes: readonly Scope[];
  /** For each fact those that contain it, by their numbers: beside one of them it does not count. */
  readonly within: readonly (readonly number[])[];
}

/** Of tables that show no market. */
export const NO_MARKET: Market = {
  size: new Float64Array(),
  facts: new Int32Array(),
  holders: new Int32Array(),
  scopes: [],
  within: [],
};

/**
 * The facts behind some combinations in one month that count in their market: each once, and none
 * that lies in another one of them.
 * @param at the places of the combinations' months
 * @returns the size of each fact by its number
 */
export function marketFacts(
  { size, facts, within }: Market,
  at: readonly number[],
): Map<number, number> {
  const sizesByHolder = new Map<number, number>();
  for (const place of at) {
    const number = facts[place] ?? 0;
    if (number !== 0) sizesByHolder.set(number, size[place] ?? 0);
  }
  for (const number of [...sizesByHolder.keys()]) {
    // What contains a fact contains what lies in it: taking one out takes none of its containers out.
    if (within[number - 1]?.some((other) => sizesByHolder.has(other))) sizesByHolder.delete(number);
  }
  return sizesByHolder;
}

/** What the plan says of markets, for every combination that has a stream. */
export function marketOf(model: Model): Market {
  const { combinations } = model.plan;
  const { count } = model;
  const size = new Float64Array(combinations.length * count).fill(Number.NaN);
  const facts = new Int32Array(combinations.length * count);
  const heldBy = new Int32Array(combinations.length * count);
  const scopes: Scope[] = [];
  if (!model.drivers.holdings.has(MARKET)) {
    return { size, facts, holders: heldBy, scopes, within: [] };
  }
  const { facts: measured, drivers } = model.closed;
  const measure = drivers.find(({ code }) => code === MARKET)?.history?.measure;
  const places = new Map(combinations.map(({ id }, place) => [id, place]));
  const numbers = new Map<string, number>();
  const numberOf = (key: string, scope: Scope): number => {
    const numberBefore = numbers.get(key);
    if (numberBefore !== undefined) return numberBefore;
    scopes.push(scope);
    numbers.set(key, scopes.length);
    return scopes.length;
  };
  model.streams.forEach(({ combination }, stream) => {
    const offset = (places.get(combination.id) ?? 0) * count;
    const { values, holders } = model.drivers.series(MARKET, combination.members, stream);
    // In closed months it is what was measured, where it was.
    const held = measure === undefined ? null : measured.of(measure, combination.members);
    for (let t = 0; t < model.open; t += 1) {
      const number = held?.scopes[t] ?? 0;
      if (number === 0) continue;
      size[offset + t] = held?.values[t] ?? Number.NaN;
      facts[offset + t] = numberOf(
        `measured ${number}`,
        measured.scopeOf(measure ?? '', number) ?? combination.members,
      );
    }
    for (let t = 0; t < count; t += 1) {
      if (facts[offset + t] !== 0) continue;
      const value = values[t] ?? Number.NaN;
      if (Number.isNaN(value)) continue;
      const scope = model.assumptions.get(holders[t] ?? 0)?.scope ?? combination.members;
      size[offset + t] = value;
      heldBy[offset + t] = holders[t] ?? 0;
      facts[offset + t] = numberOf(`assumed ${scopeKey(scope)}`, scope);
    }
  });
  const within = containers(model.tree, scopes).map((places) => places.map((place) => place + 1));
  return { size, facts, holders: heldBy, scopes, within };
}
