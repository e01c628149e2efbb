/** Why revenue is another one than planned, driver by driver. Source: calculations, *Comparison* (driver bridge). */
import type { Scope } from '../dimensions/dimension.ts';
import { inScope } from '../dimensions/row-tree.ts';
import type { Span } from '../calendar/period.ts';
import type { Model } from '../forecast/run.ts';
import { observedIn } from '../drivers/observed.ts';
import { brings } from '../forecast/methods/funnel.ts';
import { originOf, rootOf, type Source } from '../sources/source.ts';
import type { SubscriberFigures, SubscriberSeries } from '../subscriptions/figures.ts';
import type { ComparedSide } from './compare.ts';

/** More would be too many orders to try: each one doubles them. */
export const MOST_GROUPS = 8;

/** Whether a driver is switched to what it is now. */
type IsNow<D extends string> = (driver: D) => boolean;

/**
 * Divides changes among the drivers that were switched: each one's effect is the mean of what
 * switching it changes, over all orders of switching them. The effects add up to the whole change.
 * @param drivers at most eight
 * @returns divides a change, from what comes out when some drivers are switched
 * @throws RangeError for more than eight
 */
export function attribution<D extends string>(
  drivers: readonly D[],
): (valueOf: (isNow: IsNow<D>) => number) => Record<D, number> {
  const count = drivers.length;
  if (count > MOST_GROUPS) {
    throw new RangeError(`A change is divided among at most ${MOST_GROUPS} drivers`);
  }
  // How many of all orders switch exactly so many others before one: k! (n - k - 1)! / n!.
  const weights = Array.from({ length: count }, (_, before) => {
    let orders = 1 / count;
    for (let i = 0; i < before; i += 1) orders *= (i + 1) / (count - 1 - i);
    return orders;
  });
  const bits = new Map(drivers.map((driver, place) => [driver, 1 << place]));
  const switches = Array.from(
    { length: 2 ** count },
    (_, switched): IsNow<D> =>
      (driver) =>
        (switched & (bits.get(driver) ?? 0)) !== 0,
  );
  const values = new Float64Array(switches.length);
  return (valueOf) => {
    switches.forEach((isNow, switched) => {
      values[switched] = valueOf(isNow);
    });
    const effects = {} as Record<D, number>;
    for (const [driver, bit] of bits) {
      let effect = 0;
      for (let others = 0; others < values.length; others += 1) {
        if ((others & bit) !== 0) continue;
        const more = (values[others | bit] ?? 0) - (values[others] ?? 0);
        effect += (weights[onesIn(others)] ?? 0) * more;
      }
      effects[driver] = effect;
    }
    return effects;
  };
}

function onesIn(bits: number): number {
  let count = 0;
  for (let rest = bits; rest > 0; rest >>= 1) count += rest & 1;
  return count;
}

/**
 * What revenue is made of: (gross units + those who enter x their conversion + subscribers there before
 * x (1 - churn) + new ones otherwise) x (1 - return rate) x list price x (1 - discount). Most sales
 * have gross units alone; what is not known of a cell is nothing in it.
 */
const DRIVERS = [
  ...(['grossUnits', 'entered', 'conversion', 'returnRate'] as const),
  ...(['subscribersBefore', 'newSubscribers', 'churnRate', 'listPrice', 'discount'] as const),
] as const;
type RevenueDriver = (typeof DRIVERS)[number];
type Factors = Readonly<Record<RevenueDriver, number>>;
const NOTHING: Factors = {
  ...{ grossUnits: 0, entered: 0, conversion: 0, returnRate: 0, subscribersBefore: 0 },
  ...{ newSubscribers: 0, churnRate: 0, listPrice: 0, discount: 0 },
};

function revenueOf(of: (driver: RevenueDriver) => number): number {
  const funnel = of('entered') * of('conversion');
  const stay = of('subscribersBefore') * (1 - of('churnRate'));
  const units = (of('grossUnits') + funnel) * (1 - of('returnRate'));
  return (units + stay + of('newSubscribers')) * of('listPrice') * (1 - of('discount'));
}

/** The drivers that a cell has on one of its sides, at most eight. */
const OF_SALES: readonly RevenueDriver[] = ['grossUnits', 'returnRate', 'listPrice', 'discount'];
const OF_SUBSCRIPTION: readonly RevenueDriver[] = [
  ...(['subscribersBefore', 'newSubscribers', 'churnRate', 'listPrice', 'discount'] as const),
];
const OF_FUNNEL: readonly RevenueDriver[] = ['entered', 'conversion'];

/** The steps of a driver bridge, in their order. */
export const DRIVER_STEPS = [...DRIVERS, 'notExplained'] as const;

