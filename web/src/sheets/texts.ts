import { plural, type Value } from '../format/words.ts';

/** The texts of sheets, by the part that shows each first. */
export const TEXTS = {
  // FilledSheetPage
  allSheets: 'All sheets',
  saveAsWorkbookToFill: 'Save as workbook to fill in',
  saveAsCsvToFill: 'Save as CSV to fill in',
  importFilledInFile: 'Import a filled-in file',
  stepsSoFar: 'Steps so far',
  editSheet: 'Edit sheet',
  removeSheet: 'Remove sheet',
  budgetSheet: 'Budget sheet',
  line: 'Line',
  thisSheet: 'this sheet',
  dueOf: (due: Value): string => `, due ${due}`,
  forOf: (personName: Value): string => `for ${personName}`,
  yourSheet: 'your sheet',
  closedThrough: (
    what: Value,
    unit: Value,
    versionName: Value,
    months: Value,
    whose: Value,
    due: Value,
    states: Value,
    closedThrough: Value,
  ): string =>
    `${what}, ${unit}, ${versionName}, ${months}; ${whose}${due}, ${states}; closed through ${closedThrough}`,
  byOf: (steps: Value, by: Value, at: Value, text: Value): string =>
    `${steps} by ${by}, ${at}: ${text}`,
  plan: 'Plan',
  commentOn: (name: Value): string => `Comment on ${name}`,
  unlock: (name: Value): string => `Unlock ${name}`,
  lock: (name: Value): string => `Lock ${name}`,
  divideOverMonths: (name: Value, divisions: Value): string =>
    `Divide ${name} over the months ${divisions}`,
  sendBack: 'Send back',
  sendBackOf: (now: Value): string => `Send ${now} back`,
  question: 'Question',
  handIn: 'Hand in',
  handOut: 'Hand out',
  agree: 'Agree',
  takeBack: 'Take back',
  theSheet: 'the sheet',
  removed: (sheet: Value): string => `Removed ${sheet}`,

  // SheetDialog
  edit: (sheet: Value): string => `Edit ${sheet}`,
  addBudgetSheet: 'Add budget sheet',
  northHomeGoodsStores: 'North, home-goods stores',
  fillsIn: 'Fills in',
  thereIsNoOpenVersion: 'There is no open version; save the forecast as one in Budget',
  for: 'For',
  peopleAreAddedUnderSettings:
    'People are added under Settings, People; a contributor sees the own sheets only',
  salesOfEmptyEverything: 'Sales of (empty: everything)',
  linesBy: 'Lines by',
  andBelowThatBy: 'and below that by',
  filledInAs: 'Filled in as',
  due: 'Due',
  nothing: 'Nothing',

  // SheetList
  sheet: 'Sheet',
  state: 'State',
  lastStep: 'Last step',
  late: ', late',

  // SheetsRoom
  addSheet: 'Add sheet',
  letPeopleFillInTheir: 'Let people fill in their part of the budget',
  sheetGivesSomebodyPartOf:
    'A sheet gives somebody a part of a version in their own terms, beside last year and the forecast: hand it out, get it back, ask, agree.',
  noBudgetSheetIsHanded: 'No budget sheet is handed out to you',
  plannerHandsItOutIt: 'A planner hands it out; it appears here then.',
  noBudgetSheetsYet: 'No budget sheets yet',
  handedInLower: 'handed in',
  budgetSheetsOf: (all: number): string => `${all} budget ${plural(all, 'sheet', 'sheets')}`,

  // StepsDialog
  stepsOf: (sheet: Value): string => `Steps of ${sheet}`,
  by: 'By',
  when: 'When',
  whatWasSaid: 'What was said',

  // sheet-rows
  draft: 'draft',
  agreedLower: 'agreed',
  handedOutLower: 'handed out',
  sentBackLower: 'sent back',
  takenBack: 'Taken back',
  handedOut: 'Handed out',
  handedIn: 'Handed in',
  sentBack: 'Sent back',
  agreed: 'Agreed',
  lastYearIsSalesEnter: 'Last year is sales; enter the plan beside it',
  sameMonthsYearBeforeActual:
    'The same months a year before: actual where they are closed, forecast after that.',
  calculatedFromPlanAndLast: 'Calculated from the plan and last year',
  last12: 'Last 12',
  lastTwelveMonthsAreSales: 'The last twelve months are sales',
  actualOfLastTwelveClosed: 'Actual of the last twelve closed months.',
  forecastIsCalculatedEnterPlan: 'The forecast is calculated; enter the plan beside it',
  target: 'Target',
  targetsAreSetInTargets: 'Targets are set in Targets',
  whatTargetsGiveToThese:
    'What the targets give to these very sales; empty where they do not say it.',
  rightClickLineToComment: 'Right-click the line to comment on it',
  isLockedUnlockItFirst: (line: Value): string => `${line} is locked; unlock it first`,
  hasNoLines: (sheet: Value): string => `${sheet} has no lines`,
  planned: (sheet: Value, plan: Value): string => `${sheet}: ${plan} planned`,
  belowTheTarget: (planned: Value, target: Value): string =>
    `${planned}, ${target} below the target`,
  thanLastYear: (planned: Value, percent: Value, change: number): string =>
    `${planned}, ${percent} ${change < 0 ? 'less' : 'more'} than last year`,
};
