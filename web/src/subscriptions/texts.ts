import { type Value } from '../format/words.ts';

/** The texts of subscriptions, by the part that shows each first. */
export const TEXTS = {
  // AgainstVersion
  thereIsNoVersionTo:
    'There is no version to compare with. Save the forecast as a version under Budget.',
  wasSavedWithoutSubscriptionsSave: (against: Value): string =>
    `${against} was saved without subscriptions. Save the forecast as a version under Budget, and choose it above.`,
  recurringRevenueAndForecastOpen: (against: Value): string =>
    `Recurring revenue, ${against} and forecast, open months`,
  eachStepIsWhatIts:
    'Each step is what its own number changes, with what follows from it: who comes in excess of the version counts for new subscribers, less those of them who leave by its churn.',

  // CohortTable
  startedIn: 'Started in',
  subscribers: 'Subscribers',
  thereBefore: 'there before',
  leavesFaster: 'leaves faster',
  lostThoseBeforeWouldHave: (lost: Value, expected: Value): string =>
    `lost ${lost}; those before would have lost ${expected}`,

  // FromRecords
  subscriberRecords: (churn: Value): string => `Subscriber records: ${churn}`,
  without: (leftOut: Value): string => `, without ${leftOut}`,
  useThisChurn: 'Use this churn',
  areThereAtEndOf: (there: Value, closedThrough: Value): string =>
    `${there} are there at the end of ${closedThrough}.`,
  useTheseByAge: 'Use these by age',
  subscriberRecordsThrough: (closedThrough: Value): string =>
    `Subscriber records through ${closedThrough}`,
  setChurnFromSubscriberRecords: 'Set churn from subscriber records',

  // SubscribersView
  importFileWithCodeStart:
    'Import a file with a code, a start and an end for each subscriber; cohorts and churn are counted from it.',
  subscribersShownAs: 'Subscribers shown as',
  cohortsLeftOut: 'Cohorts left out',
  leaveOutWhichLostMore: (start: Value): string =>
    `Leave out ${start}, which lost more than those before`,
  partOfSubscribersThatIs:
    'Part of the subscribers that is left, by months after the start; the table holds the same numbers',
  subscribersByMonth: 'Subscribers by month',
  opening: 'Opening',
  lost: 'Lost',
  churnByAge: 'Churn by age',
  monthsAfterStart: 'Months after the start',
  couldLeave: 'Could leave',
  left: 'Left',
  keptFitted: 'Kept, fitted',
  nineInTenBetween: 'Nine in ten between',
  and: (low: Value, high: Value): string => `${low} and ${high}`,
  cohortsByMonthsAfterStart: 'Cohorts by months after the start',
  byMonth: 'By month',
  cohorts: 'Cohorts',
  percentKept: 'Percent kept',
  noSubscribers: (anywhere: boolean): string => `No subscribers ${anywhere ? 'yet' : 'here'}`,
  subscribersAreKnownForClosed:
    'Subscribers are known for closed months; choose a period that has some',
  subscribersAtEndOfThan: (
    closing: Value,
    month: Value,
    size: Value,
    change: number,
    before: Value,
  ): string =>
    `${closing} subscribers at the end of ${month}, ${size} ${change >= 0 ? 'more' : 'fewer'} than before ${before}`,
  allCohortsThroughMonthsAfter: (closedThrough: Value): string =>
    `All cohorts through ${closedThrough}, months after the start`,
  age: 'Age',
  atLeast: 'At least',
  atMost: 'At most',

  // SubscriptionView
  noForecastLineHereIs: 'No forecast line here is a subscription. Choose one under Methods.',
  thisPeriodHasNoOpen:
    'This period has no open months: subscriptions are calculated for the months ahead.',
  subscriptionsShownAs: 'Subscriptions shown as',
  customersWhoLeaveWholeAre:
    'Customers who leave as a whole are in no cohort: when each of them came is not known.',
  subscriptions: 'Subscriptions',
  subscribersAndRecurringRevenueOpen: 'Subscribers and recurring revenue, open months',
  newSubscribersBySourceOpen: 'New subscribers by source, open months',
  activeSubscribersAndLevelAt:
    'Active subscribers, and the level at which they end; the movement holds the same numbers',
  levelsOffAt: (plateau: Value): string => `levels off at ${plateau}`,
  recurringRevenueByMonthsAfter: (currency: Value): string =>
    `Recurring revenue by months after the start, ${currency}`,
  movement: 'Movement',
  cohortRevenue: 'Cohort revenue',
  sources: 'Sources',
  worth: 'Worth',
  curve: 'Curve',
  againstVersion: 'Against version',
  recurringRevenueOf: (money: Value): string => `Recurring revenue, ${money}`,
  billedAhead: (money: Value): string => `Billed ahead, ${money}`,
  revenueOfThoseWhoCame: (money: Value): string => `Revenue of those who came from it, ${money}`,
  spentOf: (money: Value): string => `Spent, ${money}`,
  spentForOne: 'Spent for one',
  cohortRevenueOf: (currency: Value): string => `Cohort revenue ${currency}`,

  // WorthTable
  whatNewSubscriberIsWorth: 'What a new subscriber is worth, at the end of the period',
  aNewSubscriber: 'A new subscriber',
  howItIsCalculated: 'How it is calculated',
  churnRetentionAndPeopleNeeded: 'Churn, retention and people needed, by period',
  keptAndLost: 'Kept and lost',
  peopleNeededOneFor: 'People needed, one for',
  subscribersLower: 'subscribers',
  subscribersThatOnePersonServes: 'Subscribers that one person serves',

  // bridge-lines
  recurringRevenue: 'Recurring revenue',
  variance: 'Variance',
  of: 'Of',
  line: 'Line',

  // subscription-file
  spent: 'Spent',
  source: 'Source',
  countedThrough: 'Counted through',

  // worth-lines
  months: (value: Value): string => `${value} months`,
  priceAMonth: 'Price a month',
  recurringRevenueActiveSubscribers: 'recurring revenue / active subscribers',
  grossMargin: 'Gross margin',
  revenueCostOfSalesRevenue: '(revenue - cost of sales) / revenue of the last month',
  lifetime: 'Lifetime',
  nobodyLeaves: 'nobody leaves',
  monthsThatOneStaysOn: 'months that one stays on average, by churn',
  lifetimeValue: 'Lifetime value',
  priceXMarginX: (price: Value, margin: Value, lifetime: Value): string =>
    `price ${price} x margin ${margin} x ${lifetime}`,
  acquisitionCost: 'Acquisition cost',
  nothingIsSpentOnSources: 'nothing is spent on sources',
  spentOnAllSourcesNew: 'spent on all sources / new subscribers of the period',
  paidBackAfter: 'Paid back after',
  acquisitionCostPriceXMargin: (acquisitionCost: Value, price: Value, margin: Value): string =>
    `acquisition cost ${acquisitionCost} / (price ${price} x margin ${margin})`,
};
