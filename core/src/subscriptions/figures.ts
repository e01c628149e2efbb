/** Subscribers and recurring revenue by combination and month, for tables of any rows and columns. */
import {
  countsBilled,
  subscriptionNumbers,
  subscriptionOf,
} from '../forecast/methods/subscription-numbers.ts';
import type { Stream } from '../forecast/plan.ts';
import { stretchOf, type Model } from '../forecast/run.ts';
import type { SubscriberPart } from '../measures/catalogue.ts';
import { ratio } from '../measures/nature.ts';
import { monthFrom } from '../calendar/month.ts';
import type { Source, VersionAt } from '../sources/source.ts';
import { seriesYearLater } from '../tables/figures.ts';
import type { Movement } from './movement.ts';
import type { RecordedMonths } from './observed.ts';
import { PREPAID_TERM } from './prepaid.ts';
import { revenueKept } from './measures.ts';

/** What a movement has of each month. */
const PARTS = {
  active: ({ active }) => active,
  opening: ({ opening }) => opening,
  starters: ({ starters }) => starters,
  lost: ({ lost }) => lost,
  changedIn: ({ changedIn }) => changedIn,
  changedOut: ({ changedOut }) => changedOut,
  recurring: ({ revenue }) => revenue.closing,
  revenueOpening: ({ revenue }) => revenue.opening,
  entered: ({ revenue }) => revenue.new,
  priceChange: ({ revenue }) => revenue.priceChange,
  revenueLost: ({ revenue }) => revenue.lost,
  expansion: ({ revenue }) => revenue.expansion,
  contraction: ({ revenue }) => revenue.contraction,
  revenueIn: ({ revenue }) => revenue.changedIn,
  revenueOut: ({ revenue }) => revenue.changedOut,
} as const satisfies Record<string, (movement: Movement) => Float64Array>;
export type SubscriberSeries = keyof typeof PARTS;
type Part = SubscriberSeries;
/** The series that are known of a subscription. */
export const SUBSCRIBER_SERIES = Object.keys(PARTS) as [Part, ...Part[]];

/** Series by combination and month, months innermost. NaN where nothing is known. */
export interface SubscriberFigures {
  readonly count: number;
  readonly of: Readonly<Record<Part, Float64Array>>;
  /** The places of the combinations that are forecast as subscriptions. */
  readonly places: ReadonlySet<number>;
}

/** How many months a unit of a subscription stands for: one, or a term where terms are counted. */
export function termCounted(stream: Stream): number {
  return countsBilled(subscriptionOf(stream)) ? PREPAID_TERM : 1;
}

/**
 * Lays the subscriptions of a plan out. Closed months have the movement that subscriber records say,
 * and none without records. Who is active in them, and what that brings, is what was sold: a
 * subscriber is a unit a month, or a term of twelve months.
 * @param model evaluated
 * @param recorded how subscribers moved in closed months, as far as records say
 */
export function subscriberFigures(model: Model, recorded?: RecordedMonths): SubscriberFigures {
  const { count, open } = model;
  const combinations = model.plan.combinations.length;
  const place = new Map(model.plan.combinations.map(({ id }, index) => [id, index]));
  const of = {} as Record<Part, Float64Array>;
  for (const code of SUBSCRIBER_SERIES) of[code] = new Float64Array(combinations * count);
  const places = new Set<number>();
  model.streams.forEach(({ stream, combination, mistakes }, index) => {
    const at = place.get(combination.id);
    if (stream.method !== 'subscription' || mistakes.length > 0 || at === undefined) return;
    places.add(at);
    const stretch = stretchOf(model, index);
    const { movement } = subscriptionNumbers(stretch);
    for (const code of SUBSCRIBER_SERIES) {
      of[code].fill(Number.NaN, at * count, at * count + open);
      of[code].set(PARTS[code](movement), at * count + open);
    }
    const { units, revenue } = stretch.results;
    const term = termCounted(stream);
    for (let t = term - 1; t < open; t += 1) {
      const last = (series: Float64Array): number =>
        series.subarray(t - term + 1, t + 1).reduce((sum, value) => sum + value, 0);
      of.active[at * count + t] = last(units);
      of.recurring[at * count + t] = last(revenue) / term;
    }
  });
  recorded?.combination.forEach((id, row) => {
    const at = place.get(id);
    const t = monthFrom(recorded.month[row] ?? '') - model.first;
    if (at === undefined || !places.has(at) || !(t >= 0 && t < open)) return;
    of.opening[at * count + t] = recorded.opening[row] ?? Number.NaN;
    of.starters[at * count + t] = recorded.added[row] ?? Number.NaN;
    of.lost[at * count + t] = recorded.lost[row] ?? Number.NaN;
  });
  return { count, of, places };
}

/** Subscriptions of which every month has what there was a year before; of the first twelve nothing is known. */
export function subscribersYearLater({ count, of, places }: SubscriberFigures): SubscriberFigures {
  const later = {} as Record<Part, Float64Array>;
  for (const code of SUBSCRIBER_SERIES) later[code] = seriesYearLater(of[code], count, Number.NaN);
  return { count, of: later, places };
}

