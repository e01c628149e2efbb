/** The subscriptions of a scope as tables: how subscribers and recurring revenue move, and cohorts. */
import { periodsOf, type Grain, type Period, type Span } from '../calendar/period.ts';
import type { Month } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import {
  subscriptionNumbers,
  type SubscriptionNumbers,
} from '../forecast/methods/subscription-numbers.ts';
import { stretchOf, type Model } from '../forecast/run.ts';
import { streamsIn } from '../forecast/structure.ts';
import { valueOrNull, type Nature } from '../measures/nature.ts';
import { cohortTable } from './cohorts.ts';
import { leadsTo, lifetimeOf, type LeadsTo } from './leads-to.ts';
import {
  rateLines,
  sourceLines,
  worthOfOne,
  type RateLine,
  type SourceLine,
  type WorthOfOne,
} from './worth-table.ts';

/** What a line of a movement counts. */
export type SubscriptionLineCode =
  | 'opening'
  | 'starters'
  | 'lost'
  | 'changedIn'
  | 'changedOut'
  | 'active'
  | 'revenueOpening'
  | 'new'
  | 'priceChange'
  | 'expansion'
  | 'contraction'
  | 'revenueLost'
  | 'revenueChangedIn'
  | 'revenueChangedOut'
  | 'revenueClosing'
  | 'billed'
  | 'earned'
  | 'deferred';

export interface SubscriptionLine {
  readonly code: SubscriptionLineCode;
  readonly name: string;
  readonly display: 'units' | 'money';
  /** Opening takes the first month of a period, a flow all of them, a stock the last. */
  readonly takes: 'first' | Extract<Nature, 'flow' | 'stock'>;
  /** By period; null where something is missing. */
  readonly values: readonly (number | null)[];
  readonly total: number | null;
}

/** A cohort of all streams of the scope that started in a month. */
export interface CohortLine {
  readonly start: Month;
  /** Whether it was there before the first open month. */
  readonly before: boolean;
  readonly size: number;
  /** By month of the span; null before it started. */
  readonly active: readonly (number | null)[];
  /** The recurring revenue that they bring. */
  readonly revenue: readonly (number | null)[];
}

export interface SubscriptionTable {
  readonly periods: readonly Period[];
  readonly lines: readonly SubscriptionLine[];
  readonly cohorts: readonly CohortLine[];
  /** Whether customers of some streams leave whole: they are in no cohort. */
  readonly withoutCohorts: boolean;
  /** The months of the cohorts' columns. */
  readonly months: readonly Month[];
  /** New subscribers, what they bring and cost, by source. */
  readonly sources: readonly SourceLine[];
  /** Churn and retention of each period. */
  readonly rates: readonly RateLine[];
  /** What a new subscriber is worth at the end of the span; null without a subscription. */
  readonly worth: WorthOfOne | null;
  /** What new subscribers and churn of the last month of the span lead to. */
  readonly leadsTo: LeadsTo | null;
  /** The combinations of the streams of the scope that are subscriptions. */
  readonly combinations: readonly number[];
}

/** Lines that are shown only where somebody changes plans. */
const CHANGED: ReadonlySet<SubscriptionLineCode> = new Set([
  ...(['changedIn', 'changedOut', 'revenueChangedIn', 'revenueChangedOut'] as const),
]);

type Takes = SubscriptionLine['takes'];
const LINES: readonly {
  readonly code: SubscriptionLineCode;
  readonly name: string;
  readonly display: 'units' | 'money';
  readonly takes: Takes;
  readonly of: (numbers: SubscriptionNumbers) => Float64Array | undefined;
}[] = [
  ...subscribers('opening', 'Subscribers before', 'first', ({ movement }) => movement.opening),
  ...subscribers('starters', 'New', 'flow', ({ movement }) => movement.starters),
  ...subscribers('lost', 'Lost', 'flow', ({ movement }) => movement.lost),
  ...subscribers('changedIn', 'From another plan', 'flow', (n) => n.movement.changedIn),
  ...subscribers('changedOut', 'To another plan', 'flow', (n) => n.movement.changedOut),
  ...subscribers('active', 'Active subscribers', 'stock', ({ movement }) => movement.active),
  ...money(
    'revenueOpening',
    'Recurring revenue before',
    'first',
    (n) => n.movement.revenue.opening,
  ),
  ...money('new', 'New', 'flow', (n) => n.movement.revenue.new),
  ...money('priceChange', 'Price change', 'flow', (n) => n.movement.revenue.priceChange),
  ...money('expansion', 'Expansion', 'flow', (n) => n.movement.revenue.expansion),
  ...money('contraction', 'Contraction', 'flow', (n) => n.movement.revenue.contraction),
  ...money('revenueLost', 'Lost', 'flow', (n) => n.movement.revenue.lost),
  ...money('revenueChangedIn', 'From another plan', 'flow', (n) => n.movement.revenue.changedIn),
  ...money('revenueChangedOut', 'To another plan', 'flow', (n) => n.movement.revenue.changedOut),
  ...money('revenueClosing', 'Recurring revenue', 'stock', (n) => n.movement.revenue.closing),
  ...money('billed', 'Billed', 'flow', (n) => n.prepaid?.billed ?? n.movement.revenue.closing),
  ...money('earned', 'Earned', 'flow', (n) => n.prepaid?.earned ?? n.movement.revenue.closing),
  ...money('deferred', 'Deferred revenue', 'stock', (n) => n.prepaid?.deferred),
];

