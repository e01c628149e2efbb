import { type Value } from '../format/words.ts';

/** The texts of standing, by the part that shows each first. */
export const TEXTS = {
  // StandingRoom
  standing: 'Standing',
  noBudgetAndNoTarget: 'No budget and no target yet',
  saveBudgetForThisYear:
    'Save a budget for this year or set its target; this page then shows the difference.',
  goToBudget: 'Go to Budget',
  toDo: 'To do',
  nothingToDo: 'Nothing to do.',
  against: (now: Value, against: Value): string => `${now} against ${against}`,
  largestChanges: 'Largest changes',
  productChannel: 'Product, channel',
  revenueFyFiscalYearOf: (
    unit: Value,
    fiscalYear: Value,
    closedThrough: Value,
    booksOnly: boolean,
  ): string =>
    `Revenue, ${unit}, FY ${fiscalYear} (the fiscal year of the period); closed through ${closedThrough}${booksOnly ? ', books only' : ''}; base scenario`,
  differenceFrom: (shouldName: Value): string => `Difference from ${shouldName}`,
  revenueLess: (now: Value, against: Value): string => `Revenue, ${now} less ${against}`,
  now: 'Now',
  actualTarget: 'Actual | target',
  comparedWith: 'Compared with',
  whichIs: 'which is',
  targetOfFy: (fiscalYear: Value): string => `Target of FY ${fiscalYear}`,
  revenueFy: (fiscalYear: Value): string => `Revenue, FY ${fiscalYear}`,

  // use-standing
  revenueOfFy: (fiscalYear: Value): string => `Revenue of FY ${fiscalYear}`,
  revenueToDate: 'Revenue to date',
  theYearBefore: 'the year before',
  sameMonthsYearBefore: 'the same months a year before',
  targetOfYear: 'target of the year',
  targetToDateBySeason: 'target to date by season',
  outlookOfFy: (fiscalYear: Value): string => `Outlook of FY ${fiscalYear}`,
  forecastAtItsClose: 'the forecast at its close',
  isNotImportedYetRows: (fileName: Value, good: Value): string =>
    `${fileName} is not imported yet: ${good} rows`,
  inputsOfForecastAreMissing: (missing: Value): string =>
    `${missing} inputs of the forecast are missing`,
  ofTargetOfUnassigned: (unassigned: Value, node: Value): string =>
    `${unassigned} of the target of ${node} unassigned`,
  overTargetOfAssigned: (overAssigned: Value, node: Value): string =>
    `${overAssigned} over the target of ${node} assigned`,
  fyHasNoTargetYet: (fiscalYear: Value): string => `FY ${fiscalYear} has no target yet`,
  noBudgetIsSavedYet: 'No budget is saved yet',
};
