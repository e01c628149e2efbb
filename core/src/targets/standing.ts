import { fiscalYearSpan } from '../calendar/period.ts';
import { monthFrom, type Month } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { inScope } from '../dimensions/row-tree.ts';
import type { Model } from '../forecast/run.ts';
import type { BridgeItem } from '../comparison/bridge.ts';
import { ratio } from '../measures/nature.ts';
import { subscriberFigures } from '../subscriptions/figures.ts';
import { actualFigures, forecastFigures, seriesOf, type Figures } from '../tables/figures.ts';
import { meaningOf, type TargetMeasure } from './target-measure.ts';

/** Sales of one seller to one account in one combination and month; money in minor units. */
export interface SellerSales {
  readonly seller: string;
  /** The customer's code where a target counts it by itself; empty for all others. */
  readonly account: string;
  readonly combination: number;
  readonly month: Month;
  readonly revenue: number;
  readonly units: number;
  readonly cost: number;
}

/** Subscribers who started, by the combination and month. */
export interface NewSubscribers {
  readonly combination: number;
  readonly month: Month;
  readonly count: number;
}

/** Whose numbers: everything in a scope, or what one seller sold in it, all or to one account. */
export interface Holder {
  readonly scope: Scope;
  readonly seller: string | null;
  readonly account: string | null;
  /** The first month of somebody who joins; nothing is forecast of them before it. */
  readonly from: Month | null;
  /** The last month of somebody who leaves; nothing is forecast of them after it. */
  readonly until: Month | null;
  /** What of it counts elsewhere: more particular parts of the same seller. */
  readonly less: readonly Pick<Holder, 'scope' | 'account'>[];
}

/** Months of a fiscal year: how many there are, and how many of them are closed. */
export const YEAR = 12;

/** Where somebody stands in a fiscal year, month by month; in currency units, units or subscribers. */
export interface YearMonths {
  /** Actual of the twelve months of the year before. */
  readonly before: readonly number[];
  /** Actual of the closed months of the year. */
  readonly actual: readonly number[];
  /** Forecast of the scope in the open months of the year. */
  readonly ahead: readonly number[];
  /** Of what is ahead, the holder's part, as a fraction: 1 for a scope. */
  readonly aheadShare: number;
  /** The most of any twelve months in a row up to the last closed one. */
  readonly best: number;
}

/** What a holder sold of one combination in the closed months, beside the same months of last year. */
export interface ItemSales extends BridgeItem {
  /** The combination's place in the plan. */
  readonly place: number;
}

export interface StandingsOf {
  /** What is counted; revenue where nothing is said. */
  readonly measure?: TargetMeasure;
  /** Whether only what is in the books counts, and nothing that was entered by hand. */
  readonly books?: boolean;
  /** Who started, by their records; for objectives of new subscribers. */
  readonly started?: readonly NewSubscribers[];
}

/** By combination and month, months innermost. */
interface Series {
  readonly actual: Float64Array;
  readonly forecast: Float64Array;
}

/** Answers for one fiscal year and one measure where anybody in the target tree stands. */
export class YearStandings {
  readonly measure: TargetMeasure;
  readonly #series: Series;
  readonly #units: Float64Array;
  readonly #first: Month;
  readonly #closed: Month;
  readonly #start: Month;
  readonly #sales = new Map<string, SellerSales[]>();
  readonly #held = new Map<string, ReadonlySet<number>>();
  readonly #sums = new Map<string, Float64Array>();
  readonly #placeOf: ReadonlyMap<number, number>;
  readonly #minor: number;

  /**
   * @param model evaluated
   * @param sellerSales of the same sales: all, or those in the books
   */
  constructor(
    private readonly model: Model,
    sellerSales: readonly SellerSales[],
    fiscalYear: number,
    { measure = 'revenue', books = false, started = [] }: StandingsOf = {},
  ) {
    const { calendar, combinations, currency } = model.plan;
    this.#placeOf = new Map(combinations.map(({ id }, index) => [id, index]));
    this.#minor = 10 ** currency.minorDigits;
    this.measure = measure;
    this.#first = monthFrom(calendar.first);
    this.#closed = monthFrom(calendar.closedThrough);
    this.#start = fiscalYearSpan(fiscalYear, calendar.fiscalStart).from;
    const sold = actualFigures(model.plan, books);
    this.#units = sold.measures.units;
    this.#series = this.#read(sold, started);
    for (const sale of sellerSales) {
      const known = this.#sales.get(sale.seller);
      if (known) known.push(sale);
      else this.#sales.set(sale.seller, [sale]);
    }
  }