/** Steps in currency units that add up to the difference: plan + all of them = actual. */
export interface DriverBridge extends Readonly<Record<(typeof DRIVER_STEPS)[number], number>> {
  readonly plan: number;
  readonly actual: number;
}

/** A side of a comparison: where its numbers come from, laid out over the plan. */
export interface SideOfModel {
  readonly source: Source;
  readonly figures: ComparedSide;
}

/**
 * The difference between sales and a plan or an earlier year by what sales are made of, cell by
 * cell. What sales say of a driver is what it was; of a plan it is what was assumed for the month,
 * and the number of units and the list price are such that the planned numbers come out. Where there
 * are units and revenue on one side only, no driver explains it. A subscription is made of who was
 * there, who came and who left, where both sides know them.
 * @returns null where the first side is not sales, or a number is missing
 */
export function driverBridgeOf(
  model: Model,
  actual: SideOfModel,
  planned: SideOfModel,
  { scope, span }: { readonly scope: Scope; readonly span: Span },
): DriverBridge | null {
  if (actual.source.kind !== 'actual') return null;
  const { closed } = model;
  const divide = {
    sales: attribution(OF_SALES),
    salesOfFunnel: attribution([...OF_SALES, ...OF_FUNNEL]),
    subscription: attribution(OF_SUBSCRIPTION),
    subscriptionOfFunnel: attribution([...OF_SUBSCRIPTION, ...OF_FUNNEL]),
  };
  const sides = [planned, actual].map((side) => ({
    ...side,
    subscribers: side.figures.subscribers?.(),
  }));
  const entered = entriesOf(model);
  const placeOf = new Map(closed.members.map((members, place) => [members.join(), place]));
  const steps = Object.fromEntries(DRIVER_STEPS.map((step) => [step, 0])) as Record<
    (typeof DRIVER_STEPS)[number],
    number
  >;
  const sums = { plan: 0, actual: 0 };
  const { first, count, combinations } = actual.figures;
  for (const index of inScope(model.tree, combinations, scope)) {
    const place = placeOf.get(combinations[index]?.members.join() ?? '');
    for (let t = span.from - first; t <= span.to - first; t += 1) {
      const cell = index * count + t;
      const [before, now] = sides.map(({ figures, source, subscribers }): SoldIn => ({
        units: figures.measures.units[cell] ?? 0,
        revenue: figures.measures.revenue[cell] ?? 0,
        ...{ source, place, t },
        moved: movedIn(subscribers, index, t),
      }));
      if (!before || !now) continue;
      sums.plan += before.revenue;
      sums.actual += now.revenue;
      const paid = [subscribedIn(model, before), subscribedIn(model, now)];
      const subscribed = paid[0] !== undefined && paid[1] !== undefined;
      const is = subscribed ? paid[1] : soldBy(model, place, t, now);
      const was = subscribed ? paid[0] : is && factorsOf(model, before, is);
      if (!is || !was) {
        steps.notExplained += now.revenue - before.revenue;
        continue;
      }
      const then = withEntries(was, before, entered, subscribed);
      const since = withEntries(is, now, entered, subscribed);
      const funnel = then !== undefined && since !== undefined;
      const kind = subscribed
        ? funnel
          ? 'subscriptionOfFunnel'
          : 'subscription'
        : funnel
          ? 'salesOfFunnel'
          : 'sales';
      const [old, current] = funnel ? [then, since] : [was, is];
      const effects: Partial<Record<RevenueDriver, number>> = divide[kind]((isNow) =>
        revenueOf((driver) => (isNow(driver) ? current : old)[driver]),
      );
      for (const driver of DRIVERS) steps[driver] += effects[driver] ?? 0;
    }
  }
  return Number.isFinite(sums.plan) && Number.isFinite(sums.actual) ? { ...steps, ...sums } : null;
}

/** What a side has in a cell, and where that is. */
interface SoldIn {
  readonly units: number;
  readonly revenue: number;
  readonly source: Source;
  readonly place: number | undefined;
  readonly t: number;
  /** How its subscribers moved; undefined where it has none. */
  readonly moved: ((code: SubscriberSeries) => number) | undefined;
}

function movedIn(
  figures: SubscriberFigures | undefined,
  index: number,
  t: number,
): SoldIn['moved'] {
  if (!figures?.places.has(index)) return undefined;
  return (code) => figures.of[code][index * figures.count + t] ?? Number.NaN;
}

/**
 * How many entered the funnel of a place in a month, through all of its sources: as it was measured,
 * or as it was assumed. NaN where a part of it is not known.
 */
