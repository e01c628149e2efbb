/** What weighs streams and months in the mean of a driver. Source: calculations, *Drivers*. */
import { STREAM_WEIGHTS, type Driver } from '../drivers/driver.ts';
import { METHODS } from '../forecast/methods/index.ts';
import { resultsOf, seriesOfDriver, stretchOf, type Model } from '../forecast/run.ts';
import type { Stretch } from '../forecast/methods/method.ts';

/** What a driver's mean is weighted by, in words, for the cell and its trace. */
export const WEIGHT_WORDS: Readonly<Record<string, string>> = {
  listPrice: 'gross units',
  returnRate: 'gross units',
  unitCost: 'gross units',
  discount: 'revenue at list price',
  costShare: 'revenue at list price',
  marketShare: 'market size',
  growth: 'what grows',
  periodGrowth: 'what grows',
  attachRate: 'units sold before',
  units: 'units',
  revenue: 'revenue',
  unitsBefore: 'units of the month before',
};

/** The gross units that the plan computes for a stream: net units / (1 - return rate). */
function grossUnits(model: Model, index: number, t: number): number {
  const net = model.results.units[index]?.[t] ?? Number.NaN;
  const { codes = [] } = model.streams[index] ?? {};
  const input = (code: string): number | undefined =>
    model.inputs[index]?.[codes.indexOf(code)]?.values[t];
  const left = 1 - (input('returnRate') ?? 0);
  return left === 0 ? (input('grossUnits') ?? 0) : net / left;
}

/** Revenue at list price: net units x list price; revenue itself where no list price makes it. */
function revenueAtListPrice(model: Model, index: number, t: number): number {
  const { codes = [] } = model.streams[index] ?? {};
  const { units, revenue } = resultsOf(model, index);
  const price = model.inputs[index]?.[codes.indexOf('listPrice')]?.values[t];
  return price === undefined ? (revenue[t] ?? Number.NaN) : (units[t] ?? Number.NaN) * price;
}

/** Growths of streams that grow on units do not go together with those on revenue, but by revenue. */
function growsOnBoth(model: Model, driver: string): boolean {
  const kinds = new Set(
    model.streams.flatMap(({ stream, codes }) =>
      codes.includes(driver) ? [stream.settings?.of ?? 'revenue'] : [],
    ),
  );
  return kinds.size > 1;
}

/** Weighs the streams of one driver. Made once for a table or an explanation. */
export class DriverWeights {
  readonly #stretches = new Map<number, Stretch>();
  readonly #inRevenue: boolean;
  /** Whether some method tells what the driver acts on: then whoever does not tell weighs nothing. */
  readonly #told: boolean;

  /** @param model evaluated */
  constructor(
    private readonly model: Model,
    private readonly driver: Driver,
  ) {
    const { code } = driver;
    this.#inRevenue = (code === 'growth' || code === 'periodGrowth') && growsOnBoth(model, code);
    this.#told = model.streams.some(
      ({ codes, stream }, index) =>
        codes.includes(code) &&
        METHODS[stream.method].actsOn?.(code, this.#stretch(index), model.open) !== undefined,
    );
  }

  /** In words what weighs; null where all streams weigh the same because nothing is known to. */
  get words(): string | null {
    const { code, weight } = this.driver;
    if (weight) {
      const named = this.model.plan.drivers.find((other) => other.code === weight);
      return WEIGHT_WORDS[weight] ?? named?.name.toLowerCase() ?? weight;
    }
    const words = WEIGHT_WORDS[code];
    if (words !== undefined) return words;
    return this.#told ? 'what it acts on' : null;
  }

  #stretch(index: number): Stretch {
    const stretch = this.#stretches.get(index) ?? stretchOf(this.model, index);
    this.#stretches.set(index, stretch);
    return stretch;
  }

  /** What a stream weighs in a month, from 0 on; what is not known weighs nothing. */
  of(index: number, t: number): number {
    const weight = this.#weight(index, t);
    return weight > 0 ? weight : 0;
  }

  #weight(index: number, t: number): number {
    const { model, driver } = this;
    const { code, weight } = driver;
    const { units, revenue } = resultsOf(model, index);
    if (weight) {
      if (!(STREAM_WEIGHTS as readonly string[]).includes(weight)) {
        return seriesOfDriver(model, index, weight)?.values[t] ?? Number.NaN;
      }
      if (weight === 'unitsBefore') return units[t - 1] ?? Number.NaN;
      return (weight === 'units' ? units[t] : revenue[t]) ?? Number.NaN;
    }
    switch (code) {
      case 'listPrice':
      case 'returnRate':
      case 'unitCost':
        return grossUnits(model, index, t);
      case 'discount':
      case 'costShare':
        return revenueAtListPrice(model, index, t);
      default: {
        const stretch = this.#stretch(index);
        const { stream } = stretch;
        const weightNow = this.#inRevenue
          ? {
              ...stretch,
              stream: { ...stream, settings: { ...stream.settings, of: 'revenue' as const } },
            }
          : stretch;
        return METHODS[stream.method].actsOn?.(code, weightNow, t) ?? (this.#told ? 0 : 1);
      }
    }
  }
}