  /** The sellers whose codes sales lines bear. */
  get sellers(): ReadonlySet<string> {
    return new Set(this.#sales.keys());
  }

  /** The first month of the year. */
  get start(): Month {
    return this.#start;
  }

  /** Closed months of the year, 0 to 12. */
  get closedMonths(): number {
    return Math.min(YEAR, Math.max(0, this.#closed - this.#start + 1));
  }

  /** Whether it is known what a holder stands at: of subscribers nobody knows the seller. */
  knows({ seller }: Pick<Holder, 'seller'>): boolean {
    return this.measure !== 'score' && (seller === null || meaningOf(this.measure).bySeller);
  }

  #read(sold: Figures, started: readonly NewSubscribers[]): Series {
    const { plan, count } = this.model;
    const { measure } = this;
    if (measure === 'score') return { actual: new Float64Array(), forecast: new Float64Array() };
    if (measure === 'recurringRevenue') {
      const { recurring } = subscriberFigures(this.model).of;
      return { actual: recurring, forecast: recurring };
    }
    if (measure === 'newSubscribers') {
      const actual = new Float64Array(plan.combinations.length * count);
      for (const { combination, month, count: some } of started) {
        const index = this.#placeOf.get(combination);
        const t = month - this.#first;
        if (index === undefined || t < 0 || t >= count) continue;
        actual[index * count + t] = (actual[index * count + t] ?? 0) + some;
      }
      return { actual, forecast: subscriberFigures(this.model).of.starters };
    }
    const ahead = forecastFigures(this.model, sold);
    return { actual: seriesOf(sold, measure), forecast: seriesOf(ahead, measure) };
  }

  #inside(scope: Scope): ReadonlySet<number> {
    const key = scope.join();
    const known = this.#held.get(key);
    if (known) return known;
    const held = new Set(inScope(this.model.tree, this.model.plan.combinations, scope));
    this.#held.set(key, held);
    return held;
  }

  /** Actual or forecast of a scope in all months of the plan, summed once. What is missing is left out. */
  #seriesIn(which: keyof Series, scope: Scope): Float64Array {
    const key = `${which} ${scope.join()}`;
    const known = this.#sums.get(key);
    if (known) return known;
    const { count } = this.model;
    const series = this.#series[which];
    const sums = new Float64Array(count);
    for (const index of this.#inside(scope)) {
      for (let t = 0; t < count; t += 1) {
        sums[t] = (sums[t] ?? 0) + (series[index * count + t] || 0);
      }
    }
    this.#sums.set(key, sums);
    return sums;
  }

