/** Sales lines of a month: documents of customers, with credit notes for returns. */
import { divide, monthInYear, monthText, yearOf, type Month } from '@dravex/core';
import { CHANNELS, SELLERS, type Line } from './company.ts';
import { discount, expectedUnits, listPrice, returnRate } from './demand.ts';
import type { Random } from './random.ts';
import { cohortsIn } from './subscribers.ts';

export const HEADER =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number,customer,seller';

export interface SalesLine {
  readonly date: string;
  readonly line: Line;
  readonly quantity: number;
  /** In cents. */
  readonly netAmount: number;
  readonly cost: number;
  readonly document: string;
  readonly lineNumber: number;
  readonly customer: string;
  readonly seller: string;
}

function euros(cents: number): string {
  return (cents / 100).toFixed(2);
}

/** A sales line as a row of a file. */
export function toRow(sale: SalesLine): string {
  const { channel, product, group, region } = sale.line;
  return [
    sale.date,
    channel,
    product.code,
    group,
    region,
    sale.quantity,
    euros(sale.netAmount),
    euros(sale.cost),
    sale.document,
    sale.lineNumber,
    sale.customer,
    sale.seller,
  ].join(',');
}

function daysIn(month: Month): number {
  return new Date(Date.UTC(yearOf(month), monthInYear(month), 0)).getUTCDate();
}

function sellerOf(line: Line, date: string): string {
  const seller = SELLERS.find((s) => s.region === line.region && s.channel === line.channel);
  return seller && (seller.left === undefined || date <= seller.left) ? seller.code : '';
}

function customerOf(line: Line, random: Random): string {
  if (line.channel === 'web') return '';
  const count = { stores: 9, trade: 14, office: 22 }[line.channel];
  return `${line.channel.slice(0, 2).toUpperCase()}-${line.region.slice(0, 2).toUpperCase()}-${String(random.between(1, count)).padStart(3, '0')}`;
}

/** Writes a stretch of months' sales lines; documents are numbered through the year. */
export class SalesBook {
  readonly #next = new Map<string, number>();
  readonly #lastInDocument = new Map<string, number>();

  constructor(private readonly random: Random) {}

  #document(prefix: string, month: Month): { document: string; lineNumber: number } {
    const key = `${prefix}${monthText(month).replace('-', '')}`;
    // About three lines share a document.
    const number = this.#next.get(key) ?? 1;
    const document = `${key}-${String(number).padStart(4, '0')}`;
    const lineNumber = (this.#lastInDocument.get(document) ?? 0) + 1;
    this.#lastInDocument.set(document, lineNumber);
    if (this.random.next() < 0.34) this.#next.set(key, number + 1);
    return { document, lineNumber };
  }

  #sale(line: Line, month: Month, day: number, quantity: number, customer: string): SalesLine {
    const date = `${monthText(month)}-${String(day).padStart(2, '0')}`;
    const price = listPrice(line.product, month);
    const rebate = Math.min(0.95, discount(line, month) * this.random.around(0.02));
    const prefix = quantity < 0 ? 'C' : line.channel === 'web' ? 'W' : 'R';
    return {
      date,
      line,
      quantity,
      netAmount: Math.round(quantity * price * (1 - rebate) * 100),
      cost: Math.round(quantity * price * line.product.costShare * 100),
      ...this.#document(prefix, month),
      customer,
      seller: sellerOf(line, date),
    };
  }

  /**
   * Sales of one combination in a month.
   * @param lastDay for a month that has only begun
   */
  month(line: Line, month: Month, lastDay = daysIn(month)): SalesLine[] {
    const part = lastDay / daysIn(month);
    if (line.product.code === 'plan-month') return this.#subscriptions(line, month, lastDay);
    const units = Math.round(expectedUnits(line, month) * this.random.around(0.035) * part);
    if (units <= 0) return [];
    const wanted = Math.max(1, Math.round(CHANNELS[line.channel].linesAMonth * part));
    const weights = Array.from({ length: Math.min(wanted, units) }, () => 0.4 + this.random.next());
    const sales = divide(units, weights)
      .filter((quantity) => quantity > 0)
      .map((quantity) => {
        const day = this.random.between(1, lastDay);
        return this.#sale(line, month, day, quantity, customerOf(line, this.random));
      });
    const returned = Math.round(units * returnRate(line) * this.random.around(0.1));
    if (returned > 0) {
      const day = this.random.between(Math.min(5, lastDay), lastDay);
      sales.push(this.#sale(line, month, day, -returned, customerOf(line, this.random)));
    }
    return sales;
  }

  /** Subscriptions are billed on the fifth, one line a cohort. */
  #subscriptions(line: Line, month: Month, lastDay: number): SalesLine[] {
    if (lastDay < 5) return [];
    return cohortsIn(line, month)
      .filter(({ active }) => active > 0)
      .map(({ cohort, active }) =>
        this.#sale(
          line,
          month,
          5,
          active,
          cohort === null ? 'before 2023-04' : `from ${monthText(cohort)}`,
        ),
      );
  }
}

/** The months of the history, oldest first. */
export function historyMonths(first: Month, closed: Month): Month[] {
  return Array.from({ length: closed - first + 1 }, (_, index) => first + index);
}
