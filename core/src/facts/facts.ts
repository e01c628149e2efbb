/** Measured facts besides sales: how they roll up, who subscribes, what accounts come to. */
import { monthFrom, type Month } from '../calendar/month.ts';
import { overTime, ratio, type Nature } from '../measures/nature.ts';

/**
 * What a measure is by its name, until somebody says otherwise: scores are set and never rolled
 * up, bases stand, rates are ratios, everything else flows.
 */
export function likelyNature(name: string): Nature {
  if (/score|satisf|rating|index|note/i.test(name)) return 'level';
  if (/active|subscribers|stock|backlog|headcount|base\b/i.test(name)) return 'stock';
  if (/rate|share|quota|percent|%/i.test(name)) return 'ratio';
  return 'flow';
}

/**
 * A fact over several months by its nature: a flow adds, a stock is that of the last month that has
 * one, a level or a ratio without its parts has a value only where it is one month.
 * @param values by month, null where nothing was measured
 */
export function factOverTime(nature: Nature, values: readonly (number | null)[]): number | null {
  const givenValues = values.filter((value): value is number => value !== null);
  if (givenValues.length === 0) return null;
  return nature === 'ratio' ? overTime('level', givenValues) : overTime(nature, givenValues);
}

/** A subscriber: the day of the start, and of leaving, null for who is still there. */
export interface SubscriberSpan {
  readonly start: string;
  readonly end: string | null;
}

/** Subscribers of a month: opening + new - lost = closing. */
export interface SubscriberMonth {
  readonly month: Month;
  readonly opening: number;
  readonly added: number;
  readonly lost: number;
  readonly closing: number;
}

/**
 * Subscribers by month. Nobody leaves in the month of the start: who starts and ends in the same
 * month counts as lost in the next one, as a cohort has it.
 */
export function subscriberMonths(
  subscribers: readonly SubscriberSpan[],
  from: Month,
  to: Month,
): SubscriberMonth[] {
  const count = to - from + 1;
  const added = new Array<number>(count).fill(0);
  const lost = new Array<number>(count).fill(0);
  let opening = 0;
  for (const { start, end } of subscribers) {
    const begin = monthFrom(start.slice(0, 7));
    const left = end === null ? Infinity : Math.max(begin + 1, monthFrom(end.slice(0, 7)));
    if (begin < from && left >= from) opening += 1;
    if (begin >= from && begin <= to) added[begin - from] = (added[begin - from] ?? 0) + 1;
    if (left >= from && left <= to) lost[left - from] = (lost[left - from] ?? 0) + 1;
  }
  const months: SubscriberMonth[] = [];
  for (let t = 0; t < count; t += 1) {
    const before = months.at(-1)?.closing ?? opening;
    const closing = before + (added[t] ?? 0) - (lost[t] ?? 0);
    months.push({
      month: from + t,
      opening: before,
      added: added[t] ?? 0,
      lost: lost[t] ?? 0,
      closing,
    });
  }
  return months;
}

/** An account of the ledger and what it came to; in minor units, with the ledger's own sign. */
export interface LedgerSum {
  readonly account: string;
  readonly kind: 'revenue' | 'expense';
  readonly amount: number;
}

/**
 * Amounts without the ledger's sign, and each account's share of revenue. An account that the
 * ledger has mostly negative is a credit; revenue is shown positive, and so is an expense.
 */
export function ledgerShares(
  sums: readonly LedgerSum[],
): { account: string; amount: number; share: number | null }[] {
  const positive = sums.map((sum) => ({
    ...sum,
    amount: sum.kind === 'revenue' && sum.amount < 0 ? -sum.amount : sum.amount,
  }));
  const revenue = positive
    .filter(({ kind }) => kind === 'revenue')
    .reduce((all, { amount }) => all + amount, 0);
  return positive.map(({ account, amount }) => ({
    account,
    amount,
    share: ratio(amount, revenue),
  }));
}
