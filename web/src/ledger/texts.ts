import { plural, type Value } from '../format/words.ts';

/** The texts of ledger, by the part that shows each first. */
export const TEXTS = {
  // LedgerDialog
  budgetByLedgerAccount: 'Budget by ledger account',
  saveAccounts: 'Save accounts',
  revenue: (version: Value, months: Value): string => `${version}, revenue, ${months}.`,
  salesOfEmptyEverything: (place: Value): string => `Sales of (empty: everything), ${place}`,
  accountOf: (place: Value): string => `Account ${place}`,
  removeAccount: (place: Value): string => `Remove account ${place}`,
  noAccountIsSetHere:
    "No account is set here yet. The narrowest of several holds; a member's own account, as in Dimensions, holds where nothing is said here.",
  addAnAccount: 'Add an account',
  account: 'Account',
  budgetSoFar: 'Budget so far',
  books: 'Books',
  accountsOfSalesAreSaved: 'The accounts of sales are saved',
  notInBooks: 'not in the books',
  notInBudget: 'not in the budget',
  inLinesAreOn: (total: Value, lines: number, what: Value, first: Value): string =>
    `${total} in ${lines} ${plural(lines, 'line is', 'lines are')} on ${what}: ${first}${lines > 3 ? ' and more' : ''}.`,
  noAccount: 'no account',
  twoAccountsAddOneFor: 'two accounts; add one for both together',
  booksHaveNoneOfThese:
    'The books have none of these months; bring ledger history in under Actuals.',
  booksAndDifferenceAreOf: (has: number): string =>
    `Books and difference are of the ${has} ${plural(has, 'month', 'months')} that the books have.`,
};
