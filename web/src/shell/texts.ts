import { plural, type Value } from '../format/words.ts';

/** The texts of shell, by the part that shows each first. */
export const TEXTS = {
  // ClashDialog
  changedBySomebodyElseIn: 'Changed by somebody else in the meantime',
  nothingWasOverwrittenWhichValue: 'Nothing was overwritten. Which value do you want to keep?',
  bothValues: 'Both values',
  where: 'Where',
  theirs: 'Theirs',
  yours: 'Yours',
  keepTheirs: 'Keep theirs',
  useMine: 'Use mine',

  // EmptyFilter
  thePeriodIs: (span: Value): string => `The period is ${span}.`,
  filterOf: (filter: Value): string => `Filter: ${filter}.`,
  removeFilter: 'Remove filter',
  show: (other: Value): string => `Show ${other}`,
  booksOnly: 'Books only',

  // Foot
  undo: 'Undo',
  kb: (arrived: Value): string => `, ${arrived} kB`,
  stop: 'Stop',
  filesToImport: (waiting: number): string => `${plural(waiting, 'file', 'files')} to import`,
  inputsMissing: 'inputs missing',
  ofTargetUnassigned: 'of the target unassigned',
  overAssigned: 'over-assigned',
  closedThroughAsOf: (closedThrough: Value, asOf: Value): string =>
    `Closed through ${closedThrough}; as of ${asOf}`,
  helpF1: 'Help (F1)',
  goToCtrlK: 'Go to (Ctrl K)',
  closesOn: (name: Value, due: Value): string => `${name} closes on ${due}`,
  canBeClosed: (name: Value): string => `${name} can be closed`,
  changes: (pending: number): string => `${pending} ${plural(pending, 'change', 'changes')}`,
  notSavedServerCannotBe: (changes: Value): string =>
    `Not saved: the server cannot be reached; ${changes} will be sent again`,
  saving: 'Saving',
  lastChangeWasNotSaved: 'The last change was not saved',
  saved: (at: Value): string => `Saved ${at}`,
  allSaved: 'All saved',
  cells: (numbers: Value): string => `${numbers} cells`,
  sumCellsAverage: (sum: Value, cells: Value, average: Value): string =>
    `Sum ${sum} · ${cells} cells · average ${average}`,

  // Frame
  skipToRoom: 'Skip to the room',
  fy: (year: Value): string => `FY ${year}`,

  // Horizon
  periodStarts: 'Period starts',
  periodEnds: 'Period ends',
  asOf: (asOf: Value): string => `As of ${asOf}`,
  period: 'Period',
  periodOf: (span: Value): string => `Period: ${span}`,

  // KeysHelp
  keyboardTypingAndWhatNumber: 'Keyboard, typing, and what a number looks like',
  inATable: 'In a table',
  onOneCellOrAll: (what: Value): string => `${what}, on one cell or all that are selected`,
  fromTheBooks: 'from the books',
  forecast: 'forecast',
  enteredByPerson: 'entered by a person',
  changedByBudgetEntries: 'changed by budget entries',
  locked: 'locked',
  missingInput: 'missing input',
  missing: 'missing',
  unfavourableDifference: 'unfavourable difference',
  inChartsActualsAreSolid:
    'In charts, actuals are solid, the forecast is dashed, the budget is stepped, last year is thin. A tick marks the target; a bar or dot marks the actual value.',
  goToRoom: 'go to a room',
  previousOrNextPeriod: 'previous or next period',
  ctrlK: 'Ctrl K',
  goToRoomMemberDriverOr: 'go to a room, member, driver or forecast line',
  space: 'Space',
  traceHowNumberIsCalculated: 'trace: how the number is calculated',
  ctrlZCtrlY: 'Ctrl Z, Ctrl Y',
  undoRedo: 'undo, redo',
  thisList: 'this list',
  setsAValue: 'sets a value',
  addsSubtracts: 'adds, subtracts',
  addsPercentagePoints: 'adds percentage points',

  // Nowhere
  youMayNotHaveAccess: 'You may not have access to the workspace, or the address is incomplete.',
  goToOf: (workspace: Value): string => `Go to ${workspace}`,
  createWorkspaceFromFileOf: 'Create a workspace from a file of sales lines',
  youDoNotHaveWorkspace: 'You do not have a workspace yet',
  pageNotFound: 'Page not found',

  // Palette
  goTo: 'Go to',
  goToRoomMemberDriver: 'Go to a room, member, driver, version or forecast line',
  roomMemberDriverVersionForecast: 'Room, member, driver, version, forecast line',
  nothingMatches: (text: Value): string => `Nothing matches “${text}”.`,
  settings: 'Settings',
  reportingAccess: 'Reporting access',
  room: (numeral: Value): string => `room ${numeral}`,
  ctrlZ: 'Ctrl Z',
  redo: 'Redo',
  ctrlY: 'Ctrl Y',
  helpForThisRoom: 'Help for this room',
  keyboardAndLegend: 'Keyboard and legend',
  themeLight: 'Theme: light',
  themeDark: 'Theme: dark',
  removeAllFilters: 'Remove all filters',
  forecastLine: 'forecast line',

  // Rail
  rooms: 'Rooms',
  signOut: 'Sign out',

  // RoomPage
  moreActions: 'More actions',
  print: 'Print',
  historyOfChanges: 'History of changes',

  // ScopeBar
  filter: 'Filter',
  removeFilterOf: (dimension: Value, names: Value): string =>
    `Remove filter ${dimension}: ${names}`,
  against: (version: Value): string => `against ${version}`,
  quarters: 'Quarters',
  years: 'Years',
  weeks: 'Weeks',
  days: 'Days',
  daysWeeksMonthsQuartersOr: 'Days, weeks, months, quarters or years',
  weeksMonthsQuartersOrYears: 'Weeks, months, quarters or years',
  monthsQuartersOrYears: 'Months, quarters or years',

  // SidePanel
  close: (heading: Value): string => `Close: ${heading}`,

  // UndoDialog
  redoThisChange: 'Redo this change?',
  undoThisChange: 'Undo this change?',
  inItWasMadeIn: (what: Value, where: Value, when: Value): string =>
    `“${what}”, in ${where}, ${when}. It was made in another room or before you signed in, so you cannot see it here.`,

  // client
  fileHasUpToAre: (file: Value, most: Value): string =>
    `The file has ${file}; up to ${most} are accepted. Split it, and send the parts`,

  // rooms
  standing: 'Standing',
  sheets: 'Sheets',

  // use-frame
  and: (names: Value, last: Value): string => `${names} and ${last}`,

  // router
  secondFactor: 'Second factor',
  newWorkspace: 'New workspace',
  signIn: 'Sign in',
  chooseAPassword: 'Choose a password',

  // api
  serverCannotBeReachedTry: 'The server cannot be reached; try again when the connection is back',
  theServerAnswered: (status: Value): string => `The server answered ${status}`,
  stoppedNothingWasSaved: 'Stopped; nothing was saved',
  fileDidNotArriveSave: 'The file did not arrive; save it once more',
  fileDidNotArriveConnection:
    'The file did not arrive: the connection broke again and again. Choose it once more',
  stoppedNothingWasImported: 'Stopped; nothing was imported',
};
