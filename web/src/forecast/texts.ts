import { plural, type Value } from '../format/words.ts';

/** The texts of forecast, by the part that shows each first. */
export const TEXTS = {
  // AnewForm
  to: 'to',
  forecastFrom: 'Forecast from',
  continues: 'Continues',
  manualOverridesOf: (overridden: number): string =>
    `${overridden} manual ${plural(overridden, 'override', 'overrides')}`,
  revenueOfTheseMonths: 'Revenue of these months',
  current: 'Current',
  reforecast: 'Reforecast',
  reforecastTheseMonths: 'Reforecast these months',
  baselineOrPeriodOfHistory: 'A baseline or a period of history',
  nothingLeaveMonthsBlank: 'Nothing: leave the months blank',
  methodOfForecastLineAgain: 'The method of the forecast line again',
  keepManualOverridesInThese: 'Keep manual overrides in these months',
  removeManualOverridesInThese: 'Remove manual overrides in these months',
  chooseFirstAndLastMonth: 'Choose the first and the last month',
  lastMonthIsBeforeFirst: 'The last month is before the first',
  openMonthsAre: (open: Value): string => `Open months are ${open}`,
  forecastLinesOf: (lines: number, said: Value = lines): string =>
    `${said} ${plural(lines, 'forecast line', 'forecast lines')}`,
  reforecastOf: (lines: Value): string => `Reforecast: ${lines}`,

  // BaselineFields
  baseline: 'Baseline',
  sameAsMonthOptional: 'Same as month (optional)',
  averageOfOptional: 'Average of (optional)',
  growthPercent: 'Growth, %',
  sameAsLastYear: 'same as last year',
  monthsWithoutSales: 'Months without sales',
  accuracyOverLastTwelveMonths: (first: Value): string =>
    `Accuracy over the last twelve months of ${first}`,
  baselineLast12Months: 'Baseline, last 12 months',
  mostAccurate: 'Most accurate',

  // ForecastCharts
  tableBelowHoldsSameNumbers: (heading: Value): string =>
    `${heading}. The table below holds the same numbers.`,
  noDataToShow: 'No data to show.',
  chartAsTable: 'The chart as a table',
  part: 'Part',
  unitsInPeriod: 'Units in the period',
  averagePricePerUnit: (currency: Value): string => `Average price, ${currency} per unit`,
  showAsChart: 'Show as chart',
  showAsTable: 'Show as table',
  ownScaleForEach: 'Own scale for each',
  dotIsThisPeriodTick:
    'A dot is this period, a tick the same months last year; both scales are logarithmic.',
  aboveFromOn: (over: Value, under: Value, headings: Value): string =>
    `${over} above ${under} from ${headings} on`,
  tableHoldsSameNumbers: (heading: Value): string =>
    `${heading}. The table holds the same numbers.`,

  // ForecastRecord
  soFar: (said: Value): string => `so far: ${said}.`,
  forecastError: 'Forecast error',
  ahead: (wape: Value, months: Value): string => `${wape} ${months} ahead`,
  tooHigh: 'too high',
  tooLow: 'too low',
  bias: (bias: Value): string => `, bias ${bias}`,
  always: (side: Value): string => `, always ${side}`,

  // ForecastRoom
  methods: 'Methods',
  addForecastLines: 'Add forecast lines',
  noOverrides: 'No overrides',
  overrides: (typedOver: number): string =>
    `${typedOver} ${plural(typedOver, 'override', 'overrides')}`,
  wholeUnitsForSupplyPlanning: (grain: Value): string =>
    `Whole units for supply planning, by ${grain}`,
  show: 'Show',
  addForecastLinesForThose: 'add forecast lines for those that sell',
  addForecastLinesForAll: 'add forecast lines for all',
  noSalesAndNoForecast: 'No sales and no forecast here',
  chart: 'Chart',
  partsBy: 'Parts by',
  by: (find: Value): string => `by ${find}`,
  emptyRows: 'Empty rows',
  reasonForNextOverride: 'Reason for the next override',
  reasonForOverride: 'Reason for the override',
  creating: (combinations: Value): string => `Creating ${combinations}`,
  added: (streams: Value): string => `Added ${streams}`,

  // FunnelForm
  sources: 'Sources',
  source: (source: Value): string => `Source ${source}`,
  volume: 'Volume',
  driverOf: (which: Value): string => `Driver ${which}`,
  driver: 'Driver',
  enters: 'Enters',
  addStepOfAlone: (source: Value): string => `Add a step of ${source} alone`,
  addSource: 'Add source',
  addStep: 'Add step',
  stepsOfAllSources: 'Steps of all sources',
  spendCostOfOne: 'spend / cost of one',
  oneTimesOther: 'one times the other',
  beforeFirstStep: 'before the first step',
  after: (name: Value): string => `after ${name}`,
  anotherSource: 'Another source',

  // FunnelView
  noForecastLineHereUses: 'No forecast line here uses a funnel. Choose one under Methods.',
  thisPeriodHasNoOpen:
    'This period has no open months: funnels are calculated for the months ahead.',
  funnels: 'Funnels',
  funnelsOpenMonths: (streams: number): string =>
    `${streams} ${plural(streams, 'funnel', 'funnels')}, open months`,
  cost: 'Cost',
  ofStepBefore: 'of the step before',

  // LevelsChoice
  levelsOfRows: 'Levels of rows',
  levels: 'Levels',
  levelsOfRowsOf: (level: number): string => `${level} ${plural(level, 'level', 'levels')} of rows`,

  // LikeDialog
  newProductLikeAnotherOne: 'New product like another one',
  addAndForecast: 'Add and forecast',
  newMemberOf: 'New member of',
  like: 'Like',
  volumePercentOfIt: 'Volume, % of it',
  soldFrom: 'Sold from',
  listPriceOptional: (currency: Value): string => `List price, ${currency} (optional)`,
  theSame: 'the same',
  itGetsSeasonPricesDiscounts:
    'It gets the season, prices, discounts, rates and costs of the other one. All of it can be changed under Drivers.',
  addedWith: (body: Value, lines: Value): string => `Added ${body} with ${lines}`,
  isNotForecastItself: (like: Value): string => `${like} is not forecast itself.`,
  unitsOf: (units: Value): string => `${units} units`,
  inFirstTwelveMonthsFrom: (lines: Value, volume: Value, from: Value): string =>
    `${lines}; ${volume} in the first twelve months from ${from}.`,

  // MeasuresChoice
  measure: (label: Value): string => `Measure: ${label}`,
  onlyOf: (measures: Value): string => `Only ${measures}`,
  only: 'only',
  measuresIn: 'Measures in',
  sortRows: 'Sort rows',
  andMore: (name: Value, more: Value): string => `${name} and ${more} more`,
  rowsByTime: 'rows, by time',
  columnsForPeriod: 'columns, for the period',
  standardOrder: 'Standard order',
  largestFirst: (name: Value): string => `${name}, largest first`,
  smallestFirst: (name: Value): string => `${name}, smallest first`,

  // MethodFields
  needs: (when: Value, needs: Value): string => `${when} Needs: ${needs}`,
  soldFromMonthsBefore: 'Sold from, months before',
  timesAttachRate: 'times the attach rate',
  grows: 'Grows',
  on: 'On',
  units: 'Units =',
  emptyForNone: 'empty for none',
  revenue: 'Revenue =',
  emptyForUnitsXList: 'empty for units x list price x (1 - discount)',
  name: (name: Value): string => `Name ${name}`,
  is: 'is',
  of: 'of',
  addNameForAnotherForecast: 'Add a name for another forecast line',
  namesUnitsRevenue: (names: Value): string => `Names: ${names}, units, revenue`,
  toOf: (label: Value): string => `to ${label}`,
  enteredUnderDrivers: 'entered under Drivers',
  follow: (name: Value): string => `follow ${name}`,
  theMonthBefore: 'the month before',
  averageOfQuarterBefore: 'the average of the quarter before',

  // MethodPanel
  forecastMethods: 'Forecast methods',
  whatIsSet: 'What is set',
  method: 'Method',
  selectedMonths: 'Selected months',
  methodOf: (first: Value): string => `Method of ${first}`,
  historyCurrentForecastAndForecast:
    'History, the current forecast, and the forecast with this method',
  shaded: 'Shaded:',
  manualOverridesAndReforecastMonths: 'Manual overrides, and reforecast months',
  useMethod: 'Use method',
  delete: (lines: number, said: Value): string =>
    `Delete ${lines === 1 ? 'this forecast line' : said}`,
  keepThem: 'Keep them',
  removeThoseOfTheseLines: 'Remove those of these lines',
  nextTwelveMonthsCurrently: (then: Value, before: Value): string =>
    `Next twelve months: ${then}, currently ${before}`,
  for: (name: Value, chosen: Value): string => `${name} for ${chosen}`,

  // NewStreams
  addForecastLinesForNew: 'Add forecast lines for new products or regions',
  addForecastLine: 'Add forecast line',
  addForecastLinesOf: (count: Value): string => `Add ${count} forecast lines`,
  chooseMembersOfEveryDimension:
    'Choose members of every dimension; a forecast line is added for each combination.',
  addNewProductLikeAnother: 'Add a new product like another one',
  addedForecastLines: (streams: number): string =>
    `Added ${streams} forecast ${plural(streams, 'line', 'lines')}`,

  // NextSteps
  nextSteps: 'Next steps',
  andMoreInputs: (steps: Value): string => `and ${steps} more inputs`,
  setThePrice: 'set the price',
  setUnitsWithSeason: 'set units, with a season',
  setAmountsWithSeason: 'set amounts, with a season',
  setTheGrowth: 'set the growth',
  setAttachRate: 'set the attach rate',
  setMarketSize: 'set the market size',
  setTheShare: 'set the share',
  fromOn: (month: Value): string => ` from ${month} on`,
  forecastLinesLack: (lines: number, name: Value, since: Value): string =>
    `${lines} forecast ${plural(lines, 'line lacks', 'lines lack')} ${name}${since}`,
  set: (name: Value): string => `set ${name}`,

  // NotForecastPanel
  soldWithoutForecast: 'Sold without a forecast',
  revenueOfLastTwelveClosed: (unit: Value, total: Value): string =>
    `Revenue of the last twelve closed months, ${unit}, total ${total}. The coming months have no forecast for it. A new forecast line starts with what was sold a year before.`,
  lastSoldIn: (methods: Value, last: Value, discontinued: boolean): string =>
    `${methods}; last sold in ${last}${discontinued ? ', seems discontinued' : ''}`,
  add: (chosen: number): string =>
    `Add ${chosen === 1 ? 'forecast line' : `${chosen} forecast lines`}`,

  // OverridesPanel
  manualOverrides: 'Manual overrides',
  stayWhenDriversChangeEmptying: 'stay when drivers change. Emptying a cell removes its override.',
  noReasonGiven: 'No reason given',
  cellsOf: (by: Value, lines: Value, measure: Value): string =>
    `${by}, ${lines} cells of ${measure}`,
  removeThese: 'Remove these',
  calculated: (line: Value): string => `calculated ${line}`,
  andMoreCells: (lines: Value): string => `and ${lines} more cells`,
  removeAll: (lines: Value): string => `Remove all ${lines}`,

  // ProposalList
  proposals: 'Proposals',
  proposeMethodForFromIts: (lines: number): string =>
    `Propose a method for ${lines === 1 ? 'it' : `each of ${lines}`} from its history`,
  triedOf: (proposals: Value, lines: Value): string => `Tried ${proposals} of ${lines}`,
  proposedMethods: 'Proposed methods',
  useProposals: (chosen: number): string =>
    `Use ${chosen} ${plural(chosen, 'proposal', 'proposals')}`,
  tryingForecastMethods: 'Trying forecast methods',
  mostAccurateOverLastTwelve: 'Most accurate over the last twelve closed months',
  setProposedMethodOfForecast: (count: Value): string =>
    `Set the proposed method of ${count} forecast lines`,

  // StepsFields
  step: (step: Value): string => `Step ${step}`,
  conversion: 'Conversion',
  monthsLater: 'Months later',
  alreadyUnderWayOldestFirst: 'Already under way, oldest first',
  numbers: (lag: Value): string => `${lag} numbers`,
  anotherStep: 'Another step',

  // StreamPicker
  findForecastLine: 'Find forecast line',
  all: (shown: Value): string => `All ${shown}`,
  forecastLines: 'Forecast lines',
  missing: (problems: Value): string => `${problems} missing`,
  noForecastLineContains: (find: Value): string => `No forecast line contains “${find}”.`,
  reforecastWith: (name: Value, anew: Value): string => `${name}, ${anew} reforecast`,

  // SubscriptionFields
  subscribersLeave: 'Subscribers leave',
  churnByAgeInMonths: 'Churn by age in months, %',
  fromFirstMonthAfterStart: 'from the first month after the start; the last one goes on',
  howManyIsDriver: 'How many is the driver',
  setUnderDrivers: ', set under Drivers.',
  monthsOfTerm: 'Months of a term',
  everySoManyMonths: 'Every so many months',
  countedFromOptional: 'Counted from (optional)',
  allPayListPriceOf:
    'All pay the list price of the month. When each of them came is not known, so there are no cohorts.',
  theyPay: 'They pay',
  billed: 'Billed',
  listPriceIsThatOf: 'The list price is that of a year.',
  unitsAndRevenueAre: 'Units and revenue are',
  promotionIsSetUnderDrivers:
    'A promotion is set under Drivers, by the month of the start: for how many months, and what it takes off the price.',
  changeToAnotherPlan: 'Change to another plan',
  sharePercent: 'Share, %',
  afterSoManyMonths: 'After so many months',
  subscribersThereAlreadyByAge: 'Subscribers there already, by age (optional)',
  fromTheHistory: 'from the history',
  sameShareEveryMonth: 'the same share every month',
  shareForEachAge: 'a share for each age',
  shareAtEndOfEach: 'a share at the end of each term',
  wholeCustomersEverySoMany: 'whole customers, every so many months',
  listPriceOfMonth: 'the list price of the month',
  listPriceOfTheirStart: 'the list price of their start',
  listPriceOfTheirLast: 'the list price of their last renewal',
  driverNewSubscribers: 'the driver New subscribers',
  funnelOfSourcesAndSteps: 'a funnel of sources and steps',
  subscribersAndWhatIsEarned: 'subscribers, and what is earned a month',
  yearsThatBeginAndWhat: 'the years that begin, and what is billed',
  everyMonth: 'every month',
  aYearAhead: 'a year ahead',

  // blank-funnel
  visits: 'Visits',
  buys: 'Buys',

  // method-form
  revenueAndUnitsWithIt: 'revenue, and units with it',
  unitsAtListPriceAnd: 'units, at list price and discount',

  // use-arrangement
  stackedParts: 'Stacked parts',
  linesByPart: 'Lines by part',
  shares: 'Shares',
  smallCharts: 'Small charts',
  priceAndVolume: 'Price and volume',
  subscriptions: 'Subscriptions',
  noChart: 'No chart',

  // use-overrides
  cellsOverridden: (cells: number): string =>
    `${cells} ${plural(cells, 'cell', 'cells')} overridden${cells > 1 ? ', in proportion' : ''}.`,
  isCalculatedEnterRevenueOr: (measures: Value): string =>
    `${measures} is calculated; enter revenue or units`,
  thisMonthIsClosedIt: 'This month is closed; it shows actuals',
  thisNumberIsTooLarge: 'This number is too large',
  thereIsNoOverrideHere: 'There is no override here.',
  removedOverrideOfCells: (cells: number): string =>
    `Removed the override of ${cells} ${plural(cells, 'cell', 'cells')}.`,

  // use-page
  lastYear: 'last year',
  closedMonthsAsForecastAt: '; closed months as forecast at their close',
  openWeeksByDays: '; open weeks by days',
  baseScenario: (
    measure: Value,
    span: Value,
    closed: Value,
    booksOnly: boolean,
    atClose: Value,
    weeks: Value,
  ): string =>
    `${measure}, ${span}, ${closed}${booksOnly ? ', books only' : ''}; base scenario${atClose}${weeks}`,
  forecastAtClose: 'Forecast at close',
  growth: 'Growth',
  growthOnLastYear: 'Growth on last year',
  aYearBefore: 'A year before',
};