  #valueOf({ revenue, units, cost }: SellerSales): number {
    if (this.measure === 'units') return units;
    return (this.measure === 'margin' ? revenue - cost : revenue) / this.#minor;
  }

  /** The sales that count for a seller or a part of one, each with its combination's place. */
  *#salesOf({ scope, seller, account, less }: Holder): Iterable<[SellerSales, number]> {
    const held = this.#inside(scope);
    const elsewhere = less.map((part) => ({ ...part, held: this.#inside(part.scope) }));
    for (const sale of this.#sales.get(seller ?? '') ?? []) {
      if (account !== null && sale.account !== account) continue;
      const place = this.#placeOf.get(sale.combination) ?? -1;
      if (!held.has(place)) continue;
      const counted = elsewhere.some(
        (part) => (part.account === null || part.account === sale.account) && part.held.has(place),
      );
      if (!counted) yield [sale, place];
    }
  }

  /** What a holder sold in all months of the plan, summed once. */
  #soldBy(holder: Holder): Float64Array {
    const { scope, seller, account, less } = holder;
    if (seller === null) return this.#seriesIn('actual', scope);
    const key = JSON.stringify([seller, account, scope, less]);
    const known = this.#sums.get(key);
    if (known) return known;
    const sums = new Float64Array(this.model.count);
    this.#sums.set(key, sums);
    if (!meaningOf(this.measure).bySeller) return sums;
    for (const [sale] of this.#salesOf(holder)) {
      const t = sale.month - this.#first;
      if (t >= 0 && t < sums.length) sums[t] = (sums[t] ?? 0) + this.#valueOf(sale);
    }
    return sums;
  }

  /** Some months of a series; 0 outside the plan. */
  #stretch(series: Float64Array, from: Month, to: Month): number[] {
    const months: number[] = [];
    for (let month = from; month <= to; month += 1) months.push(series[month - this.#first] ?? 0);
    return months;
  }

  /**
   * Where a holder stands. A seller's forecast is the forecast of the scope times the seller's
   * share of its last twelve closed months; nothing where the scope sold nothing, and nothing
   * before the month in which the seller joins and after the one in which the seller leaves.
   */
  of(holder: Holder): YearMonths {
    const end = this.#start + YEAR - 1;
    const open = Math.max(this.#start, this.#closed + 1);
    const { from, until } = holder;
    const there = (month: Month): boolean => month >= (from ?? month) && month <= (until ?? month);
    const sold = this.#soldBy(holder);
    const ahead = this.#stretch(this.#seriesIn('forecast', holder.scope), open, end);
    return {
      before: this.#stretch(sold, this.#start - YEAR, this.#start - 1),
      actual: this.#stretch(sold, this.#start, Math.min(end, this.#closed)),
      ahead: ahead.map((value, place) => (there(open + place) ? value : 0)),
      aheadShare: this.#share(holder, sold),
      best: bestYear(this.#stretch(sold, this.#first, this.#closed)),
    };
  }

  /**
   * What a holder sold by combination in the closed months of the year, and in the same months of the
   * year before as what was planned; in the measure, and in units.
   * @param closed how many months count
   * @param skip how many of them are left out at the beginning
   */
  itemsOf(holder: Holder, closed: number, skip = 0): ItemSales[] {
    const items = new Map<number, { units: number[]; values: number[] }>();
    const take = (place: number, month: Month, units: number, value: number): void => {
      const year = month >= this.#start ? 1 : 0;
      const at = month - this.#start + (year === 1 ? 0 : YEAR);
      if (at < skip || at >= closed) return;
      const item = items.get(place) ?? { units: [0, 0], values: [0, 0] };
      item.units[year] = (item.units[year] ?? 0) + units;
      item.values[year] = (item.values[year] ?? 0) + value;
      items.set(place, item);
    };
    if (holder.seller === null) {
      const { count } = this.model;
      for (const place of this.#inside(holder.scope)) {
        for (let month = this.#start - YEAR; month < this.#start + closed; month += 1) {
          const t = month - this.#first;
          if (t < 0 || t >= count) continue;
          const at = place * count + t;
          take(place, month, this.#units[at] || 0, this.#series.actual[at] || 0);
        }
      }
    } else {
      for (const [sale, place] of this.#salesOf(holder)) {
        take(place, sale.month, sale.units, this.#valueOf(sale));
      }
    }
    return [...items].map(([place, { units, values }]) => ({
      place,
      plannedUnits: units[0] ?? 0,
      plannedRevenue: values[0] ?? 0,
      units: units[1] ?? 0,
      revenue: values[1] ?? 0,
    }));
  }

  #share(holder: Holder, sold: Float64Array): number {
    if (holder.seller === null) return 1;
    const last = (series: Float64Array): number =>
      sum(this.#stretch(series, this.#closed - YEAR + 1, this.#closed));
    return ratio(last(sold), last(this.#seriesIn('actual', holder.scope))) ?? 0;
  }
}

/** The most of any twelve months in a row; of all there are where there are fewer. */
export function bestYear(months: readonly number[]): number {
  let running = sum(months.slice(0, YEAR));
  let best = running;
  for (let end = YEAR; end < months.length; end += 1) {
    running += (months[end] ?? 0) - (months[end - YEAR] ?? 0);
    best = Math.max(best, running);
  }
  return best;
}

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);
