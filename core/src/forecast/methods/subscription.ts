/** Subscription: new subscribers by cohort, what they pay, and when they leave. */
import {
  billedAhead,
  movementOf,
  PREPAID_TERM,
  stillToEarn,
  termsBegun,
  type Movement,
  type Prepaid,
  type SubscriptionInput,
} from '../../subscriptions/cohorts.ts';
import { churnProblems, type Churn } from '../../subscriptions/survival.ts';
import type { TraceNode } from '../../trace/trace.ts';
import type { Stream, Subscription } from '../plan.ts';
import { at, type Explaining, type Explanation, type Method, type Stretch } from './method.ts';

const USUAL: Subscription = { churn: 'constant', pricePolicy: 'current', billing: 'monthly' };
export const subscriptionOf = ({ settings }: Stream): Subscription =>
  settings?.subscription ?? USUAL;

/** The drivers it reads. Where each age has a rate of its own, none is read from the driver. */
function driversOf(stream: Stream): string[] {
  const all = ['newSubscribers', 'listPrice', 'discount', 'expansionRate', 'contractionRate'];
  return subscriptionOf(stream).churn === 'byAge' ? all : [...all, 'churnRate'];
}

/** The curve by which subscribers leave; of one rate a month the driver says how many. */
function curveOf({ churn, rates = [], term = PREPAID_TERM }: Subscription): Churn {
  switch (churn) {
    case 'byAge':
      return { kind: 'byAge', rates };
    case 'atRenewal':
      return { kind: 'atRenewal', term, rate: 1 };
    case 'constant':
      return { kind: 'constant', rate: 1 };
  }
}

/** Everything a subscription comes to, over the open months. */
export interface SubscriptionNumbers {
  readonly input: SubscriptionInput;
  readonly movement: Movement;
  /** Of yearly billing; null where each month is billed by itself. */
  readonly prepaid: Prepaid | null;
}

/**
 * Computes a subscription over its open months. Those who were there are its opening base: an age
 * table where one is set, else the units of the last closed month as one cohort.
 */
export function subscriptionNumbers(stretch: Stretch): SubscriptionNumbers {
  const { stream, inputs, results, open, count } = stretch;
  const set = subscriptionOf(stream);
  const codes = driversOf(stream);
  const series = (code: string): Float64Array =>
    (inputs[codes.indexOf(code)] ?? new Float64Array(count)).subarray(open, count);
  const discount = series('discount');
  const price = series('listPrice').map((value, t) => value * (1 - at(discount, t)));
  const units = open > 0 ? at(results.units, open - 1) : 0;
  const revenue = open > 0 ? at(results.revenue, open - 1) : 0;
  const input: SubscriptionInput = {
    opening: {
      byAge: set.opening ?? (units > 0 ? [units] : []),
      // What is billed ahead in a month says nothing of what a subscriber pays a month.
      price: units > 0 && set.billing === 'monthly' ? revenue / units : at(price, 0),
    },
    starters: series('newSubscribers'),
    churn: curveOf(set),
    churnFactor: set.churn === 'byAge' ? undefined : series('churnRate'),
    price,
    pricePolicy: set.pricePolicy,
    term: set.term,
    promotion: set.promotion,
    expansion: series('expansionRate'),
    contraction: series('contractionRate'),
  };
  const movement = movementOf(input);
  if (set.billing === 'monthly') return { input, movement, prepaid: null };
  const annual = price.map((value) => value * PREPAID_TERM);
  const before = set.deferred ?? stillToEarn(input.opening);
  return { input, movement, prepaid: billedAhead(termsBegun(input), annual, before) };
}

/** A number that follows from the cohorts. */
const counted = (
  stream: Stream,
  label: string,
  display: TraceNode['display'],
  value: number | undefined,
): TraceNode => ({
  label,
  display,
  value: value === undefined || Number.isNaN(value) ? null : value,
  incomplete: value === undefined || Number.isNaN(value),
  shape: 'value',
  parts: [],
  source: { kind: 'cohorts', stream: stream.id },
});
const less = (node: TraceNode): TraceNode => ({
  ...node,
  label: `Less ${node.label.toLowerCase()}`,
  value: node.value === null ? null : -node.value,
  shape: 'apply',
  operation: 'negate',
  parts: [node],
});

function explainSubscribers({ stretch, t, driver }: Explaining): Explanation {
  const { stream, open } = stretch;
  const { movement } = subscriptionNumbers(stretch);
  const month = t - open;
  const opening = counted(stream, 'Subscribers before', 'units', movement.opening[month]);
  const lost = counted(stream, 'Lost', 'units', movement.lost[month]);
  // With one rate, those who leave are a part of those who were there.
  const left: TraceNode =
    subscriptionOf(stream).churn === 'constant'
      ? { ...lost, shape: 'product', parts: [opening, driver('churnRate')] }
      : lost;
  return { shape: 'plus', parts: [opening, driver('newSubscribers'), less(left)] };
}

function explainRevenue({ stretch, t }: Explaining): Explanation {
  const { stream, open } = stretch;
  const { movement, prepaid } = subscriptionNumbers(stretch);
  const month = t - open;
  const money = (label: string, series: Float64Array): TraceNode =>
    counted(stream, label, 'money', series[month]);
  if (prepaid) {
    return { shape: 'plus', parts: [money('Earned of what was billed', prepaid.earned)] };
  }
  const { revenue } = movement;
  return {
    shape: 'plus',
    parts: [
      money('Recurring revenue before', revenue.opening),
      money('New', revenue.new),
      money('Price change', revenue.priceChange),
      money('Expansion', revenue.expansion),
      less(money('Contraction', revenue.contraction)),
      less(money('Lost', revenue.lost)),
    ],
  };
}

/** Subscription: units are active subscribers, revenue is what is earned in the month. */
export const subscription: Method = {
  code: 'subscription',
  name: 'Subscription',
  when: 'Customers pay every month or year until they leave.',
  needs: 'New subscribers, a list price, and how many leave.',
  writes: ['units', 'revenue'],
  inputs: driversOf,
  mistakes(stream) {
    const set = subscriptionOf(stream);
    const wrong = churnProblems(curveOf(set)).map(({ message }) => `Churn: ${message}`);
    const ages = (set.opening ?? []).findIndex((count) => !(count >= 0));
    return [
      ...wrong,
      ...(ages < 0 ? [] : [`The opening base has no count of 0 or more at age ${ages}`]),
    ];
  },
  compute(stretch) {
    const { results, from, to, open } = stretch;
    const { movement, prepaid } = subscriptionNumbers(stretch);
    const revenue = prepaid?.earned ?? movement.revenue.closing;
    for (let t = from; t < to; t += 1) {
      results.units[t] = at(movement.active, t - open);
      results.revenue[t] = at(revenue, t - open);
    }
  },
  actsOn(code, stretch, t) {
    if (code !== 'churnRate' && code !== 'expansionRate' && code !== 'contractionRate') {
      return undefined;
    }
    return at(stretch.results.units, t - 1);
  },
  explain: (result, explaining) =>
    result === 'units' ? explainSubscribers(explaining) : explainRevenue(explaining),
};
