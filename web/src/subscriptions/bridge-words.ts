import { BRIDGE_STEPS, type SubscriptionBridge } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { longMonth } from '../format/periods.ts';

/** The last period of which the version knows something; -1 for none. */
export const lastKnown = ({ plan, now }: Pick<SubscriptionBridge, 'plan' | 'now'>): number =>
  plan.findLastIndex((value, at) => value !== null && now[at] !== null);

/**
 * Why recurring revenue ends above or below a version, in a sentence: the steps that make most of it.
 * It is that of the last month that both know.
 * @param version the version's name
 */
export function bridgeInWords(
  { periods, plan, now, steps }: Pick<SubscriptionBridge, 'periods' | 'plan' | 'now' | 'steps'>,
  version: string,
  formats: Pick<Formats, 'inWords'>,
): string {
  const end = lastKnown({ plan, now });
  const [planned = null, stands = null, period] = [plan[end], now[end], periods[end]];
  if (planned === null || stands === null || !period)
    return `${version} does not hold these months`;
  const difference = stands - planned;
  // What rounds to nothing is no difference.
  const least = Math.abs(planned) * 0.0005;
  const parts = steps
    .map(({ step, values }) => ({
      name: BRIDGE_STEPS[step].toLowerCase(),
      value: values[end] ?? 0,
    }))
    .filter(({ value }) => Math.abs(value) > least)
    .sort((a, b) => Math.abs(b.value) - Math.abs(a.value))
    .map(
      ({ name, value }) => `${name} ${value > 0 ? '+' : '−'}${formats.inWords(Math.abs(value))}`,
    );
  const why = parts.length > 0 ? `: ${parts.join(', ')}` : '';
  const start = `Recurring revenue in ${longMonth(period.to)} is`;
  if (Math.abs(difference) <= least) return `${start} as in ${version}${why}`;
  const size = formats.inWords(Math.abs(difference));
  return `${start} ${size} ${difference > 0 ? 'over' : 'under'} ${version}${why}`;
}
