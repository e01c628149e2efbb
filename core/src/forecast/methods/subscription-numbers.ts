/** What a subscription comes to: its input, movement, terms and sources, month by month. */
import { monthFrom } from '../../calendar/month.ts';
import {
  movementOf,
  runOf,
  type CohortRun,
  type Movement,
  type OpeningBase,
  type SubscriptionInput,
} from '../../subscriptions/movement.ts';
import {
  billedAhead,
  PREPAID_TERM,
  stillToEarn,
  termsBegun,
  type Prepaid,
} from '../../subscriptions/prepaid.ts';
import { churnProblems, type Churn } from '../../subscriptions/survival.ts';
import type { Stream, Subscription } from '../plan.ts';
import { funnelDrivers, funnelNumbers, UNDER_WAY } from './funnel.ts';
import { at, type Stretch } from './method.ts';

const USUAL: Subscription = { churn: 'constant', pricePolicy: 'current', billing: 'monthly' };
export const subscriptionOf = ({ settings }: Stream): Subscription =>
  settings?.subscription ?? USUAL;

/** The drivers that it reads by itself; where each age has a rate of its own, no churn is read. */
export function ownDrivers(stream: Stream): string[] {
  const { churn } = subscriptionOf(stream);
  return [
    ...(stream.settings?.funnel ? [] : ['newSubscribers']),
    ...['listPrice', 'discount', 'expansionRate', 'contractionRate'],
    ...(churn === 'byAge' ? [] : ['churnRate']),
    // Nobody knows when each of those came who leave whole.
    ...(churn === 'whole' ? [] : ['promotionMonths', 'promotionOff']),
  ];
}
/** Those drivers, then the ones of the funnel that new subscribers come out of. */
export function driversOf(stream: Stream): string[] {
  const funnel = stream.settings?.funnel;
  return [...ownDrivers(stream), ...(funnel ? funnelDrivers(funnel) : [])];
}
/** A subscription's stretch as its funnel reads it: with the inputs of the funnel alone. */
export const throughFunnel = (stretch: Stretch): Stretch => ({
  ...stretch,
  inputs: stretch.inputs.slice(ownDrivers(stretch.stream).length),
});

/** The curve by which subscribers leave; of one rate a month the driver says how many. */
export function curveOf({ churn, rates = [], term = PREPAID_TERM }: Subscription): Churn {
  switch (churn) {
    case 'byAge':
      return { kind: 'byAge', rates };
    // What stays of one who came is the same when only whole customers leave, in every n-th month.
    case 'whole':
    case 'atRenewal':
      return { kind: 'atRenewal', term, rate: 1 };
    case 'constant':
      return { kind: 'constant', rate: 1 };
  }
}

/** Whether units and revenue are terms and what is billed for them, as sales lines have it. */
export const countsBilled = ({ billing, counts }: Subscription): boolean =>
  billing === 'yearly' && counts === 'billed';

/** Everything a subscription comes to, over the open months. */
export interface SubscriptionNumbers {
  /** What the movement goes on from: how many of each cohort are there. */
  readonly run: CohortRun;
  readonly input: SubscriptionInput;
  /** Those of `input.changedIn`, by the subscription that they come from. */
  readonly changedFrom: readonly ChangedFrom[];
  readonly movement: Movement;
  /** Of yearly billing; null where each month is billed by itself. */
  readonly prepaid: Prepaid | null;
  /** Of yearly billing: how many terms begin, new ones and renewals. */
  readonly begun: Float64Array | null;
}

/**
 * Those who are there before the first open month: an age table where one is set. Else the units of
 * the last closed month as one cohort; or, where they are terms, those of the last twelve months,
 * each of the age of its month.
 */
function openingOf({ stream, results, open }: Stretch, price: number): OpeningBase {
  const set = subscriptionOf(stream);
  const units = open > 0 ? at(results.units, open - 1) : 0;
  if (set.billing === 'monthly') {
    const revenue = open > 0 ? at(results.revenue, open - 1) : 0;
    return {
      byAge: set.opening ?? (units > 0 ? [units] : []),
      price: units > 0 ? revenue / units : price,
    };
  }
  const terms = Array.from({ length: Math.min(PREPAID_TERM, open) }, (_, age) =>
    Math.max(0, at(results.units, open - 1 - age)),
  );
  const one = units > 0 ? [units] : [];
  return { byAge: set.opening ?? (countsBilled(set) ? terms : one), price };
}

