/** What actuals say of a driver: sales lines, what came back, and what else was measured. */
import type { HeldFacts } from '../facts/held-facts.ts';
import { ratio } from '../measures/nature.ts';
import { MARKET_SIZE } from './catalogue.ts';
import type { Driver } from './driver.ts';
import type { Observed } from './driver-definition.ts';

const YEAR = 12;

/** What is added up over combinations and months before anything is divided. */
type Quantity =
  /** Net units, revenue, cost of sales, and units that came back. */
  | 'units'
  | 'revenue'
  | 'cost'
  | 'returned'
  /** Units at list price, and the revenue of those whose list price is known. */
  | 'listed'
  | 'discounted'
  /** Gross units, and these at the list price of the month, for combinations that were sold. */
  | 'gross'
  | 'atListPrice'
  | { readonly fact: string }
  /** Sales of combinations and months for which a fact was measured. */
  | { readonly sold: 'units' | 'revenue'; readonly where: string };

/** How a driver follows from quantities: a sum, or one over another. */
interface Derivation {
  readonly above: readonly Quantity[];
  /** Null for a sum, which is shown as that of a mean month. */
  readonly below: readonly Quantity[] | null;
  /** Whether it is what the quotient leaves of one. */
  readonly oneMinus?: boolean;
}

const FROM_SALES: Readonly<Record<string, Derivation>> = {
  // What came back was sold before it came back.
  grossUnits: { above: ['units', 'returned'], below: null },
  amount: { above: ['revenue'], below: null },
  listPrice: { above: ['atListPrice'], below: ['gross'] },
  discount: { above: ['discounted'], below: ['listed'], oneMinus: true },
  returnRate: { above: ['returned'], below: ['units', 'returned'] },
  unitCost: { above: ['cost'], below: ['units'] },
  costShare: { above: ['cost'], below: ['revenue'] },
};
/** What stands beside a list price as it was paid: revenue over net units. */
const PAID_PRICE: Derivation = { above: ['revenue'], below: ['units'] };
const GROWTHS: Readonly<Record<string, number>> = { growth: YEAR, periodGrowth: 1 };

/**
 * The closed months of everything that was sold: streams by their places, then the combinations
 * that are sold and not forecast. Series have a value a month, at least of the closed ones.
 */
export interface ClosedMonths {
  readonly open: number;
  readonly units: readonly Float64Array[];
  readonly revenue: readonly Float64Array[];
  readonly cost: readonly Float64Array[];
  /** Units that came back; null where the books do not tell. */
  readonly returned: readonly Float64Array[] | null;
  readonly facts: HeldFacts;
  readonly drivers: readonly Driver[];
  /** The members of each place. */
  readonly members: readonly (readonly number[])[];
  /** What was assumed of a driver for a place, month by month; NaN where nothing was. */
  assumed(driver: string, place: number): Float64Array | undefined;
}

/** Sales stand beside a fact only where that was measured: the rest has nothing to be divided by. */
function quantityOf(name: string, beside: string | null): Quantity {
  if (name !== 'units' && name !== 'revenue') return { fact: name };
  const plain = beside === null || beside === 'units' || beside === 'revenue';
  return plain ? name : { sold: name, where: beside };
}

/** Whether sales lines by themselves say what a driver was: nothing else is its history. */
export function saidBySales(driver: string): boolean {
  return driver in FROM_SALES || driver in GROWTHS || driver === 'marketShare';
}

/** How actuals say something of a driver; undefined where they never do. */
function derivationOf(
  code: string,
  { returned, facts, drivers }: ClosedMonths,
): Derivation | undefined {
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
  return FROM_SALES[code];
}

/**
 * The list price of a closed month: the one that was assumed there, else net price / (1 - the
 * discount that held), which is the net price where none held. Source: calculations, *Drivers*.
 */
function listPriceOf(assumed: number, revenue: number, units: number, discount: number): number {
  if (!Number.isNaN(assumed)) return assumed;
  const held = Number.isNaN(discount) ? 0 : discount;
  return ratio(revenue / units, 1 - held) ?? Number.NaN;
}

/** The quantities of some places by closed month, each added up once. */
class AddedUp {
  readonly #made = new Map<string, Float64Array>();

  constructor(
    private readonly closed: ClosedMonths,
    private readonly places: readonly number[],
  ) {}

