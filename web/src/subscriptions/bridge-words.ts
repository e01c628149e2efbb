import { BRIDGE_STEPS, type SubscriptionBridge } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';

/**
 * Why recurring revenue ends above or below a version, in a sentence: the steps that make most of it.
 * @param version the version's name
 * @param month in which it ends, in words
 */
export function bridgeInWords(
  { plan, now, steps }: SubscriptionBridge,
  version: string,
  month: string,
  formats: Pick<Formats, 'inWords'>,
): string {
  const [planned, stands] = [plan.at(-1) ?? null, now.at(-1) ?? null];
  if (planned === null || stands === null) return `${version} does not hold these months`;
  const difference = stands - planned;
  // What rounds to nothing is no difference.
  const least = Math.abs(planned) * 0.0005;
  const parts = steps
    .map(({ step, values }) => ({
      name: BRIDGE_STEPS[step].toLowerCase(),
      value: values.at(-1) ?? 0,
    }))
    .filter(({ value }) => Math.abs(value) > least)
    .sort((a, b) => Math.abs(b.value) - Math.abs(a.value))
    .map(
      ({ name, value }) => `${name} ${value > 0 ? '+' : '−'}${formats.inWords(Math.abs(value))}`,
    );
  const why = parts.length > 0 ? `: ${parts.join(', ')}` : '';
  if (Math.abs(difference) <= least)
    return `Recurring revenue in ${month} is as in ${version}${why}`;
  const size = formats.inWords(Math.abs(difference));
  const side = difference > 0 ? 'over' : 'under';
  return `Recurring revenue in ${month} is ${size} ${side} ${version}${why}`;
}
