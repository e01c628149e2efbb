/** Measured facts besides sales: how they roll up, what accounts come to. */
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