  by(quantity: Quantity): Float64Array {
    const key = JSON.stringify(quantity);
    const history = this.#made.get(key) ?? this.#add(quantity);
    this.#made.set(key, history);
    return history;
  }

  #add(quantity: Quantity): Float64Array {
    const { closed, places } = this;
    if (typeof quantity !== 'string' && 'fact' in quantity) {
      const members = places.map((place) => closed.members[place] ?? []);
      return closed.facts.together(quantity.fact, members);
    }
    const sums = new Float64Array(closed.open);
    const kind = typeof quantity === 'string' ? quantity : quantity.sold;
    const where = typeof quantity === 'string' ? undefined : quantity.where;
    for (const place of places) {
      const held = where === undefined ? null : closed.facts.of(where, closed.members[place] ?? []);
      const valueAt = this.#series(kind, place);
      for (let t = 0; t < closed.open; t += 1) {
        if (where !== undefined && (held?.scopes[t] ?? 0) === 0) continue;
        sums[t] = (sums[t] ?? 0) + valueAt(t);
      }
    }
    return sums;
  }

  /** A quantity of one place by month. */
  #series(kind: Extract<Quantity, string>, place: number): (t: number) => number {
    const { closed } = this;
    const at = (series: Float64Array | undefined) => (t: number) => series?.[t] ?? 0;
    const units = at(closed.units[place]);
    const revenue = at(closed.revenue[place]);
    const returned = at(closed.returned?.[place]);
    const price = closed.assumed('listPrice', place);
    const hasPrice = (t: number): boolean => !Number.isNaN(price?.[t] ?? Number.NaN);
    const gross = (t: number): number => units(t) + returned(t);
    switch (kind) {
      case 'units':
        return units;
      case 'revenue':
        return revenue;
      case 'cost':
        return at(closed.cost[place]);
      case 'returned':
        return returned;
      case 'listed':
        return (t) => (hasPrice(t) ? units(t) * (price?.[t] ?? 0) : 0);
      case 'discounted':
        return (t) => (hasPrice(t) ? revenue(t) : 0);
      case 'gross':
      case 'atListPrice': {
        const discount = closed.assumed('discount', place);
        return (t) => {
          const list = listPriceOf(
            price?.[t] ?? Number.NaN,
            revenue(t),
            units(t),
            discount?.[t] ?? Number.NaN,
          );
          // What has no price takes no part on either side.
          if (Number.isNaN(list)) return 0;
          return kind === 'gross' ? gross(t) : gross(t) * list;
        };
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

/** What actuals say of drivers for some places together. */
export class ObservedDrivers {
  readonly #added: AddedUp;

  constructor(
    private readonly closed: ClosedMonths,
    places: readonly number[],
  ) {
    this.#added = new AddedUp(closed, places);
  }

  /** Whether actuals ever say anything of a driver. */
  says(driver: string): boolean {
    return driver in GROWTHS || derivationOf(driver, this.closed) !== undefined;
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
    return this.#derived(derivationOf(driver, this.closed), from, to);
  }

  /** The average price that was paid over closed months; see `over`. */
  pricePaid(from: number, to: number): number | null {
    return this.#derived(PAID_PRICE, from, to);
  }

  #derived(derivation: Derivation | undefined, from: number, to: number): number | null {
    if (!derivation || from < 0) return null;
    const above = this.#added.over(derivation.above, from, to);
    if (derivation.below === null) return Number.isNaN(above) ? null : above / (to - from);
    const share = ratio(above, this.#added.over(derivation.below, from, to));
    return share === null ? null : derivation.oneMinus ? 1 - share : share;
  }
}

/** What the closed months of single streams say of drivers, for those who read them; made once. */
export function observedIn(closed: ClosedMonths): Observed {
  const made = new Map<string, Float64Array>();
  const byStream = new Map<number, ObservedDrivers>();
  return (driver, stream) => {
    const observedOfStream = byStream.get(stream) ?? new ObservedDrivers(closed, [stream]);
    byStream.set(stream, observedOfStream);
    if (!observedOfStream.says(driver)) return undefined;
    const key = `${driver} ${stream}`;
    const madeBefore = made.get(key);
    if (madeBefore) return madeBefore;
    const values = Float64Array.from(
      { length: closed.open },
      (_, t) => observedOfStream.over(driver, t, t + 1) ?? Number.NaN,
    );
    made.set(key, values);
    return values;
  };
}
