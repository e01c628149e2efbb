import { plural, type Value } from '../format/words.ts';

/** The texts of budgets, by the part that shows each first. */
export const TEXTS = {
  // AddLineDialog
  addLine: 'Add line',
  whatDoesNotPlanYet: (version: Value, months: Value): string =>
    `What ${version} does not plan yet. What is entered is divided over ${months}, all months alike.`,
  cost: (words: Value): string => `Cost, ${words}`,
  optional: 'optional',
  addedTo: (made: Value, version: Value): string => `Added ${made} to ${version}`,

  // BudgetRoom
  lockBudget: 'Lock budget',
  copyWithUplift: 'Copy with uplift',
  saveForecastAsVersion: 'Save forecast as version',
  saveAsWorkbookToFill: 'Save as workbook to fill in',
  saveAsCsvToFill: 'Save as CSV to fill in',
  importFilledInFile: 'Import a filled-in file',
  importPlanFromFile: 'Import a plan from a file',
  revenueNeededForProfit: 'Revenue needed for a profit',
  budgetByLedgerAccount: 'Budget by ledger account',
  asOfEarlierTime: 'As of an earlier time',
  allVersions: 'All versions',
  whatToCheckOf: (toCheck: Value): string => `What to check, ${toCheck}`,
  whatToCheck: 'What to check',
  deleteOf: (version: Value): string => `Delete ${version}`,
  showInAllRoomsOf: (madeVersion: Value): string => `Show ${madeVersion} in all rooms`,
  lockedCopyItToMake: 'Locked. Copy it to make changes.',
  weeksAndDaysAreRead: 'Weeks and days are read; values are entered by month, quarter or year.',
  whenRevenueIsEntered: 'When revenue is entered',
  whenRevenueIsEnteredOf: (find: Value): string => `When revenue is entered: ${find}`,
  spreadOverCells: (cells: Value): string => `Spread over ${cells} cells,`,
  asItWasOn: (version: Value, moment: Value): string => `${version} as it was on ${moment}.`,
  showCurrentNumbers: 'Show current numbers',
  whatHasChangedSince: 'What has changed since',
  coversOnly: (version: Value, covered: Value): string => `${version} covers ${covered} only.`,
  showTheseMonths: 'Show these months',
  saveForecastAsBudget: 'Save the forecast as a budget',
  versionKeepsNumbersAsThey:
    'A version keeps numbers as they are now, so that sales can be compared with them later.',
  hasNoValuesHere: (version: Value): string => `${version} has no values here`,
  itCovers: (covered: Value): string => `It covers ${covered}.`,
  inAnyOfItsArrangements: (version: Value): string => `${version}, in any of its arrangements`,
  unitsStayPriceChanges: 'units stay, the price changes',
  priceStaysUnitsChange: 'the price stays, units change',
  newSubscribersStayPriceChanges: 'new subscribers stay, the price changes',
  priceStaysNewSubscribersChange: 'the price stays, new subscribers change',
  isLocked: (kept: Value): string => `${kept} is locked`,
  noBudgetIsSavedYet: 'No budget is saved yet',
  everyVersionIsArchived: 'Every version is archived',
  restoreOrSaveAnother: 'Restore a version, or save the forecast as another one',
  plans: (version: Value, before: boolean, amount: Value, where: Value): string =>
    `${version} ${before ? 'planned' : 'plans'} ${amount}${where}`,
  hasNoValuesInThis: (kept: Value): string => `${kept} has no values in this period`,
  for: (asked: Value): string => ` for ${asked}`,
  savedBy: (
    measure: Value,
    span: Value,
    byMonths: boolean,
    day: Value,
    by: Value,
    open: boolean,
    asOfNow: boolean,
    moment: Value,
    note: Value,
  ): string =>
    `${measure}, ${span}${byMonths ? '' : ', months divided by days'}; saved ${day} by ${by}, ${open ? 'open' : 'locked'}${asOfNow ? '' : `, as of ${moment}`}${note}`,
  withoutCellsInWhichInput: (missing: Value): string =>
    `, without ${missing} cells in which an input is missing`,
  savedOf: (without: Value): string => `Saved${without}.`,

  // CopyDialog
  copyOf: 'Copy of',
  firstMonth: 'First month',
  monthsLater: 'Months later',
  upliftOfEverything: 'Uplift of everything',
  volumePercent: 'Volume, %',
  pricePercent: 'Price, %',
  otherUpliftFor: (place: Value): string => `Other uplift ${place}, for`,
  removeUplift: (place: Value): string => `Remove uplift ${place}`,
  addUpliftForSomeSales: 'Add an uplift for some sales',
  leaveOutWhatIsSold: (discontinued: Value): string =>
    `Leave out what is sold no longer: ${discontinued}`,
  addWhatIsNewFrom: (added: Value): string => `Add what is new, from the forecast: ${added}`,
  actualSales: 'Actual sales',
  copyWith: (version: Value): string => `${version}, copy`,
  fyFrom: (year: Value, of: Value): string => `FY ${year} from ${of}`,
  budgetFy: (year: Value): string => `Budget FY ${year}`,
  lines: (combinations: number, revenue: Value): string =>
    `${combinations} ${plural(combinations, 'line', 'lines')}, ${revenue}`,
  chooseWhichMonthsAreCopied: 'Choose which months are copied.',
  beforeUpliftForTotalsAre: (revenue: Value, span: Value): string =>
    `${revenue} before the uplift, for ${span}. Totals are exact to the cent.`,

  // KeepDialog
  wholeCompanyClosedMonthsWith: (span: Value): string =>
    `${span}, the whole company, closed months with their actuals. Each cell is rounded to the cent; later changes of the forecast do not change it.`,
  purposeOptional: 'Purpose (optional)',
  forecastFy: (fiscalYear: Value): string => `Forecast FY ${fiscalYear}`,

  // MomentDialog
  show: 'Show',
  withWhatWasEnteredUntil: (version: Value, createdAt: Value): string =>
    `${version} with what was entered until then; it was saved on ${createdAt}.`,
  dayAndTime: 'Day and time',
  versionWasSavedLater: 'the version was saved later',

  // NeededDialog
  enterIntoBudget: 'Enter into the budget',
  otherCosts: (words: Value): string => `Other costs, ${words}`,
  thoseThatDoNotFollow: 'Those that do not follow sales',
  wantedProfit: (words: Value): string => `Wanted profit, ${words}`,
  enterWhatIsToBe: 'Enter what is to be covered and what is to be left.',
  revenueOfIsEnteredOver: (version: Value, needed: Value, cells: Value): string =>
    `Revenue of ${version} is ${needed}, entered over ${cells} cells`,
  plannedRevenueAtMarginOf: (revenue: Value, ratio: Value, profit: number, size: Value): string =>
    `Planned: revenue ${revenue} at a margin of ${ratio}; after the other costs ${profit < 0 ? 'a loss of' : 'a profit of'} ${size}.`,
  neededRevenueOfEveryLine: (needed: Value, percent: Value, more: number): string =>
    `Needed: revenue ${needed}, ${percent} ${more < 0 ? 'less' : 'more'} of every line, at its price.`,

  // PlanFileDialog
  anyTableAsCsvWorkbook: (version: Value, covers: Value): string =>
    `Any table as CSV, workbook or JSON, months across or down. It is imported into ${version}, ${covers}; what the file does not name stays as it is. Nothing is changed before you have seen what differs.`,
  chooseAnotherFile: 'Choose another file',
  planFromFile: 'Plan from a file',
  changeWhatColumnsHold: 'Change what the columns hold',
  chooseColumnFor: (file: Value, lacking: Value): string =>
    `${file}: choose the column for ${lacking}.`,
  noColumnHoldsAllRows: (file: Value, dimensions: Value): string =>
    `${file}: no column holds ${dimensions}; all rows of a month would be added up to one number for everything. Choose the column that names it.`,
  checkWhatColumnsHoldDimension: (file: Value): string =>
    `${file}: check what the columns hold. A dimension without a column or value is not limited: the number is spread over what lies below.`,
  unknownNames: 'Unknown names',
  standsFor: (value: Value): string => `“${value}” stands for`,
  rememberWhatNamesStandFor: 'Remember what names stand for in the next file',
  leaveOutThatCannotBe: (problems: number): string =>
    `Leave out the ${problems === 1 ? 'row' : `${problems} rows`} that cannot be imported`,
  taking: (sent: Value): string => `Taking ${sent}`,
  checking: (sent: Value): string => `Checking ${sent}`,
  numbers: (of: Value): string => `${of} numbers`,
  check: 'Check',
  importNumbers: (count: Value): string => `Import ${count}`,
  importedFrom: (taken: Value, sent: Value): string => `${taken} imported from ${sent}`,

  // RenameDialog
  renameOf: (version: Value): string => `Rename ${version}`,

  // VersionsDialog
  versions: 'Versions',
  state: 'State',
  saved: 'Saved',
  actions: 'Actions',
  inForce: ', in force',
  actionsOf: (one: Value): string => `Actions of ${one}`,
  showInAllRooms: 'Show in all rooms',
  compareWith: (version: Value): string => `Compare with ${version}`,
  rename: 'Rename',
  makeItBudgetOfFy: (one: Value): string => `Make it the budget of FY ${one}`,
  noLongerBudgetOfFy: (budgetOf: Value): string => `No longer the budget of FY ${budgetOf}`,
  restore: 'Restore',
  archive: 'Archive',
  budgetOfFy: (budgetOf: Value): string => `the budget of FY ${budgetOf}`,
  archived: 'archived',
  open: 'open',
  locked: 'locked',

  // WarningsDialog
  noLineRepeatsLastYear:
    'No line repeats last year, grows more than it ever did, or has a price or margin outside of what it ever had.',
  ofLinesRepeatLastYear: (same: Value, lines: Value): string =>
    `${same} of ${lines} lines repeat last year.`,
  dismissedBy: (by: Value, why: Value): string => `Dismissed by ${by}: ${why}`,
  dismiss: 'Dismiss',
  dismissWithReason: 'Dismiss with a reason',
  dismissedWithItsReason: 'Dismissed with its reason',

  // typed-budget
  versionDoesNotCoverThese: 'The version does not cover these months',
  nothingIsThereYetThat: 'Nothing is there yet that could be changed',

  // use-entries
  yourValueIsSaved: 'Your value is saved.',
  newSubscribersOrRecurringRevenue: 'new subscribers or recurring revenue',
  revenueUnitsOrCost: 'revenue, units or cost',
  isCalculatedEnter: (name: Value, instead: Value): string =>
    `${name} is calculated; enter ${instead}.`,
  savedAndNegativeNowUndo: 'Saved, and negative now. Undo it if that was not meant.',
  nothingChanged: 'Nothing changed.',
};
