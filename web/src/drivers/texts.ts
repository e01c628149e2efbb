import { plural, type Value } from '../format/words.ts';

/** The texts of drivers, by the part that shows each first. */
export const TEXTS = {
  // CopyScopeDialog
  copyInputsOf: (scope: Value): string => `Copy the inputs of ${scope}`,
  to: (dimension: Value): string => `To ${dimension}`,
  everyDriverNotOnly: (driver: Value): string => `Every driver, not only ${driver}`,
  chooseWhereToCopyTo: 'Choose where to copy to.',
  inputsAreCopiedIncludingThose: (put: number): string =>
    `${put} ${plural(put, 'input is', 'inputs are')} copied, including those of members below`,
  existingAreReplaced: (drop: number): string =>
    `; ${drop} existing ${plural(drop, 'is', 'are')} replaced`,
  copiedInputs: (copied: number): string => `Copied ${copied} ${plural(copied, 'input', 'inputs')}`,

  // DriverFacts
  last12Months: (from: Value, subject: Value): string => `${from} ${subject}: last 12 months `,
  previous12: ' previous 12 ',
  last3: ' last 3 ',
  theFormulaOf: (name: Value): string => `the formula of ${name}`,
  notUsedInputsHaveNo: (assumptions: Value): string =>
    `Not used: ${assumptions} inputs have no effect`,
  notUsedOf: (by: string): string => `Not used${by ? `; ${by} could use it` : ''}`,
  usedByForecastLines: (streams: number, by: Value): string =>
    `Used by ${streams} ${plural(streams, 'forecast line', 'forecast lines')}${by}`,
  actualsOf: 'Actuals of',
  measuredAsFor: (measure: Value, per: string): string =>
    `Measured as ${measure}${per ? ` over ${per}` : ''}, for`,
  forecastLinesUseDefaultOf: (byDefault: Value, it: Value): string =>
    `${byDefault} forecast lines use the default of ${it}`,

  // DriverForm
  change: (driver: Value): string => `Change ${driver}`,
  addDriver: 'Add driver',
  nameInFormulas: 'Name in formulas',
  valuesAre: 'Values are',
  usual: (nature: Value): string => `${nature} (usual)`,
  perVisit: 'per visit',
  visits: 'visits',
  valuesOnePerLine: 'Values, one per line',
  oneLow2High: '1 low 2 high',
  minimum: (kind: Value): string => `Minimum${kind}`,
  maximum: (kind: Value): string => `Maximum${kind}`,
  totalsAre: 'Totals are',
  weightedBy: 'Weighted by',
  defaultWithoutInput: 'Default without an input',
  missing: 'missing',
  historyFromMeasuredFact: 'History from a measured fact',
  dividedBy: 'Divided by',
  firstOpenMonthsIn: (ahead: Value, unit: Value): string =>
    `First open months: ${ahead}; in ${unit}`,
  deleteDriver: 'Delete driver',
  none: 'None',
  netUnitsSold: 'net units sold',
  netUnits: 'net units',
  netUnitsOfMonthBefore: 'net units of the month before',
  whatItAppliesTo: 'what it applies to',

  // DriverTree
  groupDrivers: 'Group drivers',
  byUse: 'By use',
  byKind: 'By kind',
  driver: 'Driver',
  counts: 'Counts',
  money: 'Money',
  percentages: 'Percentages',
  numbers: 'Numbers',
  choices: 'Choices',
  usedInForecast: 'Used in the forecast',
  yourOwn: 'Your own',
  notUsed: 'Not used',
  usedByFormulaOnly: 'used by a formula only',
  inputsWithoutEffect: (assumptions: Value): string => `${assumptions} inputs without effect`,
  notUsedLower: 'not used',
  forecastLinesOf: (streams: number): string =>
    `${streams} ${plural(streams, 'forecast line', 'forecast lines')}`,
  missingInOf: (missing: Value, streams: Value): string => `missing in ${missing} of ${streams}`,
  withTheDefault: (streams: Value, byDefault: Value): string =>
    `${streams}, ${byDefault} with the default`,

  // DriversRoom
  levelsOfRows: 'Levels of rows',
  growthAndSeason: 'Growth and season',
  formulaAndLimits: 'Formula and limits',
  limits: 'Limits',
  copyInputs: 'Copy inputs',
  funnel: 'Funnel',
  historyOfValues: 'History of values',
  useOneValueForAll: 'Use one value for all of them?',
  setAllToThisValue: 'Set all to this value',
  keepDifferentValues: 'Keep the different values',
  allMonthsOfThisPeriod: 'All months of this period are closed',
  driversApplyToOpenMonths: (closedThrough: Value): string =>
    `Drivers apply to open months; ${closedThrough} is the last closed one.`,
  noForecastLineHereUses: (driver: Value): string => `No forecast line here uses ${driver}`,
  itsValuesHaveNoEffect:
    'Its values have no effect until a forecast method or a formula uses them.',
  forecastLine: (rowHeading: Value): string => `${rowHeading}, forecast line`,
  youCanReadThisWorkspace: 'You can read this workspace; planners change its drivers.',
  forecastLines: 'Forecast lines',
  missingInOfForecastLines: (name: Value, missingHere: Value, streams: Value): string =>
    `${name}: missing in ${missingHere} of ${streams} forecast lines`,
  withTheseDrivers: (subject: Value, many: boolean, revenue: Value): string =>
    `With these drivers ${subject} ${many ? 'sell' : 'sells'} ${revenue} in the open months`,
  noOpenMonth: 'no open month',
  baseScenarioInputsForecastLines: (
    driver: Value,
    unit: Value,
    months: Value,
    setHere: number,
    lines: number,
  ): string =>
    `${driver}${unit}, ${months}, base scenario; ${setHere} ${plural(setHere, 'input', 'inputs')}, ${lines} ${plural(lines, 'forecast line', 'forecast lines')}`,

  // FormulaField
  formula: 'Formula',
  leaveEmptyToEnterValues: 'leave empty to enter values; else e.g. adSpend / costPerVisit',

  // FunnelPanel
  noForecastLineHereHas:
    'No forecast line here has a funnel. Choose one under Methods in Forecast.',
  chain: 'Chain',
  source: (source: Value): string => `Source ${source}`,
  step: (step: Value): string => `Step ${step}`,
  came: (came: Value, lag: Value): string => `${came} came${lag},`,
  measured: (driver: Value): string => `measured ${driver}`,
  comesOut: 'Comes out',
  monthsLater: (lag: number): string => `, ${lag} ${plural(lag, 'month', 'months')} later`,

  // ProfileEditor
  historyAndValuesBeingSet: (driver: Value): string =>
    `${driver}: history, and the values being set`,
  set: 'Set',
  setHere: 'Set here',
  setFor: (where: Value): string => `Set for ${where}`,
  edit: 'Edit',
  theWholeCompany: 'the whole company',

  // ProfileFields
  setAs: 'Set as',
  thenFrom: 'then from',
  valuePercent: 'Value, %',
  value: 'Value',
  removeStep: (place: Value): string => `Remove step ${place}`,
  addStep: 'Add step',
  grows: 'Grows',
  amount: 'Amount',
  ratePercent: 'Rate, %',
  every: 'Every',
  growthPercent: 'Growth, %',
  totalIsFor: 'The total is for',
  twelveMonthsFrom: 'Twelve months from',
  season: 'Season',
  useLastYearSeason: 'Use last year’s season',
  thereIsNoSeasonIn: 'There is no season in the history of this driver',
  fromOptional: 'From (optional)',
  toOptional: 'To (optional)',
  oneValue: 'One value',
  stepsFromMonthOn: 'Steps from a month on',
  startValueAndGrowth: 'Start value and growth',
  yearlyTotalWithSeason: 'Yearly total with season',
  averageLevelWithSeason: 'Average level with season',
  lastYearPlusGrowth: 'Last year plus growth',
  start: 'Start',
  level: 'Level',
  allForecastLinesTogether: (lines: Value): string => `all ${lines} forecast lines together`,
  eachOfForecastLines: (lines: Value): string => `each of ${lines} forecast lines`,

  // SeasonLike
  seasonLikeOptional: 'Season like (optional)',
  hasNoSeasonInIts: (id: Value): string => `${id} has no season in its history`,

  // StatesPanel
  historyOf: (driver: Value): string => `History of ${driver}`,
  eachLineIsChangeRestoring: 'Each line is a change. Restoring earlier values is a change too.',
  noChangesYet: 'No changes yet.',
  valueLower: 'value',
  values: 'values',
  currentValues: 'Current values',
  restoreValuesAfterThisChange: 'Restore the values after this change',
  alreadyHasTheseValues: (name: Value): string => `${name} already has these values`,
  restoredOf: (name: Value, at: Value): string => `Restored ${name} of ${at}`,

  // driver-fields
  aNumber: 'a number',
  aWholeNumber: 'a whole number',
  amountOfMoney: 'an amount of money',
  moneyPerUnitOfSomething: 'money per unit of something',
  aPercentage: 'a percentage',
  aRatio: 'a ratio',
  yesOrNo: 'yes or no',
  choiceFromList: 'a choice from a list',
  addedUp: 'added up',
  addedUpOverLinesLast: 'added up over lines, the last of months',
  aWeightedAverage: 'a weighted average',
  notTotalled: 'not totalled',

  // driver-format
  yes: 'yes',
  no: 'no',
  perUnit: 'per unit',
  oneOfList: 'one of a list',
  toOf: (minimum: Value, maximum: Value): string => `${minimum} to ${maximum}`,
  notNegative: 'not negative',
  orMore: (minimum: Value): string => `${minimum} or more`,
  orLess: (maximum: Value): string => `${maximum} or less`,

  // profile-form
  byRateEveryMonth: 'by a rate every month',
  byYearlyRateMonthBy: 'by a yearly rate, month by month',
  byRateOnceYear: 'by a rate once a year',
  byAmountOnceYear: 'by an amount once a year',

  // typed-text
  totalCannotBeEmptiedType: 'a total cannot be emptied; type 0 to spread nothing',
  nothingIsThereYetThat: 'nothing is there yet that could be changed',

  // use-driver-grid
  average: 'Average',
  isCalculatedFromMonthsEnter: (heading: Value): string =>
    `${heading} is calculated from the months; enter a value in one of them`,
  from: (scope: string): string => `from ${scope || 'the whole company'}`,
  differentValuesBelow: (weights: string | null): string =>
    `different values below; ${weights === null ? 'simple average' : `weighted by ${weights}`}`,

  // use-driver-typing
  nothingChangedTheseAreSame: 'Nothing changed: these are the same values.',
  spreadOverForecastLinesIn: (spreadOver: Value): string =>
    `Spread over ${spreadOver} forecast lines, in proportion.`,
  eachValueBelowWasChanged: 'Each value below was changed by that.',
  oldValuesAreShownAgain: (error: Value): string => `${error}. The old values are shown again.`,
  each: (by: Value): string => `each × ${by}`,
  eachOf: (by: Value): string => `each + ${by}`,
  yourValueIsSaved: 'Your value is saved.',

  // use-flattening
  oneForForecastLinesThat: (
    label: Value,
    month: Value,
    driver: Value,
    streams: Value,
    values: Value,
  ): string =>
    `${label}, ${month}: one ${driver} for ${streams} forecast lines that have ${values} different ones.`,
  andMoreCells: (lines: Value): string => `And ${lines} more cells.`,
  nothingWasChanged: 'Nothing was changed.',

  // use-profile
  higherThanAnyMonthSo: (above: Value, highest: Value): string =>
    `Higher than any month so far: ${above}, the highest was ${highest}`,
  lowerThanAnyMonthSo: (below: Value, lowest: Value): string =>
    `Lower than any month so far: ${below}, the lowest was ${lowest}`,
  last12MonthsOf: (driver: Value, change: Value): string => `last 12 months ${driver}${change}`,
};