function entriesOf({ closed, streams }: Model): (sold: SoldIn) => number {
  const observed = observedIn(closed);
  return ({ source, place, t }) => {
    const { sources = [] } = streams[place ?? -1]?.stream.settings?.funnel ?? {};
    if (place === undefined || sources.length === 0) return Number.NaN;
    const measured = originOf(source).kind === 'actual';
    const month = measured ? rootOf(source, { from: t, to: t }).span.from : t;
    const value = (driver: string | undefined): number => {
      if (driver === undefined) return Number.NaN;
      return measured
        ? (observed(driver, place)?.[month] ?? Number.NaN)
        : assumedIn(closed, driver, place, month);
    };
    return sources.reduce(
      (all, { kind, drivers: [one, other] }) => all + brings(kind, value(one), value(other)),
      0,
    );
  };
}

/**
 * The same factors with who came through a funnel apart: those who entered, and which part of them
 * came through. Of sales all come through it; of a subscription the new ones.
 * @returns undefined where one of the two is not known
 */
function withEntries(
  factors: Factors,
  sold: SoldIn,
  entriesIn: (sold: SoldIn) => number,
  subscribed: boolean,
): Factors | undefined {
  const entered = entriesIn(sold);
  const came = sold.moved ? sold.moved('starters') : factors.grossUnits;
  if (!(entered > 0) || !(came >= 0)) return undefined;
  const through = { entered, conversion: came / entered };
  // Whoever goes on with a term that is paid at once is no new one.
  return subscribed
    ? { ...factors, ...through, newSubscribers: factors.newSubscribers - came }
    : { ...factors, ...through, grossUnits: factors.grossUnits - came };
}

/**
 * What a month of a subscription is made of: who was there, who left and came, and what each pays.
 * @returns undefined where the movement is not known, or revenue is no payment of the month
 */
function subscribedIn(
  { closed }: Model,
  { moved, revenue, place, t }: SoldIn,
): Factors | undefined {
  if (!moved) return undefined;
  const [before, lost, active] = [moved('opening'), moved('lost'), moved('active')];
  const known = before >= 0 && lost >= 0 && active > 0;
  if (!known || Math.abs(moved('recurring') - revenue) > HALF_A_CENT) return undefined;
  const off = assumedIn(closed, 'discount', place, t);
  const discount = off < 1 ? off : 0;
  return {
    ...NOTHING,
    subscribersBefore: before,
    churnRate: before === 0 ? 0 : lost / before,
    // Whoever came from another plan and went to one is among them.
    newSubscribers: active - before + lost,
    listPrice: revenue / active / (1 - discount),
    discount,
  };
}
const HALF_A_CENT = 0.005;

type Sold = Pick<SoldIn, 'units' | 'revenue'>;
const counts = ({ units, revenue }: Sold): boolean => units > 0 && revenue > 0;

/** What sales of a closed month say: what came back, and what was paid of the list price. */
function soldBy(
  { closed }: Model,
  place: number | undefined,
  t: number,
  sold: Sold,
): Factors | undefined {
  if (!counts(sold)) return undefined;
  const back = place === undefined ? 0 : (closed.returned?.[place]?.[t] ?? 0);
  const gross = sold.units + Math.max(0, back);
  const paid = sold.revenue / sold.units;
  const list = assumedIn(closed, 'listPrice', place, t);
  const listPrice = list > 0 ? list : paid;
  return {
    ...NOTHING,
    grossUnits: gross,
    returnRate: 1 - sold.units / gross,
    listPrice,
    discount: 1 - paid / listPrice,
  };
}

/** What the other side says: sales of an earlier year, or what was assumed where nothing was sold yet. */
function factorsOf(model: Model, planned: SoldIn, is: Factors): Factors | undefined {
  const { place, t, source } = planned;
  if (!counts(planned)) return undefined;
  if (originOf(source).kind === 'actual') {
    const month = rootOf(source, { from: t, to: t }).span.from;
    return soldBy(model, place, month, planned);
  }
  const assumed = (driver: string): number => assumedIn(model.closed, driver, place, t);
  // Where nobody assumed how many come back, as many do as did.
  const back = assumed('returnRate');
  const returnRate = back >= 0 && back < 1 ? back : is.returnRate;
  const off = assumed('discount');
  const discount = off < 1 ? off : 0;
  return {
    ...NOTHING,
    grossUnits: planned.units / (1 - returnRate),
    returnRate,
    listPrice: planned.revenue / planned.units / (1 - discount),
    discount,
  };
}

function assumedIn(
  closed: Model['closed'],
  driver: string,
  place: number | undefined,
  t: number,
): number {
  return (place === undefined ? undefined : closed.assumed(driver, place)?.[t]) ?? Number.NaN;
}
