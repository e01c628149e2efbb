import { natureOf, type Driver } from './driver.ts';

const PLAIN = { step: null, choices: [], formula: null, history: null } as const;
const rate = (code: string, name: string, fallback: number | null): Driver => ({
  ...PLAIN,
  code,
  name,
  kind: 'percent',
  unit: '%',
  minimum: 0,
  maximum: 1,
  default: fallback,
});
const growth = (code: string, name: string): Driver => ({
  ...PLAIN,
  code,
  name,
  kind: 'percent',
  unit: '%',
  minimum: -1,
  maximum: 10,
  default: 0,
});

/**
 * A size of a market is a fact of the scope that it is set for: what streams share counts once, and
 * a total of it is not divided among them.
 */
export const MARKET_SIZE = 'marketSize';

/** Whether a driver's numbers add over streams, so that a total is spread over them. */
export function addsOverStreams(driver: Pick<Driver, 'code' | 'kind' | 'nature'>): boolean {
  return driver.code !== MARKET_SIZE && ['flow', 'stock'].includes(natureOf(driver));
}

/** What cost of sales is made of, for every method; a stream needs neither. */
export const COST_DRIVERS = ['unitCost', 'costShare'] as const;

/** The drivers that the methods themselves read. A workspace adds its own. */
export const DRIVERS: readonly Driver[] = [
  {
    ...PLAIN,
    code: 'grossUnits',
    name: 'Gross units',
    kind: 'count',
    unit: 'units',
    minimum: 0,
    maximum: 1e9,
    default: null,
  },
  {
    ...PLAIN,
    code: 'listPrice',
    name: 'List price',
    kind: 'moneyPerUnit',
    unit: 'per unit',
    minimum: 0,
    maximum: 1e9,
    default: null,
  },
  rate('discount', 'Discount', 0),
  rate('returnRate', 'Return rate', 0),
  {
    ...PLAIN,
    code: 'amount',
    name: 'Revenue amount',
    kind: 'money',
    unit: 'a month',
    minimum: null,
    maximum: null,
    default: null,
  },
  {
    ...PLAIN,
    code: 'attachRate',
    name: 'Attach rate',
    kind: 'ratio',
    unit: 'per unit sold before',
    minimum: 0,
    maximum: 1000,
    default: null,
  },
  growth('growth', 'Growth on last year'),
  growth('periodGrowth', 'Growth on the period before'),
  {
    ...PLAIN,
    code: MARKET_SIZE,
    name: 'Market size',
    kind: 'count',
    unit: 'units',
    minimum: 0,
    maximum: 1e12,
    default: null,
  },
  rate('marketShare', 'Share of market', null),
  {
    ...PLAIN,
    code: 'newSubscribers',
    name: 'New subscribers',
    kind: 'count',
    unit: 'subscribers',
    minimum: 0,
    maximum: 1e9,
    default: null,
  },
  rate('churnRate', 'Churn', null),
  rate('expansionRate', 'Expansion', 0),
  rate('contractionRate', 'Contraction', 0),
  {
    ...PLAIN,
    code: 'promotionMonths',
    name: 'Promotion, first months',
    kind: 'wholeCount',
    unit: 'months from the start',
    minimum: 0,
    maximum: 60,
    default: 0,
    nature: 'level',
  },
  rate('promotionOff', 'Promotion, off the price', 0),
  {
    ...PLAIN,
    code: 'unitCost',
    name: 'Unit cost',
    kind: 'moneyPerUnit',
    unit: 'per unit',
    minimum: 0,
    maximum: 1e9,
    default: null,
  },
  rate('costShare', 'Cost of sales, share of revenue', null),
];