function subscribers(
  code: SubscriptionLineCode,
  name: string,
  takes: Takes,
  of: (numbers: SubscriptionNumbers) => Float64Array | undefined,
) {
  return [{ code, name, display: 'units' as const, takes, of }];
}
function money(
  code: SubscriptionLineCode,
  name: string,
  takes: Takes,
  of: (numbers: SubscriptionNumbers) => Float64Array | undefined,
) {
  return [{ code, name, display: 'money' as const, takes, of }];
}

/** What a line comes to over some months. */
function over(series: Float64Array, takes: Takes, from: number, to: number): number {
  if (takes === 'first') return series[from] ?? Number.NaN;
  if (takes === 'stock') return series[to] ?? Number.NaN;
  let sum = 0;
  for (let t = from; t <= to; t += 1) sum += series[t] ?? Number.NaN;
  return sum;
}

/**
 * Adds up the subscriptions of a scope over the open months of a span. Every period balances, as
 * every month does.
 * @param model evaluated
 */
export function subscriptionTable(
  model: Model,
  scope: Scope,
  span: Span,
  grain: Grain,
): SubscriptionTable {
  const first = model.first + model.open;
  const open = { from: Math.max(span.from, first), to: span.to };
  const indexes = streamsIn(model, scope).filter((index) => {
    const compiled = model.streams[index];
    return compiled?.stream.method === 'subscription' && compiled.mistakes.length === 0;
  });
  const empty = {
    ...{ periods: [], lines: [], cohorts: [], withoutCohorts: false, months: [], leadsTo: null },
    ...{ sources: [], rates: [], worth: null },
  };
  const combinations = indexes.flatMap((index) => model.streams[index]?.combination.id ?? []);
  if (open.from > open.to) return { ...empty, combinations };
  const computed = indexes.map((index) => {
    const stretch = stretchOf(model, index);
    return { stretch, numbers: subscriptionNumbers(stretch) };
  });
  const numbers = computed.map((one) => one.numbers);
  const months = model.count - model.open;
  const periods = periodsOf(open, grain, model.plan.calendar.fiscalStart);
  const changing = indexes.some((index) => {
    const { stream, givers = [] } = model.streams[index] ?? {};
    return stream?.settings?.changesOver !== undefined || givers.length > 0;
  });
  const shown = LINES.filter(({ code }) => changing || !CHANGED.has(code));
  const lines = shown.map(({ code, name, display, takes, of }): SubscriptionLine => {
    const sum = new Float64Array(months);
    for (const one of numbers) of(one)?.forEach((value, t) => (sum[t] = (sum[t] ?? 0) + value));
    const inSpan = ({ from, to }: Span): number | null =>
      valueOrNull(over(sum, takes, from - first, to - first));
    return { code, name, display, takes, values: periods.map(inSpan), total: inSpan(open) };
  });
  const leads = leadsTo(computed, open.to - first, first);
  const sources = sourceLines(computed, periods, open, first);
  const last = model.open + open.to - first;
  const sold = (code: 'revenue' | 'cost'): number =>
    indexes.reduce((sum, index) => sum + (model.results[code][index]?.[last] ?? Number.NaN), 0);
  return {
    periods,
    lines,
    ...cohortLines(numbers, first, open),
    withoutCohorts: numbers.some(({ input }) => input.whole !== undefined),
    sources,
    rates: rateLines(computed, periods, open, first),
    worth:
      computed.length === 0
        ? null
        : worthOfOne(computed, sources, lifetimeOf(leads), open.to - first, {
            revenue: sold('revenue'),
            cost: sold('cost'),
          }),
    leadsTo: leads,
    combinations,
  };
}

function cohortLines(
  numbers: readonly SubscriptionNumbers[],
  first: Month,
  { from, to }: Span,
): Pick<SubscriptionTable, 'cohorts' | 'months'> {
  const months = Array.from({ length: to - from + 1 }, (_, at) => from + at);
  interface Sums {
    size: number;
    readonly active: (number | null)[];
    readonly revenue: (number | null)[];
  }
  const byStart = new Map<number, Sums>();
  const none = (): null[] => months.map(() => null);
  for (const { input } of numbers) {
    for (const { start, size, ...series } of cohortTable(input)) {
      if (first + start > to) continue;
      const line = byStart.get(start) ?? { size: 0, active: none(), revenue: none() };
      byStart.set(start, line);
      line.size += size;
      for (const of of ['active', 'revenue'] as const) {
        months.forEach((month, at) => {
          const value = series[of][month - first];
          if (value === undefined || Number.isNaN(value)) return;
          line[of][at] = (line[of][at] ?? 0) + value;
        });
      }
    }
  }
  const cohorts = [...byStart]
    .sort(([one], [other]) => one - other)
    .map(([start, line]) => ({ start: first + start, before: start < 0, ...line }));
  return { cohorts, months };
}
