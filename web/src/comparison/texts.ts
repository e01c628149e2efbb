import { plural, type Value } from '../format/words.ts';

/** The texts of comparison, by the part that shows each first. */
export const TEXTS = {
  // AcrossTable
  varianceInPercent: 'variance in %',
  varianceFrom: (side: Value): string => `variance from ${side}`,

  // BridgeTable
  fromToRevenue: (plan: Value, actual: Value): string => `From ${plan} to ${actual}, revenue`,
  unfavourable: 'unfavourable:',
  items: (items: number): string => `${items} ${plural(items, 'item', 'items')}`,
  more: (more: Value): string => `${more} more`,
  units: (size: Value, more: number): string => `${size} ${more < 0 ? 'fewer' : 'more'} units`,
  volume: 'Volume',
  atAveragePrice: (few: Value): string => `${few}, at the average price`,
  mix: 'Mix',
  dearerOrCheaperItemsSold: 'dearer or cheaper items sold',
  price: 'Price',
  sameItemsAtOtherPrices: 'the same items at other prices',
  replaced: 'Replaced',
  discontinued: 'Discontinued',
  withoutUnits: 'Without units',
  itemsThatAreNotCounted: 'items that are not counted',
  grossUnits: 'Gross units',
  moreOrFewerSoldBefore: 'more or fewer sold, before returns',
  visitsAndOthers: 'Visits and others',
  moreOrFewerEnteredFunnel: 'more or fewer entered the funnel',
  conversion: 'Conversion',
  moreOrFewerOfThem: 'more or fewer of them came through',
  returns: 'Returns',
  moreOrFewerCameBack: 'more or fewer came back',
  subscribersBefore: 'Subscribers before',
  moreOrFewerThereAt: 'more or fewer there at the start',
  moreOrFewerCame: 'more or fewer came',
  moreOrFewerLeft: 'more or fewer left',
  listPrice: 'List price',
  anotherPrice: 'another price',
  discount: 'Discount',
  moreOrLessOffPrice: 'more or less off the price',
  notExplained: 'Not explained',
  begunEndedOrWithoutUnits: 'begun, ended, or without units',
  step: 'Step',
  whatItIs: 'What it is',

  // ComparisonRoom
  compared: 'Compared',
  against: (said: Value): string => `against ${said}`,
  beside: 'Beside',
  saveStepsAsCsv: 'Save the steps as CSV',
  saveStepsAsWorkbook: 'Save the steps as workbook',
  whoSoldAndWhoBought: (said: Value): string =>
    `Who sold and who bought is known of sales, not of ${said}`,
  compareSalesWithEarlierYear: 'Compare sales with an earlier year, or choose other rows.',
  againstLastYear: 'Against last year',
  fyHasNoTargetIn: (fiscalYear: Value, measures: Value): string =>
    `FY ${fiscalYear} has no target in ${measures}`,
  setOneInTargetsOr: 'Set one in Targets, or choose another side.',
  salesAreComparedUpTo: (closedThrough: Value): string =>
    `Sales are compared up to ${closedThrough}.`,
  noSalesAndNoPlan: 'No sales and no plan here',
  why: 'Why',
  whyByDriver: 'why, by driver',
  whyByItem: 'why, by item',
  less: (of: Value, against: Value): string => `${of} less ${against}`,
  andMore: (name: Value, more: Value): string => `${name} and ${more} more`,
  from: (from: Value): string => `from ${from}`,
  through: (to: Value): string => `through ${to}`,
  fyHasNoTargetInIt: (fiscalYear: Value): string => `; FY ${fiscalYear} has no target in it`,
  lessOf: (
    measure: Value,
    months: Value,
    of: Value,
    inBooks: boolean,
    against: Value,
    cut: Value,
    without: Value,
  ): string =>
    `${measure}, ${months}, ${of}${inBooks ? ' in the books' : ''} less ${against}${cut}${without}`,
  noClosedMonthsInThis: 'No closed months in this period',
  haveNoMonthOfThis: (names: Value): string => `${names} have no month of this period in common`,
  byItemVolumeMixPrice: 'By item: volume, mix, price',
  byDriverUnitsConversionChurn: 'By driver: units, conversion, churn, price',
  andOthers: (more: Value): string => `and ${more} others`,
  and: (said: Value): string => `and ${said}`,
  whatHasForIsReached: (said: Value, year: Value, left: Value): string =>
    `What ${said} has for ${year} is reached, with ${left} more.`,
  inMonthThatIsLeft: ' in the month that is left',
  aMonthFor: (each: Value, months: Value): string => `, ${each} a month for ${months}`,
  bestMonthSoFarWas: (best: Value, month: Value): string =>
    `; the best month so far was ${best}, ${month}`,
  toReachInStillTo: (said: Value, year: Value, left: Value, months: Value, best: Value): string =>
    `To reach ${said} in ${year}: ${left} still to go${months}${best}.`,
  budgetActual: 'Budget | actual',
  beforeActual: 'Before | actual',

  // ComparisonTable
  variance: 'Variance',

  // LargestDifferences
  largestDifferences: 'Largest differences',
  noDifferenceIsAsLarge: 'No difference is as large.',
  whyOnly: (item: Value): string => `Why: only ${item}`,

  // MaterialityChoice
  differencesThatMatter: (label: Value): string => `Differences that matter: ${label}`,
  smallerDifferencesAreQuietAnd: 'Smaller differences are quiet and not listed.',
  fromOf: (currency: Value): string => `From, ${currency}`,
  andFromPercent: 'And from, %',
  showAll: 'Show all',
  differencesFrom: (parts: Value): string => `Differences from ${parts}`,
  allDifferences: 'All differences',
  enterNumberOfZeroOr: 'Enter a number of zero or more',

  // held
  differenceFrom: (name: Value): string => `Difference from ${name}`,

  // use-across
  onePeriod: 'One period',
  monthByMonth: 'Month by month',
  quarterByQuarter: 'Quarter by quarter',
  yearByYear: 'Year by year',
  severalMeasures: 'Several measures',

  // use-sides
  lastYear: 'last year',
  yearBeforeLast: 'Year before last',
  yearBeforeLastLower: 'the year before last',
  theForecast: 'the forecast',
  target: (year: Value): string => `Target ${year}`,
  theTargetOf: (year: Value): string => `the target of ${year}`,
};
