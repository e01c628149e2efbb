import { plural, type Value } from '../format/words.ts';

/** The texts of facts, by the part that shows each first. */
export const TEXTS = {
  // FactsView
  measuredFacts: 'Measured facts',
  howMeasuresAddUp: 'How measures add up',
  nothingWasMeasuredInThis: 'Nothing was measured in this period',
  importFileAndChooseThis:
    'Import a file and choose this kind of data: market size, visits, quiz counts, scores, each by month.',
  whatSeveralMonthsOfMeasure: 'What several months of a measure come to.',
  howAddsUp: (measure: Value): string => `How ${measure} adds up`,
  noMeasuresBesidesSalesIn: 'No measures besides sales in this period',
  measuresBesidesSalesInRows: (measures: number, count: number): string =>
    `${measures} ${plural(measures, 'measure', 'measures')} besides sales, in ${count} ${plural(count, 'row', 'rows')}`,

  // LedgerView
  ledger: 'Ledger',
  account: 'Account',
  typesOfAccounts: 'Types of accounts',
  noLedgerHistoryInThis: 'No ledger history in this period',
  importFileAndChooseThisKind:
    'Import a file and choose this kind of data: an account, a month, an amount.',
  accounts: 'Accounts',
  type: 'Type',
  behaviour: 'Behaviour',
  typeOf: (account: Value): string => `Type of ${account}`,
  behaviourOf: (account: Value): string => `Behaviour of ${account}`,
  noLedgerHistoryIsImported: 'No ledger history is imported yet',
  ledgerHasRevenueOnOf: (total: Value, revenue: Value, accounts: Value): string =>
    `The ledger has ${total} revenue on ${revenue} of ${accounts} accounts`,
  revenueAndExpenseBothPositive: (span: Value, unit: Value): string =>
    `${span}, ${unit}; revenue and expense both positive, shares of revenue`,

  // fact-rows
  addedUp: 'added up',
  asOfLastMonth: 'as of the last month',
  ratioNeverAddedUp: 'a ratio, never added up',
  setNeverAddedUp: 'set, never added up',
  expense: 'Expense',
  notSet: 'not set',
  withRevenue: 'with revenue',
  period: 'Period',
  ofRevenue: 'Of revenue',
  partOfRevenueOfAll: 'The part of the revenue of all accounts.',
  whetherItsAmountsAreFixed: 'Whether its amounts are fixed or go with revenue.',
};