/**
 * The subscriptions of a source: those of the plan, which in closed months are what happened; those
 * that a version kept; or any of them a year before. Undefined where a source has none.
 */
export function subscribersOfSource(
  source: Source,
  ofPlan: () => SubscriberFigures,
  ofVersion: (version: VersionAt) => SubscriberFigures | undefined,
): SubscriberFigures | undefined {
  switch (source.kind) {
    case 'actual':
    case 'forecast':
      return ofPlan();
    case 'version':
      return ofVersion(source);
    case 'yearBefore': {
      const before = subscribersOfSource(source.of, ofPlan, ofVersion);
      return before && subscribersYearLater(before);
    }
    case 'target':
      return undefined;
  }
}

const summed = (
  { of, count }: SubscriberFigures,
  code: Part,
  held: readonly number[],
  from: number,
  to: number,
): number => {
  let total = 0;
  for (const index of held) {
    for (let t = from; t <= to; t += 1) total += of[code][index * count + t] ?? Number.NaN;
  }
  return total;
};

/**
 * What moved one line from the start of some open months to their end: labels, numbers, and whether
 * they are taken away. Added up they are the active subscribers, the recurring revenue, or who is new.
 */
export function movedParts(
  figures: SubscriberFigures,
  part: SubscriberPart,
  index: number,
  from: number,
  to: number,
): (readonly [label: string, value: number, leaves: boolean])[] {
  const all = (code: Part): number => summed(figures, code, [index], from, to);
  const start = (code: Part): number => summed(figures, code, [index], from, from);
  if (part === 'starters') return [['New subscribers', all('starters'), false]];
  // Only where anybody changes plans.
  const changed = ([into, out]: readonly [number, number]) =>
    [
      ['From another plan', into, false],
      ['To another plan', out, true],
    ].filter(([, value]) => value !== 0) as [string, number, boolean][];
  return part === 'active'
    ? [
        ['Subscribers before', start('opening'), false],
        ['New', all('starters'), false],
        ['Lost', all('lost'), true],
        ...changed([all('changedIn'), all('changedOut')]),
      ]
    : [
        ['Recurring revenue before', start('revenueOpening'), false],
        ['New', all('entered'), false],
        ['Price change', all('priceChange'), false],
        ['Expansion', all('expansion'), false],
        ['Contraction', all('contraction'), true],
        ['Lost', all('revenueLost'), true],
        ...changed([all('revenueIn'), all('revenueOut')]),
      ];
}

/** What a churn or a retention is one over the other of. */
export function ratioParts(
  figures: SubscriberFigures,
  part: SubscriberPart,
  held: readonly number[],
  from: number,
  to: number,
): (readonly [label: string, display: 'units' | 'money', value: number])[] {
  const all = (code: Part): number => summed(figures, code, held, from, to);
  const start = (code: Part): number => summed(figures, code, held, from, from);
  if (part === 'churn') {
    return [
      ['Lost', 'units', all('lost')],
      ['Subscribers before', 'units', start('opening')],
    ];
  }
  const before = start('revenueOpening');
  const kept = revenueKept(before, all('revenueLost'), all('expansion'), all('contraction'));
  return [
    ['Recurring revenue kept', 'money', kept],
    ['Recurring revenue before', 'money', before],
  ];
}

/** A number of some combinations over some months, and whether a part of it is missing. */
export interface SubscriberSum {
  readonly value: number | null;
  readonly incomplete: boolean;
}

/** What a measure comes to over some lines; NaN where a part of it is missing. */
function numberOf(
  figures: SubscriberFigures,
  part: SubscriberPart,
  held: readonly number[],
  from: number,
  to: number,
): number {
  if (part === 'churn' || part === 'netRetention') {
    const [[, , above = 0] = [], [, , below = 0] = []] = ratioParts(figures, part, held, from, to);
    return Number.isNaN(above + below) ? Number.NaN : (ratio(above, below) ?? Infinity);
  }
  const start = part === 'starters' ? from : to;
  return summed(figures, part, held, start, to);
}

/** Those of some combinations that are subscriptions of which nothing is missing in the months. */
export function knownOf(
  figures: SubscriberFigures,
  part: SubscriberPart,
  held: readonly number[],
  from: number,
  to: number,
): number[] {
  return held.filter((index) => !Number.isNaN(numberOf(figures, part, [index], from, to)));
}

/**
 * What a measure of subscriptions comes to. Active subscribers and recurring revenue are those of the
 * last month; new subscribers add; churn and retention are parts of what was there at the start. A
 * line of which something is missing is left out, and that is said.
 * @param from the first month, as an index from the plan's first one; `to` the last
 */
export function subscriberSum(
  figures: SubscriberFigures,
  part: SubscriberPart,
  parts: Iterable<number>,
  from: number,
  to: number,
): SubscriberSum {
  const held = [...parts].filter((index) => figures.places.has(index));
  const first = Math.max(0, from);
  const known = knownOf(figures, part, held, first, to);
  const incomplete = known.length < held.length;
  if (known.length === 0) return { value: null, incomplete };
  const value = numberOf(figures, part, known, first, to);
  const nothing = !Number.isFinite(value) || (incomplete && value === 0);
  return { value: nothing ? null : value, incomplete };
}
