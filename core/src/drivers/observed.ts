/** What actuals say of a driver: sales lines, what came back, and what else was measured. */
import type { HeldFacts } from '../facts/held-facts.ts';
import { ratio } from '../tables/measure.ts';
import type { Driver } from './driver.ts';
import type { Observed } from './inputs.ts';

const YEAR = 12;
export const MARKET_SIZE = 'marketSize';

/** What is added up over streams and months before anything is divided. */
type Quantity =
  /** Net units, revenue, and units that came back. */
  | 'units'
  | 'revenue'
  | 'returned'
  /** Units at list price, and the revenue of those whose list price is known. */
  | 'listed'
  | 'discounted'
  | { readonly fact: string }
  /** Sales of streams and months for which a fact was measured. */
  | { readonly sold: 'units' | 'revenue'; readonly where: string };

/** How a driver follows from quantities: a sum, or one over another. */
interface Says {
  readonly above: readonly Quantity[];
  /** Null for a sum, which is shown as that of a mean month. */
  readonly below: readonly Quantity[] | null;
  /** Whether it is what the quotient leaves of one. */
  readonly rest?: boolean;
}

const SALES: Readonly<Record<string, Says>> = {
  // What came back was sold before it came back.
  grossUnits: { above: ['units', 'returned'], below: null },
  amount: { above: ['revenue'], below: null },
  listPrice: { above: ['revenue'], below: ['units'] },
  discount: { above: ['discounted'], below: ['listed'], rest: true },
  returnRate: { above: ['returned'], below: ['units', 'returned'] },
};
const GROWTHS: Readonly<Record<string, number>> = { growth: YEAR, periodGrowth: 1 };

/** The streams and closed months of a model, as far as they are needed here. */
export interface Closed {
  readonly count: number;
  readonly open: number;
  readonly units: Float64Array;
  readonly revenue: Float64Array;
  /** Units that came back, by stream and closed month; null where the books do not tell. */
  readonly returned: Float64Array | null;
  readonly facts: HeldFacts;
  readonly drivers: readonly Driver[];
  members(stream: number): readonly number[];
  /** The list price that was set for a stream, month by month. */
  listPrice(stream: number): Float64Array | undefined;
}

/** Sales stand beside a fact only where that was measured: the rest has nothing to be divided by. */
function quantityOf(name: string, beside: string | null): Quantity {
  if (name !== 'units' && name !== 'revenue') return { fact: name };
  const plain = beside === null || beside === 'units' || beside === 'revenue';
  return plain ? name : { sold: name, where: beside };
}

/** Whether sales lines by themselves say what a driver was: nothing else is its history. */
export function saidBySales(driver: string): boolean {
  return driver in SALES || driver in GROWTHS || driver === 'marketShare';
}

/** How actuals say something of a driver; undefined where they never do. */
function saysOf(code: string, { returned, facts, drivers }: Closed): Says | undefined {
  const history = drivers.find((driver) => driver.code === code)?.history;
  if (history) {
    const { measure, per } = history;
    return {
      above: [quantityOf(measure, per)],
      below: per === null ? null : [quantityOf(per, measure)],
    };
  }
  if (code === 'marketShare') {
    const market = drivers.find((driver) => driver.code === MARKET_SIZE)?.history;
    if (!market || !facts.has(market.measure)) return undefined;
    const where = market.measure;
    return { above: [{ sold: 'units', where }], below: [{ fact: where }] };
  }
  if (code === 'returnRate' && !returned) return undefined;
  return SALES[code];
}

/** The quantities of some streams by closed month, each added up once. */
class Added {
  readonly #made = new Map<string, Float64Array>();

  constructor(
    private readonly closed: Closed,
    private readonly streams: readonly number[],
  ) {}

  by(quantity: Quantity): Float64Array {
    const key = JSON.stringify(quantity);
    const known = this.#made.get(key) ?? this.#add(quantity);
    this.#made.set(key, known);
    return known;
  }

