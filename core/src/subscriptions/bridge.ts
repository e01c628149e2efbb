/** Why recurring revenue is another one than planned: in starters, in churn, in price. */
import type { Period } from '../calendar/period.ts';
import type { Month } from '../calendar/month.ts';
import { valueOrNull } from '../measures/nature.ts';
import type { SubscriberFigures, SubscriberSeries } from './figures.ts';

/** What a difference is made of. */
export const BRIDGE_STEPS = {
  before: 'Subscribers there before',
  starters: 'New subscribers',
  churn: 'Churn',
  price: 'Price',
  expansion: 'Expansion and contraction',
  changes: 'Changes of plan',
} as const;
export type BridgeStep = keyof typeof BRIDGE_STEPS;
const STEPS = Object.keys(BRIDGE_STEPS) as BridgeStep[];

/** The recurring revenue of two plans at the end of each period, and what lies between them. */
export interface SubscriptionBridge {
  readonly periods: readonly Period[];
  /** By period; null where one of the two does not know the months. */
  readonly plan: readonly (number | null)[];
  readonly now: readonly (number | null)[];
  /** Steps of each period's difference; they add up to it. */
  readonly steps: readonly {
    readonly step: BridgeStep;
    readonly values: readonly (number | null)[];
  }[];
  /** New subscribers of each period, planned and now. */
  readonly starters: {
    readonly plan: readonly (number | null)[];
    readonly now: readonly (number | null)[];
  };
}

/** What a month makes of the recurring revenue that a line opens with, as parts of it. */
interface Rates {
  readonly lost: number;
  readonly price: number;
  readonly expansion: number;
  readonly out: number;
}

/**
 * Divides the difference of recurring revenue between two plans. Month by month and line by line,
 * closing = opening x (1 - lost + price + expansion - out) + new + in: a step is what its own number
 * changes in the month, and what was changed before goes on as the plan would have it go on, or as
 * it does now where the plan has no rates. So whoever comes in excess of the plan counts for new
 * subscribers, less those of them who leave by the churn that was planned. Exact: the steps add up
 * to the difference in every month.
 * @param held places of combinations; a line that only one of the two has is nothing in the other
 * @param first the plan's first month; `from` the month in which the comparison begins
 */
export function subscriptionBridge(
  plan: SubscriberFigures,
  now: SubscriberFigures,
  held: Iterable<number>,
  periods: readonly Period[],
  from: Month,
  first: Month,
): SubscriptionBridge {
  const { count } = plan;
  const end = (periods.at(-1)?.to ?? from - 1) - first;
  const series = (): Float64Array => new Float64Array(Math.max(0, end + 1));
  const sums = { plan: series(), now: series(), newPlan: series(), newNow: series() };
  const steps = Object.fromEntries(STEPS.map((step) => [step, series()])) as Record<
    BridgeStep,
    Float64Array
  >;
  for (const place of held) {
    if (!plan.places.has(place) && !now.places.has(place)) continue;
    const of = (figures: SubscriberFigures, code: SubscriberSeries, t: number): number =>
      figures.places.has(place) ? (figures.of[code][place * count + t] ?? Number.NaN) : 0;
    const carried: Record<BridgeStep, number> = {
      ...{ before: 0, starters: 0, churn: 0, price: 0, expansion: 0, changes: 0 },
    };
    for (let t = from - first; t <= end; t += 1) {
      const [opened, opens] = [of(plan, 'revenueOpening', t), of(now, 'revenueOpening', t)];
      if (t === from - first) carried.before = opens - opened;
      const rates =
        ratesOf((code) => of(plan, code, t)) ?? ratesOf((code) => of(now, code, t)) ?? NO_RATES;
      const stays = 1 - rates.lost + rates.price + rates.expansion - rates.out;
      for (const step of STEPS) carried[step] *= stays;
      const [planned, come] = [of(plan, 'starters', t), of(now, 'starters', t)];
      const [paid, pay] = [of(plan, 'entered', t), of(now, 'entered', t)];
      const worth = planned === 0 ? (come === 0 ? 0 : pay / come) : paid / planned;
      carried.starters += (come - planned) * worth;
      carried.price += pay - paid - (come - planned) * worth;
      // What moved otherwise, less what follows from opening with more: that was carried above.
      const more = opens - opened;
      const moved = (code: SubscriberSeries): number => of(now, code, t) - of(plan, code, t);
      carried.churn -= moved('revenueLost') - more * rates.lost;
      carried.price += moved('priceChange') - more * rates.price;
      carried.expansion += moved('expansion') - moved('contraction') - more * rates.expansion;
      carried.changes += moved('revenueIn') - (moved('revenueOut') - more * rates.out);
      for (const step of STEPS) steps[step][t] = (steps[step][t] ?? 0) + carried[step];
      sums.plan[t] = (sums.plan[t] ?? 0) + of(plan, 'recurring', t);
      sums.now[t] = (sums.now[t] ?? 0) + of(now, 'recurring', t);
      sums.newPlan[t] = (sums.newPlan[t] ?? 0) + planned;
      sums.newNow[t] = (sums.newNow[t] ?? 0) + come;
    }
  }
  const last = (of: Float64Array): (number | null)[] =>
    periods.map(({ to }) => valueOrNull(of[to - first] ?? Number.NaN));
  const added = (of: Float64Array): (number | null)[] =>
    periods.map((period) =>
      valueOrNull(
        of
          .subarray(Math.max(period.from, from) - first, period.to - first + 1)
          .reduce((sum, value) => sum + value, 0),
      ),
    );
  return {
    periods,
    plan: last(sums.plan),
    now: last(sums.now),
    steps: STEPS.map((step) => ({ step, values: last(steps[step]) })),
    starters: { plan: added(sums.newPlan), now: added(sums.newNow) },
  };
}

const NO_RATES: Rates = { lost: 0, price: 0, expansion: 0, out: 0 };

/** A price that moves by more than this part of what is paid is not a rate that others would share. */
const LARGEST_PRICE_RATE = 0.25;

/**
 * The rates of a month. None where a line opens with nothing, or where what those there pay moves by
 * much of all they paid: a promotion that ends for most of them is an amount. As a rate it would
 * raise what others pay as well, and of next to nothing make steps of millions that cancel each other.
 */
function ratesOf(of: (code: SubscriberSeries) => number): Rates | undefined {
  const opening = of('revenueOpening');
  const price = of('priceChange');
  if (opening === 0 || Math.abs(price) > LARGEST_PRICE_RATE * opening) return undefined;
  return {
    lost: of('revenueLost') / opening,
    price: price / opening,
    expansion: (of('expansion') - of('contraction')) / opening,
    out: of('revenueOut') / opening,
  };
}
