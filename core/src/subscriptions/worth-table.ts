/** Where subscribers come from, what winning them costs, and what they are worth, for a scope. */
import type { Period, Span } from '../calendar/period.ts';
import {
  subscriptionSources,
  type SubscriptionNumbers,
  type SubscriptionSource,
} from '../forecast/methods/subscription-numbers.ts';
import type { Stretch } from '../forecast/methods/method.ts';
import { ratio, valueOrNull } from '../measures/nature.ts';
import { netRevenueRetention, worthOf, type Worth } from './measures.ts';

/** A source of new subscribers over the periods of a table; of one name those of all streams. */
export interface SourceLine {
  readonly name: string;
  readonly starters: PeriodValues;
  readonly revenue: PeriodValues;
  readonly cost: PeriodValues;
  /** What winning one cost: cost / starters; null for nobody, or for nothing spent. */
  readonly costOfOne: PeriodValues;
}

/** A number a period, and over all of them. */
export interface PeriodValues {
  readonly values: readonly (number | null)[];
  readonly total: number | null;
}

/** A subscription with the stretch that it is computed over. */
export interface ComputedSubscription {
  readonly stretch: Stretch;
  readonly numbers: SubscriptionNumbers;
}

/** Sums of a series over periods and over all of them. */
const over = (
  of: (span: Span) => number | null,
  periods: readonly Period[],
  all: Span,
): PeriodValues => ({ values: periods.map(of), total: of(all) });

const summed = (series: Float64Array, { from, to }: Span, first: number): number => {
  let sum = 0;
  for (let t = from - first; t <= to - first; t += 1) sum += series[t] ?? Number.NaN;
  return sum;
};

/**
 * New subscribers, the revenue that they bring and what they cost, by source. With those who were
 * under way they add up to the new subscribers of the scope.
 * @param first the first open month
 */
export function sourceLines(
  computed: readonly ComputedSubscription[],
  periods: readonly Period[],
  all: Span,
  first: number,
): SourceLine[] {
  const byName = new Map<string, Omit<SubscriptionSource, 'name'>>();
  const add = (sum: Float64Array, series: Float64Array): Float64Array =>
    sum.map((value, t) => value + (series[t] ?? Number.NaN));
  for (const { stretch, numbers } of computed) {
    for (const { name, ...source } of subscriptionSources(stretch, numbers)) {
      const known = byName.get(name);
      byName.set(
        name,
        known
          ? {
              starters: add(known.starters, source.starters),
              revenue: add(known.revenue, source.revenue),
              cost: add(known.cost, source.cost),
            }
          : source,
      );
    }
  }
  return [...byName].map(([name, { starters, revenue, cost }]) => ({
    name,
    starters: over((span) => valueOrNull(summed(starters, span, first)), periods, all),
    revenue: over((span) => valueOrNull(summed(revenue, span, first)), periods, all),
    cost: over((span) => valueOrNull(summed(cost, span, first)), periods, all),
    costOfOne: over(
      (span) => {
        const spent = summed(cost, span, first);
        return spent === 0 ? null : ratio(spent, summed(starters, span, first));
      },
      periods,
      all,
    ),
  }));
}

/** What keeping and losing come to in a period, as parts. Null where there is nothing to divide by. */
export interface RateLine {
  readonly code: 'logoChurn' | 'revenueChurn' | 'netRetention';
  readonly name: string;
  readonly values: readonly (number | null)[];
  readonly total: number | null;
}

/**
 * Logo churn = lost / opening; revenue churn = (lost + contraction) / opening; net revenue retention =
 * (opening - lost + expansion - contraction) / opening. Of a period with several months, what was
 * lost in all of them over what was there at its start.
 */
export function rateLines(
  computed: readonly ComputedSubscription[],
  periods: readonly Period[],
  all: Span,
  first: number,
): RateLine[] {
  const sum = (of: (numbers: SubscriptionNumbers) => Float64Array, span: Span): number =>
    computed.reduce((total, { numbers }) => total + summed(of(numbers), span, first), 0);
  const atStart = (of: (numbers: SubscriptionNumbers) => Float64Array, { from }: Span): number =>
    sum(of, { from, to: from });
  const opening = (span: Span): number => atStart((n) => n.movement.revenue.opening, span);
  const lost = (span: Span): number => sum((n) => n.movement.revenue.lost, span);
  const more = (span: Span): number => sum((n) => n.movement.revenue.expansion, span);
  const less = (span: Span): number => sum((n) => n.movement.revenue.contraction, span);
  return [
    {
      code: 'logoChurn',
      name: 'Subscriber churn',
      ...over(
        (span) =>
          ratio(
            sum((n) => n.movement.lost, span),
            atStart((n) => n.movement.opening, span),
          ),
        periods,
        all,
      ),
    },
    {
      code: 'revenueChurn',
      name: 'Revenue churn',
      ...over((span) => ratio(lost(span) + less(span), opening(span)), periods, all),
    },
    {
      code: 'netRetention',
      name: 'Net revenue retention',
      ...over(
        (span) => netRevenueRetention(opening(span), lost(span), more(span), less(span)),
        periods,
        all,
      ),
    },
  ];
}

/** What a new subscriber of a scope is worth, and what winning one costs; null where nothing divides. */
export interface WorthOfOne extends Worth {
  /** What one pays a month, at the end of the span. */
  readonly price: number | null;
  /** The part of it that is left after cost of sales. */
  readonly margin: number | null;
  /** What winning one cost over the span, all sources. */
  readonly acquisitionCost: number | null;
}

/**
 * What one new subscriber is worth.
 * @param lifetime in months, of new subscribers and churn at the end of the span
 * @param sold revenue and cost of sales of the streams in the last month, which say the margin
 */
export function worthOfOne(
  computed: readonly ComputedSubscription[],
  sources: readonly SourceLine[],
  lifetime: number | null,
  t: number,
  sold: { readonly revenue: number; readonly cost: number },
): WorthOfOne {
  const at = (of: (numbers: SubscriptionNumbers) => Float64Array): number =>
    computed.reduce((sum, { numbers }) => sum + (of(numbers)[t] ?? Number.NaN), 0);
  const price = ratio(
    at((n) => n.movement.revenue.closing),
    at((n) => n.movement.active),
  );
  const margin = ratio(sold.revenue - sold.cost, sold.revenue);
  const sum = (of: (line: SourceLine) => number | null): number =>
    sources.reduce((all, line) => all + (of(line) ?? Number.NaN), 0);
  const spent = sum(({ cost }) => cost.total);
  const acquisitionCost =
    spent === 0
      ? null
      : ratio(
          spent,
          sum(({ starters }) => starters.total),
        );
  const known = price !== null && margin !== null;
  const worth = known ? worthOf(price, margin, lifetime, acquisitionCost) : NOTHING;
  return { price, margin, acquisitionCost, ...worth, lifetime };
}
const NOTHING = { lifetimeValue: null, monthsToPayBack: null };