/** What was billed before and is earned in the open months, one by one. */
function deferredOf({ stream, results, open }: Stretch, opening: OpeningBase): readonly number[] {
  const set = subscriptionOf(stream);
  if (set.deferred) return set.deferred;
  if (!countsBilled(set)) return stillToEarn(opening);
  // What sales lines have of the last twelve months was billed then, for a year.
  return Array.from({ length: PREPAID_TERM - 1 }, (_, t) => {
    let sum = 0;
    for (let age = 0; age < Math.min(PREPAID_TERM, open); age += 1) {
      if (age + t + 1 < PREPAID_TERM) sum += at(results.revenue, open - 1 - age) / PREPAID_TERM;
    }
    return sum;
  });
}

/** Who comes from one other subscription, by open month. */
interface ChangedFrom {
  readonly giverId: number;
  readonly series: Float64Array;
}

/** Movements that were computed on the way, by stream and month. */
type Known = Map<string, Movement>;

/**
 * Who comes from other subscriptions in the months before one. Who changes over does so at an age of at
 * least a month: two subscriptions that feed each other are computed from ever fewer months of the other.
 * @param until one past the last of these months
 */
function changedInto(stretch: Stretch, until: number, known: Known): ChangedFrom[] {
  return stretch.givers().map((giver) => {
    const series = new Float64Array(stretch.count - stretch.open);
    const giverId = giver.stream.id;
    if (until <= 0) return { giverId, series };
    if (subscriptionMistakes(giver.stream).length > 0) {
      return { giverId, series: series.fill(Number.NaN) };
    }
    const after = until - (giver.stream.settings?.changesOver?.age ?? until);
    const key = `${giverId} ${after}`;
    const movement = known.get(key) ?? movementOf(inputOf(giver, after, known).input);
    known.set(key, movement);
    series.set(movement.changedOut.subarray(0, until));
    return { giverId, series };
  });
}

/** What a subscription is computed from. @param until who comes from others is told before this month */
function inputOf(
  stretch: Stretch,
  until: number,
  known: Known,
): Pick<SubscriptionNumbers, 'input' | 'changedFrom'> {
  const { stream, inputs, open, count, first } = stretch;
  const set = subscriptionOf(stream);
  const codes = ownDrivers(stream);
  const series = (code: string): Float64Array =>
    (inputs[codes.indexOf(code)] ?? new Float64Array(count)).subarray(open, count);
  const discount = series('discount');
  const billed = series('listPrice').map((value, t) => value * (1 - at(discount, t)));
  // A year's list price is for twelve months.
  const price = set.billing === 'yearly' ? billed.map((value) => value / PREPAID_TERM) : billed;
  const { changesOver } = stream.settings ?? {};
  const { term = PREPAID_TERM, countedFrom } = set;
  const changedFrom = changedInto(stretch, until, known);
  const input = {
    opening: openingOf(stretch, at(price, 0)),
    starters: stream.settings?.funnel
      ? (funnelNumbers(throughFunnel(stretch)).stages.at(-1) ?? new Float64Array(count - open))
      : series('newSubscribers'),
    churn: curveOf(set),
    churnFactor: set.churn === 'byAge' ? undefined : series('churnRate'),
    price,
    pricePolicy: set.pricePolicy,
    term: set.term,
    promotionMonths: set.churn === 'whole' ? undefined : series('promotionMonths'),
    promotionOff: set.churn === 'whole' ? undefined : series('promotionOff'),
    expansion: series('expansionRate'),
    contraction: series('contractionRate'),
    changedIn: changedFrom.length === 0 ? undefined : sumOf(changedFrom, count - open),
    changes: changesOver,
    whole:
      set.churn === 'whole'
        ? { every: term, first: countedFrom ? monthFrom(countedFrom) - first - open : 0 }
        : undefined,
  };
  return { input, changedFrom };
}

function sumOf(all: readonly ChangedFrom[], months: number): Float64Array {
  const sum = new Float64Array(months);
  for (const { series } of all) series.forEach((value, t) => (sum[t] = at(sum, t) + value));
  return sum;
}

/**
 * How each subscription was computed last. Whatever is asked of it next is mostly the same, and what
 * is typed changes months from one on: those before it stand. It rests on its inputs alone.
 */
const RUNS = new WeakMap<Stream, CohortRun>();

