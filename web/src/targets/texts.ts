import { type Value } from '../format/words.ts';

/** The texts of targets, by the part that shows each first. */
export const TEXTS = {
  // BroughtDialog
  importTargets: 'Import targets',
  tableOfTeamsPeopleAnd:
    'A table of teams, people and parts with a name, what is above them, and a target or a share: as it is saved from here, changed or made anew. What it does not name stays as it is.',
  fileOfTargets: 'File of targets',
  toAddToChangeUnchanged: (of: Value, added: Value, changed: Value, same: Value): string =>
    `${of}: ${added} to add, ${changed} to change, ${same} unchanged.`,
  reasonIfWhatIsAgreed: 'Reason, if what is agreed changes',
  moreRowsCannotBeImported: (problems: Value): string =>
    `${problems} more rows cannot be imported.`,

  // DealsPanel
  dealPlanOf: (node: Value): string => `Deal plan of ${node}`,
  of: (amount: Value, unit: Value): string => `of ${amount} ${unit};`,
  missing: 'missing',
  moreThanTargetLower: 'more than the target',
  dealsBySize: 'Deals by size',
  size: 'Size',
  average: 'Average',
  deals: 'Deals',
  soFar: 'So far',
  win: 'Win',
  averageValue: (band: Value): string => `Average value, ${band}`,
  oneDealLess: (band: Value): string => `One ${band} deal less`,
  dealsOf: (band: Value): string => `Deals, ${band}`,
  oneDealMore: (band: Value): string => `One ${band} deal more`,
  winRateInPercent: (band: Value): string => `Win rate in percent, ${band}`,
  monthsToClose: (band: Value): string => `Months to close, ${band}`,
  sellers: 'Sellers',
  dealsSellerCanHandleYear: 'Deals a seller can handle a year',
  hints: 'Hints',
  allDealsThatCanBe: 'All deals that can be handled do not reach the target',
  whatPlanAsksFor: 'What the plan asks for',
  opportunities: 'Opportunities',
  latestStart: 'Latest start',
  dealsByQuarterBySeller: (
    deals: Value,
    wholeDealsByPeriod: Value,
    bySeller: Value,
    dealsPerSellerPerPeriod: Value,
  ): string =>
    `${deals} deals, by quarter ${wholeDealsByPeriod}; by seller ${bySeller} (${dealsPerSellerPerPeriod} a quarter).`,
  saveDealPlan: 'Save deal plan',
  reachTheTarget: 'Reach the target',
  fewestDeals: 'Fewest deals',
  sizesFromLastYear: 'Sizes from last year',
  removePlan: 'Remove plan',
  large: 'Large',
  medium: 'Medium',
  small: 'Small',
  sizeOf: (place: Value): string => `Size ${place}`,
  ofYearHangsOnDeals: (share: Value, hint: Value, band: Value): string =>
    `${share} of the year hangs on ${hint} ${band} deals`,
  dealsAreMoreThanThat: (deals: Value, handled: Value): string =>
    `${deals} deals are more than the ${handled} that can be handled`,
  dealsTakeMonthsAreLeft: (band: Value, months: Value, left: Value): string =>
    `${band} deals take ${months} months; ${left} are left of the year`,

  // DividePanel
  leaves: (node: Value): string => `${node} leaves`,
  divideOf: (node: Value): string => `Divide ${node}`,
  targetAfterLastMonthIs:
    'The target after the last month is divided among the others of the team.',
  by: (amount: Value, unit: Value): string => `${amount} ${unit}, by`,
  divideBy: 'Divide by',
  weightOf: (names: Value): string => `Weight of ${names}`,
  withCushionOfPercent: (cushion: Value): string => `With the cushion of ${cushion} %`,
  whatLiesBelowPartsToo: 'What lies below the parts, too',
  proposal: 'Proposal',
  part: 'Part',
  now: 'Now',
  locked: 'locked',
  together: 'Together',
  chooseLastMonth: 'Choose the last month.',
  handOver: 'Hand over',
  useProposal: 'Use proposal',
  isEnteredForEachPerson: 'is entered for each person.',
  equal: 'Equal',
  capacity: 'Capacity',

  // GapPanel
  gapOf: (node: Value): string => `Gap of ${node}`,
  noTargetIsDueYet: 'No target is due yet, or nothing is known of what is sold.',
  aheadOfTargetToDate: (actual: Value, unit: Value, behind: boolean): string =>
    `${actual} ${unit} ${behind ? 'behind' : 'ahead of'} the target to date.`,
  fromTargetToDateTo: 'From the target to date to actual',
  targetToDate: 'Target to date',

  // LettersView
  nobodyHasTargetYetAdd: 'Nobody has a target yet; add people below a team.',
  letters: 'Letters',
  targetFy: (
    workspace: Value,
    objective: Value,
    fiscalYear: Value,
    team: Value,
    manager: string | null | undefined,
    state: Value,
  ): string =>
    `${workspace}, ${objective} target FY ${fiscalYear}${team}${manager ? `, manager ${manager}` : ''}; ${state}`,
  lastYear: (lastYear: Value, from: string | null, until: string | null): string =>
    `last year ${lastYear}${from ? `; from ${from}` : ''}${until ? `; to ${until}` : ''}`,
  target: 'Target',
  year: 'Year',
  accountsAndProducts: 'Accounts and products',
  accountProduct: 'Account, product',
  share: 'Share',
  notDivided: 'Not divided',

  // MonthsPanel
  monthsOf: (node: Value): string => `Months of ${node}`,
  bySeasonOfLastYear: (monthsTyped: boolean, unit: Value): string =>
    `${monthsTyped ? 'Entered by hand' : 'By the season of last year’s sales'}, ${unit}. Months add up to the target; what is entered divides it in that proportion.`,
  monthsOfTarget: 'Months of the target',
  leftOfTarget: 'Left of the target',
  moreThanTarget: 'More than the target',
  enterAmountsOfZeroOr: 'Enter amounts of zero or more.',
  saveMonths: 'Save months',
  bySeason: 'By season',

  // MoveDialog
  moveSomeOfTargetOf: (from: Value): string => `Move some of the target of ${from}`,
  move: 'Move',
  to: 'To',
  amount: (unit: Value): string => `Amount, ${unit}`,
  lockedOf: (name: Value): string => `${name}, locked`,
  chooseWhoseTargetBecomesLarger: 'Choose whose target becomes larger',
  enterHowMuchIsMoved: 'Enter how much is moved',
  enterAmountAboveZero: 'Enter an amount above zero',
  has: (one: Value, amount: Value): string => `${one} has ${amount}`,

  // NodeDialog
  addBelowOf: (above: Value): string => `Add below ${above}`,
  kind: 'Kind',
  below: 'Below',
  sellerCode: 'Seller code',
  asInSalesLines: 'As in the sales lines',
  accountOptional: 'Account (optional)',
  customerAsInSalesLines:
    'The customer as in the sales lines; with neither account nor sales, it is the rest',
  managerOptional: 'Manager (optional)',
  salesOfEmptyAsAbove: 'Sales of (empty: as above)',
  firstMonthIfJoining: 'First month, if joining',
  lastMonthIfLeaving: 'Last month, if leaving',
  fullCapacityMonth: 'Full capacity a month',
  rampUpByMonthPercent: 'Ramp-up by month, %',
  cushionPercentMayBeHanded: 'Cushion, % (may be handed out beyond the target)',
  targetAmountOrPercentageOf: 'Target: an amount, or a percentage of the target above',
  teamOrArea: 'Team or area',
  person: 'Person',

  // ObjectiveDialog
  addObjectiveToFy: (fiscalYear: Value): string => `Add objective to FY ${fiscalYear}`,
  startFrom: 'Start from',
  targetOfYear: 'Target of the year',
  upliftPercent: 'Uplift, %',
  teamsAndPeopleAsIn: 'Teams and people as in',
  anAmount: 'An amount',
  lastYearWithUplift: 'Last year, with an uplift',
  forecastWithUplift: 'The forecast, with an uplift',
  nothingEmptyTree: 'Nothing: an empty tree',

  // PossiblePanel
  isItPossible: 'Is it possible?',
  eachTargetAsShareOf:
    'Each target as a share of the forecast, the best twelve months, and capacity.',
  targetsAgainstForecastBestTwelve: 'Targets against forecast, best twelve months and capacity',
  teamPerson: 'Team, person',
  bestYear: 'Best year',
  nobodyHasTargetYet: 'Nobody has a target yet.',
  everyTargetIsWithinReach: 'Every target is within reach.',
  oneTargetIsOutOf: 'One target is out of line.',
  targetsAreOutOfLine: (count: Value): string => `${count} targets are out of line.`,

  // TargetsRoom
  objective: 'Objective',
  arranged: 'Arranged',
  actionsFor: (here: Value): string => `Actions for ${here}`,
  saveAllTargetsAsCsv: 'Save all targets as CSV',
  saveAllTargetsAsWorkbook: 'Save all targets as workbook',
  renameObjective: (objective: Value): string => `Rename objective ${objective}`,
  removeObjective: (objective: Value): string => `Remove objective ${objective}`,
  targetsFollowSalesOrganisationFilter:
    'Targets follow the sales organisation; the filter does not apply to them.',
  removeFilter: 'Remove filter',
  noTargetOfFyIs: (fiscalYear: Value): string =>
    `No target of FY ${fiscalYear} is handed out to you`,
  ownerOfWorkspaceCanGive:
    'An owner of the workspace can give you your part of the targets under Settings, People.',
  setTargetOfFy: (fiscalYear: Value): string => `Set the target of FY ${fiscalYear}`,
  enterRevenueTargetOfYear: (currency: Value): string =>
    `Enter the revenue target of the year in ${currency}; then divide it among teams and people.`,
  revenueTarget: 'Revenue target',
  setTarget: 'Set target',
  anotherObjective: 'Another objective',
  plannerCanSetIt: 'A planner can set it.',
  isNowPartsThatAre: (node: Value, becomes: Value): string =>
    `${node} is ${becomes} now; parts that are amounts stay as they are.`,
  passDownInProportion: 'Pass down in proportion',
  leaveThem: 'Leave them',
  changeWhatIsAgreed: 'Change what is agreed',
  addObjective: 'Add objective…',
  tree: 'Tree',
  ranked: 'Ranked',
  targetOf: (what: Value): string => `${what} target`,
  targetWith: (name: Value, what: Value): string => `${name}: ${what} target`,
  fyClosedThroughTickTarget: (
    called: Value,
    fiscalYear: Value,
    unitName: Value,
    closedThrough: Value,
    booksOnly: boolean,
  ): string =>
    `${called}, FY ${fiscalYear}, ${unitName}; closed through ${closedThrough}; tick: target to date by its own season${booksOnly ? '; books only' : ''}`,
  targetOfWholeCompanyIs: 'The target of the whole company is an amount',
  divide: 'Divide',
  addBelow: 'Add below',
  renameOf: (of: Value): string => `Rename ${of}`,
  rename: 'Rename',

  // possible
  noTarget: 'no target',
  leavesHandOverWhatIs: 'leaves: hand over what is left',
  beyondCapacity: 'beyond capacity',
  farAboveBestTwelveMonths: 'far above the best twelve months',
  farAboveForecast: 'far above the forecast',
  farBelowForecast: 'far below the forecast',
  nothingSoldSoFar: 'nothing sold so far',
  withinReach: 'within reach',

  // read-part
  thisCannotBeUsed: 'This cannot be used',
  isNeitherPercentageSuchAs: (text: Value): string =>
    `“${text}” is neither a percentage such as 25% nor an amount`,
  targetCannotBeEmptyEnter: 'A target cannot be empty; enter 0, or remove the row',

  // target-rows
  lastYearIsActualSales: 'Last year is actual sales',
  forecastIsCalculatedChangeIt: 'The forecast is calculated; change it in Drivers or Forecast',
  itFollowsFromPeopleEdit: 'It follows from the people; edit one of them',
  actualSalesComeFromActuals: 'Actual sales come from Actuals',
  actualToDate: 'Actual | to date',
  calculatedFromActualAndTarget: 'Calculated from actual and target',
  tickIs: (targetToDate: Value, says: Value): string => `The tick is the ${targetToDate}. ${says}`,
  attained: 'Attained',
  toDate: 'To date',
  calculatedFromActualAndTargetTo: 'Calculated from actual and the target to date',
  actualOverTargetToDate: (says: Value): string => `Actual over the target to date. ${says}`,
  gap: 'Gap',
  actualLessTargetToDate: (says: Value): string => `Actual less the target to date. ${says}`,
  pace: 'Pace',
  calculatedFromTargetAndActual: 'Calculated from target and actual',
  from: (from: Value): string => `from ${from}`,
  toOf: (until: Value): string => `to ${until}`,
  cushionPercent: (cushion: Value): string => `cushion ${cushion} %`,
  handedOut: 'handed out',
  yourOwnTargetIsSet:
    'Your own target is set by whoever handed it out; you divide what is below it',
  scoreDoesNotAddUp: 'A score does not add up, so it has no shares',
  itFollowsFromPartsChange: 'It follows from the parts; change one of them',
  inAll: (percentsBelow: Value): string => `${percentsBelow} in all`,
  withinTheCushion: 'Within the cushion',
  unassigned: 'Unassigned',
  others: 'Others',

  // use-node-actions
  whyIsAheadOrBehind: (name: Value): string => `Why ${name} is ahead or behind`,
  edit: (name: Value): string => `Edit ${name}`,
  unlock: (name: Value): string => `Unlock ${name}`,
  lock: (name: Value): string => `Lock ${name}`,
  moveSomeOfToAnother: (name: Value): string => `Move some of ${name} to another`,
  agreeTargetOf: (name: Value): string => `Agree the target of ${name}`,
  questionTargetOf: (name: Value): string => `Question the target of ${name}`,
  question: 'Question',
  returnToDraft: (name: Value): string => `Return ${name} to draft`,
  handOut: (name: Value): string => `Hand out ${name}`,
  handOutAgain: (name: Value): string => `Hand out ${name} again`,

  // use-targets
  targetOfFy: (nodes: Value, year: Value): string => `Target of ${nodes}, FY ${year}`,

  // explain
  soldBy: (node: Value): string => `Sold by ${node}`,
  soldByYearBefore: (node: Value): string => `Sold by ${node} the year before`,
  forecastOf: (node: Value): string => `Forecast of ${node}`,
  forecastOfOpenMonths: 'Forecast of the open months',
  whatOtherPartsLeaveOf: 'What the other parts leave of the forecast',
  shareOfItAsOf: 'Share of it, as of the last twelve closed months',
  shareOfWhatIsAhead: (node: Value): string => `${node}’s share of what is ahead`,
  partOfYearThatWas: 'Part of the year that was sold by now the year before',
  targetOfToDate: (node: Value): string => `Target of ${node} to date`,
  attainedToDate: 'Attained to date',
  partsOf: (node: Value): string => `Parts of ${node}`,
  inByNoneOfIts: (node: Value): string => `In ${node}, by none of its parts`,
};
