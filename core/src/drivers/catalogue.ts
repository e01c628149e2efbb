import type { Driver } from './driver.ts';

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
    code: 'marketSize',
    name: 'Market size',
    kind: 'count',
    unit: 'units',
    minimum: 0,
    maximum: 1e12,
    default: null,
  },
  rate('marketShare', 'Share of market', null),
];
