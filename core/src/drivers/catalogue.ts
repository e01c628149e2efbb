import type { Driver } from './driver.ts';

/** The drivers of volume x price. */
export const DRIVERS: readonly Driver[] = [
  {
    code: 'grossUnits',
    name: 'Gross units',
    kind: 'count',
    unit: 'units',
    minimum: 0,
    maximum: 1e9,
    default: null,
  },
  {
    code: 'listPrice',
    name: 'List price',
    kind: 'moneyPerUnit',
    unit: 'per unit',
    minimum: 0,
    maximum: 1e9,
    default: null,
  },
  {
    code: 'discount',
    name: 'Discount',
    kind: 'percent',
    unit: '%',
    minimum: 0,
    maximum: 1,
    default: 0,
  },
  {
    code: 'returnRate',
    name: 'Return rate',
    kind: 'percent',
    unit: '%',
    minimum: 0,
    maximum: 1,
    default: 0,
  },
];
