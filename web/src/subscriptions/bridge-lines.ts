import { BRIDGE_STEPS, type SubscriptionBridge } from '@dravex/core';
import { WORDS } from '../format/words.ts';
import type { Line } from '../grid/grid-file.ts';
import { lastKnown } from './bridge-words.ts';
import { TEXTS } from './texts.ts';

/** A version, and how the forecast differs from it; no bridge where it was kept without subscriptions. */
export interface Against {
  readonly name: string;
  readonly bridge: SubscriptionBridge | undefined;
}

interface BridgeLine {
  readonly name: string;
  readonly values: readonly (number | null)[];
  /** Of the last period that both know, or of all that they know. */
  readonly total: number | null;
  readonly strong: boolean;
}
export interface BridgeGroup {
  readonly title: string;
  readonly display: 'money' | 'units';
  readonly lines: readonly BridgeLine[];
}

/** What lies between a version and the forecast, line by line. */
export function bridgeLines(version: string, bridge: SubscriptionBridge): BridgeGroup[] {
  const { plan, now, steps, starters } = bridge;
  const end = lastKnown(bridge);
  const line = (
    name: string,
    values: readonly (number | null)[],
    total: number | null,
    strong = false,
  ): BridgeLine => ({ name, values, total, strong });
  const stock = (name: string, values: readonly (number | null)[], strong = false): BridgeLine =>
    line(name, values, values[end] ?? null, strong);
  const flow = (name: string, values: readonly (number | null)[], strong = false): BridgeLine => {
    const known = values.slice(0, end + 1);
    const whole = known.length > 0 && known.every((value) => value !== null);
    const sum = known.reduce<number>((all, value) => all + (value ?? 0), 0);
    return line(name, values, whole ? sum : null, strong);
  };
  const more = starters.now.map((value, place) => {
    const planned = starters.plan[place] ?? null;
    return value === null || planned === null ? null : value - planned;
  });
  return [
    {
      title: TEXTS.recurringRevenue,
      display: 'money',
      lines: [
        stock(version, plan, true),
        ...steps.map(({ step, values }) => stock(BRIDGE_STEPS[step], values)),
        stock(WORDS.forecast, now, true),
      ],
    },
    {
      title: WORDS.newSubscribers,
      display: 'units',
      lines: [
        flow(version, starters.plan),
        flow(WORDS.forecast, starters.now),
        flow(TEXTS.variance, more, true),
      ],
    },
  ];
}

/** The same as lines of a file, numbers in full. @param currency of the money */
export function bridgeFileLines({ name, bridge }: Against, currency: string): Line[] {
  if (!bridge) return [];
  return [
    [TEXTS.of, TEXTS.line, WORDS.unit, ...bridge.periods.map(({ key }) => key), WORDS.total],
    ...bridgeLines(name, bridge).flatMap(({ title, display, lines }) =>
      lines.map((line) => [
        ...[title, line.name, display === 'money' ? currency : 'subscribers'],
        ...line.values,
        line.total,
      ]),
    ),
  ];
}
