import { fiscalYearSpan } from '../calendar/period.ts';
import { monthFrom, type Month } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { inScope } from '../dimensions/row-tree.ts';
import type { Model } from '../forecast/run.ts';
import { ratio } from '../measures/nature.ts';
import { actualFigures, forecastFigures, type Figures } from '../tables/figures.ts';

/** Sales of one seller in one combination and month, in minor units. */
export interface SellerSales {
  readonly seller: string;
  readonly combination: number;
  readonly month: Month;
  readonly revenue: number;
}

/** Whose numbers: everything in a scope, or what one seller sold in it. */
export interface Holder {
  readonly scope: Scope;
  readonly seller: string | null;
  /** The last month of somebody who leaves; nothing is forecast of them after it. */
  readonly until: Month | null;
}

/** Months of a fiscal year: how many there are, and how many of them are closed. */
const YEAR = 12;

/** Where somebody stands in a fiscal year, month by month; in currency units. */
export interface YearMonths {
  /** Actual sales of the twelve months of the year before. */
  readonly before: readonly number[];
  /** Actual sales of the closed months of the year. */
  readonly actual: readonly number[];
  /** Forecast of the scope in the open months of the year. */
  readonly ahead: readonly number[];
  /** Of what is ahead, the holder's part, as a fraction: 1 for a scope. */
  readonly aheadShare: number;
}

/** Answers for one fiscal year where anybody in the target tree stands. */
export class YearStandings {
  readonly #actual: Figures;
  readonly #forecast: Figures;
  readonly #closed: Month;
  readonly #start: Month;
  readonly #sales = new Map<string, SellerSales[]>();

  /**
   * @param model evaluated
   * @param sellerSales of the same sales: all, or those in the books
   * @param books whether only what is in the books counts, and nothing that was entered by hand
   */
  constructor(
    private readonly model: Model,
    sellerSales: readonly SellerSales[],
    fiscalYear: number,
    books = false,
  ) {
    const { calendar } = model.plan;
    this.#actual = actualFigures(model.plan, books);
    this.#forecast = forecastFigures(model, this.#actual);
    this.#closed = monthFrom(calendar.closedThrough);
    this.#start = fiscalYearSpan(fiscalYear, calendar.fiscalStart).from;
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

  /** Closed months of the year, 0 to 12. */
  get closedMonths(): number {
    return Math.min(YEAR, Math.max(0, this.#closed - this.#start + 1));
  }

  /** Actual or forecast of a scope by month. A missing forecast is left out. */
  #months(figures: Figures, scope: Scope, from: Month, to: Month): number[] {
    const months = new Array<number>(Math.max(0, to - from + 1)).fill(0);
    for (const index of inScope(this.model.tree, figures.combinations, scope)) {
      for (let month = from; month <= to; month += 1) {
        const t = month - figures.first;
        if (t < 0 || t >= figures.count) continue;
        const place = month - from;
        const value = figures.measures.revenue[index * figures.count + t] || 0;
        months[place] = (months[place] ?? 0) + value;
      }
    }
    return months;
  }

  #sold({ scope, seller }: Holder, from: Month, to: Month): number[] {
    if (seller === null) return this.#months(this.#actual, scope, from, to);
    const { combinations, currency } = this.model.plan;
    const held = inScope(this.model.tree, combinations, scope);
    const inside = new Set([...held].map((index) => combinations[index]?.id ?? -1));
    const months = new Array<number>(Math.max(0, to - from + 1)).fill(0);
    for (const { combination, month, revenue } of this.#sales.get(seller) ?? []) {
      if (month < from || month > to || !inside.has(combination)) continue;
      months[month - from] = (months[month - from] ?? 0) + revenue;
    }
    return months.map((minor) => minor / 10 ** currency.minorDigits);
  }

  /**
   * Where a holder stands. A seller's forecast is the forecast of the scope times the seller's
   * share of its last twelve closed months; nothing where the scope sold nothing, and nothing after
   * the month in which the seller leaves.
   */
  of(holder: Holder): YearMonths {
    const end = this.#start + YEAR - 1;
    const open = Math.max(this.#start, this.#closed + 1);
    const until = holder.until ?? end;
    return {
      before: this.#sold(holder, this.#start - YEAR, this.#start - 1),
      actual: this.#sold(holder, this.#start, Math.min(end, this.#closed)),
      ahead: this.#months(this.#forecast, holder.scope, open, end).map((value, place) =>
        open + place <= until ? value : 0,
      ),
      aheadShare: this.#share(holder),
    };
  }

  #share(holder: Holder): number {
    if (holder.seller === null) return 1;
    const from = this.#closed - YEAR + 1;
    const whole = sum(this.#months(this.#actual, holder.scope, from, this.#closed));
    return ratio(sum(this.#sold(holder, from, this.#closed)), whole) ?? 0;
  }
}

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);