  #add(quantity: Quantity): Float64Array {
    const { closed, streams } = this;
    const { open, count, units, revenue, returned } = closed;
    if (typeof quantity !== 'string' && 'fact' in quantity) {
      return closed.facts.together(
        quantity.fact,
        streams.map((stream) => closed.members(stream)),
      );
    }
    const sums = new Float64Array(open);
    const kind = typeof quantity === 'string' ? quantity : quantity.sold;
    const where = typeof quantity === 'string' ? undefined : quantity.where;
    for (const stream of streams) {
      const start = stream * count;
      const price = kind === 'listed' || kind === 'discounted';
      const list = price ? closed.listPrice(stream) : undefined;
      const held = where === undefined ? null : closed.facts.of(where, closed.members(stream));
      for (let t = 0; t < open; t += 1) {
        if (where !== undefined && (held?.scopes[t] ?? 0) === 0) continue;
        sums[t] = (sums[t] ?? 0) + valueAt(t, start, stream, list);
      }
    }
    return sums;

    function valueAt(
      t: number,
      start: number,
      stream: number,
      list: Float64Array | undefined,
    ): number {
      const sold = units[start + t] ?? 0;
      const at = list?.[t] ?? Number.NaN;
      switch (kind) {
        case 'units':
          return sold;
        case 'revenue':
          return revenue[start + t] ?? 0;
        case 'returned':
          return returned?.[stream * open + t] ?? 0;
        case 'listed':
          return Number.isNaN(at) ? 0 : sold * at;
        case 'discounted':
          return Number.isNaN(at) ? 0 : (revenue[start + t] ?? 0);
      }
    }
  }

  /** A sum of quantities over closed months; NaN where one was not measured throughout. */
  over(quantities: readonly Quantity[], from: number, to: number): number {
    let sum = 0;
    for (const quantity of quantities) {
      const series = this.by(quantity);
      for (let t = from; t < to; t += 1) sum += series[t] ?? Number.NaN;
    }
    return sum;
  }
}

/** What actuals say of drivers for some streams together. */
export class Sayings {
  readonly #added: Added;

  constructor(
    private readonly closed: Closed,
    streams: readonly number[],
  ) {
    this.#added = new Added(closed, streams);
  }

  /** Whether actuals ever say anything of a driver. */
  says(driver: string): boolean {
    return driver in GROWTHS || saysOf(driver, this.closed) !== undefined;
  }

  /**
   * What they say over closed months `from` to `to` (not included): of a sum a mean month, of a
   * ratio that of the sums, of a growth that on the stretch before. Null where they say nothing.
   */
  over(driver: string, from: number, to: number): number | null {
    const back = GROWTHS[driver];
    if (back !== undefined) {
      const step = back === YEAR ? YEAR : to - from;
      if (from - step < 0) return null;
      const now = this.#added.over(['revenue'], from, to);
      const before = this.#added.over(['revenue'], from - step, to - step);
      return ratio(now - before, before);
    }
    const says = saysOf(driver, this.closed);
    if (!says || from < 0) return null;
    const above = this.#added.over(says.above, from, to);
    if (says.below === null) return Number.isNaN(above) ? null : above / (to - from);
    const share = ratio(above, this.#added.over(says.below, from, to));
    return share === null ? null : says.rest ? 1 - share : share;
  }
}

/** What the closed months of single streams say of drivers, for those who read them; made once. */
export function observedIn(closed: Closed): Observed {
  const made = new Map<string, Float64Array>();
  const sayings = new Map<number, Sayings>();
  return (driver, stream) => {
    const own = sayings.get(stream) ?? new Sayings(closed, [stream]);
    sayings.set(stream, own);
    if (!own.says(driver)) return undefined;
    const key = `${driver} ${stream}`;
    const known = made.get(key);
    if (known) return known;
    const values = Float64Array.from(
      { length: closed.open },
      (_, t) => own.over(driver, t, t + 1) ?? Number.NaN,
    );
    made.set(key, values);
    return values;
  };
}
