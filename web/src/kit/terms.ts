/** Terms that not everybody knows, each in one sentence. */
export const TERMS = {
  scaledError: {
    name: 'Scaled error',
    says: 'Average error of the forecast of the last twelve closed months, divided by the average difference from the same month a year before: below 1 is better than repeating last year.',
  },
  forecastError: {
    name: 'Forecast error',
    says: 'How far forecasts were off: the differences from actual, without their signs, as a share of actual.',
  },
  bias: {
    name: 'Bias',
    says: 'Actual less forecast, as a share of actual: below zero, forecasts were too high.',
  },
  range: {
    name: '80 % range',
    says: 'Four of five outcomes were within this range, by the errors of the last twelve closed months.',
  },
  churn: {
    name: 'Churn',
    says: 'The share of the subscribers of a month who leave before the next one, or of those whose term ends who do not renew.',
  },
  override: {
    name: 'Manual override',
    says: 'A value entered in place of the calculated one: it stays when drivers change, until it is removed.',
  },
  targetToDate: {
    name: 'Target to date',
    says: 'The part of the year’s target that was due by the last closed month, by the season of last year’s sales.',
  },
  attainment: {
    name: 'Attained',
    says: 'Actual sales of the closed months as a part of the target of the whole year.',
  },
  pace: {
    name: 'Pace',
    says: 'What each month that is left has to bring to reach the target.',
  },
  capacity: {
    name: 'Capacity',
    says: 'What people can sell in the year: full capacity a month, less while they ramp up, through the month in which they leave.',
  },
  cushion: {
    name: 'Cushion',
    says: 'What a manager may hand out beyond the target, so that it is reached even if one part is missed.',
  },
  winRate: {
    name: 'Win rate',
    says: 'The share of opportunities that become deals.',
  },
  booksOnly: {
    name: 'Books only',
    says: 'Without sales that were entered by hand.',
  },
  forecastLine: {
    name: 'Forecast line',
    says: 'One combination of members of every dimension, such as a product in a channel, customer group and region, with its own method.',
  },
  attachRate: {
    name: 'Attach rate',
    says: 'How many units of a refill are sold per unit of the product that was sold before.',
  },
  overAssigned: {
    name: 'Over-assigned',
    says: 'The targets below add up to more than the target above them.',
  },
} as const;
export type TermName = keyof typeof TERMS;
