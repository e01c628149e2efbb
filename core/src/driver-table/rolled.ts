/**
 * The total of a driver over streams and months, by its nature. The cell of a grid, its trace, the
 * command line and files have it from here.
 */
import type { Scope } from '../dimensions/dimension.ts';
import { MARKET_SIZE } from '../drivers/catalogue.ts';
import { natureOf, type Driver } from '../drivers/driver.ts';
import { scopeKey } from '../drivers/scope-key.ts';
import { seriesOfDriver, type Model } from '../forecast/run.ts';
import type { HeldSeries } from '../drivers/held-series.ts';
import type { Nature } from '../measures/nature.ts';
import { liesWithin } from '../dimensions/scopes.ts';
import { DriverWeights } from './weights.ts';

/**
 * The places of the streams whose numbers a driver's table shows: those that read it, themselves or
 * through formulas; where none does, all of them, so that it can be set at all.
 */
export function streamsOfDriver(model: Model, code: string): number[] {
  const readers = model.drivers.withReaders(code);
  const reading = model.streams.flatMap(({ codes }, place) =>
    codes.some((one) => readers.has(one)) ? [place] : [],
  );
  return reading.length > 0 ? reading : model.streams.map((_, place) => place);
}

/** What streams together have of a driver in some months. */
export interface RolledDriver {
  /** NaN where nothing is known. */
  readonly value: number;
  /** Whether streams have different values, of which it is a mean. */
  readonly differs: boolean;
  /** Whether some stream has none. */
  readonly incomplete: boolean;
  /** What it weighs in a mean of more; of sums 0. */
  readonly weight: number;
}

/** Rolls one driver up over streams and months. Series and weights are looked up once. */
export class DriverRollUp {
  readonly nature: Nature;
  readonly #series: (HeldSeries | null | undefined)[] = [];
  readonly #weights: DriverWeights;
  readonly #byWeight: (Float64Array | undefined)[] = [];

  /** @param model evaluated */
  constructor(
    readonly model: Model,
    readonly driver: Driver,
  ) {
    this.nature = natureOf(driver);
    this.#weights = new DriverWeights(model, driver);
  }

  /** In words what a mean is weighted by; null where all weigh the same. */
  get weightWords(): string | null {
    return this.#weights.words;
  }

  series(index: number): HeldSeries | null {
    const seriesBefore = this.#series[index];
    if (seriesBefore !== undefined) return seriesBefore;
    const seriesMade = seriesOfDriver(this.model, index, this.driver.code) ?? null;
    this.#series[index] = seriesMade;
    return seriesMade;
  }

  /** What a stream weighs, by month; from the first open one on. */
  weights(index: number): Float64Array {
    const weightsBefore = this.#byWeight[index];
    if (weightsBefore) return weightsBefore;
    const { open, count } = this.model;
    const made = new Float64Array(count);
    for (let t = open; t < count; t += 1) made[t] = this.#weights.of(index, t);
    this.#byWeight[index] = made;
    return made;
  }

  /** @param from first month, as an index from the plan's first @param to the last */
  over(streams: readonly number[], from: number, to: number): RolledDriver {
    if (this.nature === 'stock') return this.#over(streams, to, to);
    return this.#over(streams, from, to);
  }

  #over(streams: readonly number[], from: number, to: number): RolledDriver {
    if (this.driver.code === MARKET_SIZE) return this.#once(streams, from, to);
    let sum = 0;
    let weighted = 0;
    let weight = 0;
    let first = Number.NaN;
    let differs = false;
    let incomplete = false;
    const ratio = this.nature === 'ratio';
    for (const index of streams) {
      const values = this.series(index)?.values;
      for (let t = from; t <= to; t += 1) {
        const value = values?.[t] ?? Number.NaN;
        if (Number.isNaN(value)) {
          incomplete = true;
          continue;
        }
        sum += value;
        if (ratio) {
          const heavy = this.weights(index)[t] ?? 0;
          weighted += heavy * value;
          weight += heavy;
        }
        if (Number.isNaN(first)) first = value;
        else if (value !== first) differs = true;
      }
    }
    if (Number.isNaN(first)) return { value: Number.NaN, differs, incomplete, weight };
    if (this.nature === 'flow' || this.nature === 'stock') {
      return { value: sum, differs: false, incomplete, weight: 0 };
    }
    // A level is never rolled up; where nothing differs, weights do not matter.
    const mean = this.nature === 'level' || weight === 0 ? Number.NaN : weighted / weight;
    return { value: differs ? mean : first, differs, incomplete, weight };
  }

  /** A fact that is set for scopes: what streams share counts once, and one within another is part of it. */
  #once(streams: readonly number[], from: number, to: number): RolledDriver {
    let sum = 0;
    let hasValue = false;
    let incomplete = false;
    for (let t = from; t <= to; t += 1) {
      const facts = new Map<string, { scope: Scope; value: number }>();
      for (const index of streams) {
        const held = this.series(index);
        const value = held?.values[t] ?? Number.NaN;
        if (Number.isNaN(value)) {
          incomplete = true;
          continue;
        }
        hasValue = true;
        const set = this.model.assumptions.get(held?.holders[t] ?? 0);
        const scope = set?.scope ?? this.model.streams[index]?.combination.members ?? [];
        facts.set(scopeKey(scope), { scope, value });
      }
      const all = [...facts.values()];
      for (const { scope, value } of all) {
        const part = all.some(
          (other) => other.scope !== scope && liesWithin(this.model.tree, scope, other.scope),
        );
        if (!part) sum += value;
      }
    }
    return { value: hasValue ? sum : Number.NaN, differs: false, incomplete, weight: 0 };
  }
}
