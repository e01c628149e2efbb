import { plural, type Value } from '../format/words.ts';

/** The texts of trace, by the part that shows each first. */
export const TEXTS = {
  // TraceAssumptions
  inputsUsed: 'Inputs used',
  wholeCompany: 'Whole company',
  inUse: (when: Value): string => `in use: ${when}`,
  noInputIsSetHere: 'No input is set here.',
  adjustments: 'Adjustments',
  enteredFor: (start: Value): string => `entered for ${start}`,
  monthByMonthMonthsTo: (keys: Value, end: Value): string =>
    `month by month, ${keys} months to ${end}`,
  from: (from: Value): string => ` from ${from}`,
  to: (to: Value): string => ` to ${to}`,
  oneValue: (when: string): string => `one value${when || ' for all months'}`,
  stepOf: (from: Value): string => `step of ${from}`,
  in: (from: Value): string => `in ${from}`,
  fromOf: (from: Value): string => `from ${from}`,
  beingSaved: 'being saved',

  // TraceDrawer
  trace: 'Trace',
  back: 'Back',
  includesManualOverrides: 'Includes manual overrides',
  withoutThem: (node: Value): string => `${node}; without them`,
  incompleteInputBelowIsMissing: 'Incomplete: an input below is missing.',
  noInputIsSetHereSo: 'No input is set here, so it is missing.',
  setHere: 'set here',
  whereIsSet: (set: Value, name: Value): string => `${set}: where ${name} is set`,
  whereItIsSet: 'where it is set',
  more: (steps: Value): string => `${steps} more`,
  noSalesPlanOrForecast: 'No sales, plan or forecast here.',
  by: (by: Value, at: Value): string => ` by ${by}${at}`,
  inputFor: (where: Value, row: Value, note: Value): string => `input for ${where}${row}${note}`,
  changedFor: (where: Value, row: Value, note: Value): string =>
    `changed for ${where}${row}${note}`,
  noInputDefaultValue: 'no input: the default value',
  measuredAs: (measure: Value): string => `measured as ${measure}`,
  setInTargets: 'set in Targets',
  forecastWhenWasClosed: (month: Value): string => `forecast when ${month} was closed`,
  fromCohortsOfSubscribers: 'from the cohorts of subscribers',
  daysOfCalendar: 'days of the calendar',
  numberInFormula: 'a number in the formula',
  setWithMethod: 'set with the method',
  manualOverride: (source: Value, why: Value): string => `manual override${source}${why}`,

  // TraceEntries
  entries: 'Entries',
  savedValueAndEntriesSince: 'Saved value and entries since',
  saved: (what: Value): string => `Saved ${what}`,
  overCells: (cells: Value): string => `, over ${cells} cells`,
  noEntries: 'No entries.',
  new: (starters: Value): string => `${starters} new`,

  // TraceMissing
  incompleteInputsAreMissing: (data: number): string =>
    `Incomplete: ${data} ${plural(data, 'input is', 'inputs are')} missing.`,
  of: (one: Value, months: Value): string => `of ${one}, ${months}`,
  andMore: (data: Value): string => `And ${data} more.`,
  incompleteSomethingBelowIsMissing: 'Incomplete: something below is missing.',

  // TraceMovers
  mostSensitiveTo: 'Most sensitive to',
  calculateEffectOf1Percent: 'Calculate the effect of 1% more of each driver',
  noDriverChangesItIt: 'No driver changes it: it is closed, overridden, or based on history.',
  effectOf1PercentMore: 'Effect of 1% more of each, in all open months',

  // TraceSales
  fromSalesLines: (count: Value, data: number): string =>
    `From ${count} ${plural(data, 'sales line', 'sales lines')}`,
  dateDocument: 'Date, document',
  shared: (seller: Value): string => `shared: ${seller}`,
  showMore: 'Show more',

  // TracedFigure
  showHowItIsCalculated: 'Show how it is calculated',

  // nodes
  withoutItsSign: (before: Value): string => `${before}, without its sign`,
};
