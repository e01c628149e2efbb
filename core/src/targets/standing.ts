import { fiscalYearSpan } from '../calendar/period.ts';
import { monthFrom, type Month } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { Model } from '../forecast/run.ts';
import { actualFigures, forecastFigures, type Figures } from '../tables/figures.ts';
import { ratio } from '../measures/nature.ts';
import { targetFigures } from './target-figures.ts';
import { inScope } from '../dimensions/row-tree.ts';

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
}

/** Where somebody stands in a fiscal year; in currency units. */
export interface YearStanding {
  /** Actual sales of the whole year before. */
  readonly lastYear: number;
  /** Actual sales of the closed months of the year. */
  readonly actual: number;
  /** Forecast of the scope in the open months of the year. */
  readonly ahead: number;
  /** Of what is ahead, the holder's part, as a fraction: 1 for a scope. */
  readonly aheadShare: number;
  /** Actual of the closed months and forecast of the open ones. */
  readonly outlook: number;
}

/** Answers for one fiscal year where anybody in the target tree stands. */
export class YearStandings {
  readonly #actual: Figures;
  readonly #forecast: Figures;
  readonly #closed: Month;
  readonly #start: Month;

  /**
   * @param model evaluated
   * @param sellerSales of the same sales: all, or those in the books
   * @param books whether only what is in the books counts, and nothing that was entered by hand
   */
  constructor(
    private readonly model: Model,
    private readonly sellerSales: readonly SellerSales[],
    private readonly fiscalYear: number,
    books = false,
  ) {
    const { calendar } = model.plan;
    this.#actual = actualFigures(model.plan, books);
    this.#forecast = forecastFigures(model, this.#actual);
    this.#closed = monthFrom(calendar.closedThrough);
    this.#start = fiscalYearSpan(fiscalYear, calendar.fiscalStart).from;
  }

  /** Actual and forecast of a scope. A missing forecast is left out. */
  #sum(figures: Figures, scope: Scope, from: Month, to: Month): number {
    let sum = 0;
    for (const index of inScope(this.model.tree, figures.combinations, scope)) {
      for (let month = from; month <= to; month += 1) {
        const t = month - figures.first;
        if (t < 0 || t >= figures.count) continue;
        sum += figures.measures.revenue[index * figures.count + t] || 0;
      }
    }
    return sum;
  }

  #sold({ scope, seller }: Holder, from: Month, to: Month): number {
    if (seller === null) return this.#sum(this.#actual, scope, from, to);
    const held = inScope(this.model.tree, this.model.plan.combinations, scope);
    const inside = new Set([...held].map((index) => this.model.plan.combinations[index]?.id ?? -1));
    let minor = 0;
    for (const sale of this.sellerSales) {
      const counts = sale.seller === seller && inside.has(sale.combination);
      if (counts && sale.month >= from && sale.month <= to) minor += sale.revenue;
    }
    return minor / 10 ** this.model.plan.currency.minorDigits;
  }

  /**
   * Where a holder stands. A seller's forecast is the forecast of the scope times the seller's
   * share of its last twelve closed months; nothing where the scope sold nothing.
   */
  of(holder: Holder): YearStanding {
    const end = this.#start + 11;
    const closedEnd = Math.min(end, this.#closed);
    const actual = this.#sold(holder, this.#start, closedEnd);
    const ahead = this.#sum(
      this.#forecast,
      holder.scope,
      Math.max(this.#start, this.#closed + 1),
      end,
    );
    const aheadShare = this.#share(holder);
    return {
      ahead,
      aheadShare,
      lastYear: this.#sold(holder, this.#start - 12, this.#start - 1),
      actual,
      outlook: actual + ahead * aheadShare,
    };
  }

  #share(holder: Holder): number {
    if (holder.seller === null) return 1;
    const from = this.#closed - 11;
    const whole = this.#sum(this.#actual, holder.scope, from, this.#closed);
    return ratio(this.#sold(holder, from, this.#closed), whole) ?? 0;
  }

  /**
   * Which part of a year's sales its closed months have by the season of the year before, as a
   * fraction; null when nothing was sold then.
   */
  due(): number | null {
    const one = { fiscalYear: this.fiscalYear, objective: 1 };
    const phased = targetFigures(this.model.plan, this.#forecast, one);
    const end = Math.min(this.#start + 11, this.#closed);
    return this.#sum(this.#forecast, [], this.#start - 12, this.#start - 1) > 0
      ? this.#sum(phased, [], this.#start, end)
      : null;
  }
}
