/** Subscription: new subscribers by cohort, what they pay, and when they leave. */
import { explainRevenue, explainSubscribers } from './explain-subscription.ts';
import { funnelActsOn, funnelMistakes } from './funnel.ts';
import { at, type Method } from './method.ts';
import {
  countsBilled,
  driversOf,
  subscriptionMistakes,
  subscriptionNumbers,
  subscriptionOf,
  throughFunnel,
} from './subscription-numbers.ts';

/**
 * Subscription: units are active subscribers, revenue is what is earned in the month; or the terms
 * that begin and what is billed for them.
 */
export const subscription: Method = {
  code: 'subscription',
  name: 'Subscription',
  when: 'Customers pay every month or year until they leave.',
  needs: 'New subscribers, a list price, and how many leave.',
  writes: ['units', 'revenue'],
  inputs: driversOf,
  feeds({ settings }) {
    const { combination, age } = settings?.changesOver ?? {};
    return combination === undefined || age === undefined ? [] : [{ combination, lag: age }];
  },
  mistakes: subscriptionMistakes,
  problems: ({ stream }) => (stream.settings?.funnel ? funnelMistakes(stream.settings.funnel) : []),
  compute(stretch) {
    const { stream, results, from, to, open } = stretch;
    const { movement, prepaid, begun } = subscriptionNumbers(stretch);
    const billed = countsBilled(subscriptionOf(stream));
    const units = billed && begun ? begun : movement.active;
    const ahead = billed ? prepaid?.billed : prepaid?.earned;
    const revenue = ahead ?? movement.revenue.closing;
    for (let t = from; t < to; t += 1) {
      results.units[t] = at(units, t - open);
      results.revenue[t] = at(revenue, t - open);
    }
  },
  actsOn(code, stretch, t) {
    if (code === 'churnRate' || code === 'expansionRate' || code === 'contractionRate') {
      return at(subscriptionNumbers(stretch).movement.opening, t - stretch.open);
    }
    return stretch.stream.settings?.funnel
      ? funnelActsOn(code, throughFunnel(stretch), t)
      : undefined;
  },
  explain: (result, explaining) =>
    result === 'units' ? explainSubscribers(explaining) : explainRevenue(explaining),
};
