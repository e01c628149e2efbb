/** A budget by the accounts of the ledger, and what the books have on them. */
import type { BudgetCell } from '../budgets/cell.ts';
import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { narrowestOf, ScopesCross } from '../dimensions/narrowest.ts';

/** The account on which revenue of a scope is booked. */
export interface AccountScope {
  readonly scope: Scope;
  readonly account: string;
}

/** Revenue by month of a stretch, in minor units. */
export interface AccountMonths {
  readonly account: string;
  readonly months: readonly number[];
}

/** A budget's revenue by account; money in minor units. */
export interface BudgetByAccount {
  readonly accounts: readonly AccountMonths[];
  /** What no account holds, and what two hold of which neither is the narrower, by month. */
  readonly without: readonly number[];
  readonly unclear: readonly number[];
  /** The combinations of each, by ids. */
  readonly withoutLines: readonly number[];
  readonly unclearLines: readonly number[];
}

/**
 * The revenue of a budget's cells by account: each line is on that of the narrowest scope that holds
 * it. Nothing is divided, so that all of it adds up to the budget.
 * @param membersOf of a combination
 */
export function budgetByAccount(
  tree: MemberTree,
  membersOf: (combination: number) => Scope,
  cells: readonly BudgetCell[],
  accounts: readonly AccountScope[],
  { from, to }: Span,
): BudgetByAccount {
  const empty = (): number[] => Array.from({ length: to - from + 1 }, () => 0);
  const byAccount = new Map<string, number[]>();
  const [without, unclear] = [empty(), empty()];
  const [withoutLines, unclearLines] = [new Set<number>(), new Set<number>()];
  const found = new Map<number, string | null | undefined>();
  /** Null for a line that no account holds, undefined for one that two hold. */
  const accountOf = (combination: number): string | null | undefined => {
    if (found.has(combination)) return found.get(combination);
    let account: string | null | undefined;
    try {
      const place = narrowestOf(tree, membersOf(combination), accounts);
      account = place === undefined ? null : accounts[place]?.account;
    } catch (error) {
      if (!(error instanceof ScopesCross)) throw error;
    }
    found.set(combination, account);
    return account;
  };
  for (const { combination, month, revenue } of cells) {
    if (month < from || month > to || revenue === 0) continue;
    const account = accountOf(combination);
    if (account === null) withoutLines.add(combination);
    if (account === undefined) unclearLines.add(combination);
    const months =
      account === null
        ? without
        : account === undefined
          ? unclear
          : (byAccount.get(account) ?? empty());
    if (typeof account === 'string') byAccount.set(account, months);
    months[month - from] = (months[month - from] ?? 0) + revenue;
  }
  return {
    accounts: [...byAccount]
      .map(([account, months]) => ({ account, months }))
      .sort((a, b) => a.account.localeCompare(b.account, 'en', { numeric: true })),
    ...{ without, unclear, withoutLines: [...withoutLines], unclearLines: [...unclearLines] },
  };
}

/** An account in the budget and in the books; money in minor units, null where it is in neither. */
export interface ReconciledAccount {
  readonly account: string;
  readonly budget: readonly (number | null)[];
  readonly books: readonly (number | null)[];
  /** Over the months that the books have: what is booked less what was planned. */
  readonly difference: number;
  readonly state: 'both' | 'budgetOnly' | 'booksOnly';
}

/**
 * Holds a budget by account against the books, over the months that the books have.
 * @param booked revenue accounts, revenue positive; months in which nothing is booked at all are open
 * @param bookedMonths which months of the stretch the books have
 */
export function reconcile(
  budget: readonly AccountMonths[],
  booked: readonly AccountMonths[],
  bookedMonths: readonly boolean[],
): ReconciledAccount[] {
  const inBudget = new Map(budget.map(({ account, months }) => [account, months]));
  const inBooks = new Map(booked.map(({ account, months }) => [account, months]));
  const all = [...new Set([...inBudget.keys(), ...inBooks.keys()])].sort((a, b) =>
    a.localeCompare(b, 'en', { numeric: true }),
  );
  return all.map((account) => {
    const [planned, sold] = [inBudget.get(account), inBooks.get(account)];
    const books = bookedMonths.map((has, at) => (has ? (sold?.[at] ?? 0) : null));
    const difference = books.reduce<number>(
      (sum, value, at) => (value === null ? sum : sum + value - (planned?.[at] ?? 0)),
      0,
    );
    return {
      ...{ account, difference, books },
      budget: bookedMonths.map((_, at) => planned?.[at] ?? (planned ? 0 : null)),
      state: planned && sold ? 'both' : planned ? 'budgetOnly' : 'booksOnly',
    };
  });
}