/** Computes a subscription over its open months. */
export function subscriptionNumbers(stretch: Stretch): SubscriptionNumbers {
  const { stream, open, count } = stretch;
  const set = subscriptionOf(stream);
  const { input, changedFrom } = inputOf(stretch, count - open, new Map());
  const run = runOf(input, RUNS.get(stream));
  RUNS.set(stream, run);
  const { movement } = run;
  if (set.billing === 'monthly')
    return { run, input, changedFrom, movement, prepaid: null, begun: null };
  const begun = termsBegun(input);
  const annual = Float64Array.from(input.price, (price) => price * PREPAID_TERM);
  return {
    run,
    input,
    changedFrom,
    movement,
    begun,
    prepaid: billedAhead(begun, annual, deferredOf(stretch, input.opening)),
  };
}

/** What one source of new subscribers comes to; the last is what was under way when it began. */
export interface SubscriptionSource {
  readonly name: string;
  readonly starters: Float64Array;
  /** What those who came from it bring: what is earned, or billed, as the revenue of the stream. */
  readonly revenue: Float64Array;
  /** What was spent to win them. */
  readonly cost: Float64Array;
}

/**
 * New subscribers, what they bring and what they cost, source by source; with what was under way they
 * add up to those of the stream. Without a funnel there is one source, which costs nothing.
 */
export function subscriptionSources(
  stretch: Stretch,
  { input }: Pick<SubscriptionNumbers, 'input'>,
): SubscriptionSource[] {
  const { stream, open, count } = stretch;
  const { funnel } = stream.settings ?? {};
  const set = subscriptionOf(stream);
  const none = new Float64Array(count - open);
  const bringing = (starters: ArrayLike<number>): Float64Array => {
    const alone = {
      ...{ ...input, starters, changedIn: undefined },
      opening: { ...input.opening, byAge: [] },
    };
    if (set.billing === 'monthly') return movementOf(alone).revenue.closing;
    const annual = Float64Array.from(input.price, (price) => price * PREPAID_TERM);
    const { billed, earned } = billedAhead(termsBegun(alone), annual);
    return countsBilled(set) ? billed : earned;
  };
  if (!funnel) {
    const starters = Float64Array.from(input.starters);
    return [{ name: 'New subscribers', starters, revenue: bringing(starters), cost: none }];
  }
  const left = Float64Array.from(input.starters);
  const through = throughFunnel(stretch);
  const sources = funnel.sources.map(({ name }, index): SubscriptionSource => {
    const { stages, costs, chains, spent } = funnelNumbers(through, index);
    const starters = stages.at(-1) ?? none;
    starters.forEach((value, t) => (left[t] = (left[t] ?? 0) - value));
    const all = [spent[index] ?? none, ...(chains[index]?.costs ?? []), ...costs];
    const cost = none.map((_, t) => all.reduce((sum, one) => sum + (one[t] ?? Number.NaN), 0));
    return { name, starters, revenue: bringing(starters), cost };
  });
  if (left.every((value) => Math.abs(value) < 1e-9)) return sources;
  return [...sources, { name: UNDER_WAY, starters: left, revenue: bringing(left), cost: none }];
}

/** What whole customers cannot have: nobody knows when each of them came. */
function wholeMistakes({ billing, pricePolicy }: Subscription, changes: boolean) {
  const cannot = [
    ...(billing === 'yearly' ? ['be billed a year ahead'] : []),
    ...(pricePolicy === 'current' ? [] : ['keep an earlier price']),
    ...(changes ? ['change over at an age'] : []),
  ];
  return cannot.map((what) => `Customers who leave whole have no age: they cannot ${what}`);
}

/** Why a subscription cannot be computed as it is set, in words. */
export function subscriptionMistakes(stream: Stream): string[] {
  const set = subscriptionOf(stream);
  const { changesOver } = stream.settings ?? {};
  const wrong = churnProblems(curveOf(set)).map(({ message }) => `Churn: ${message}`);
  const ages = (set.opening ?? []).findIndex((count) => !(count >= 0));
  return [
    ...wrong,
    ...(set.churn === 'whole' ? wholeMistakes(set, changesOver !== undefined) : []),
    ...(changesOver?.combination === stream.combination
      ? ['Subscribers change over to another forecast line, not to their own']
      : []),
    ...(ages < 0 ? [] : [`The opening base has no count of 0 or more at age ${ages}`]),
  ];
}
