import { productMethod } from './method.ts';

/**
 * Volume x price: net units = gross units x (1 - return rate);
 * revenue = net units x list price x (1 - discount).
 */
export const volumePrice = productMethod(
  'volumePrice',
  ['grossUnits', 'listPrice', 'discount', 'returnRate'],
  {
    units: [
      { kind: 'driver', driver: 'grossUnits' },
      { kind: 'rest', driver: 'returnRate' },
    ],
    revenue: [
      { kind: 'result', result: 'units' },
      { kind: 'driver', driver: 'listPrice' },
      { kind: 'rest', driver: 'discount' },
    ],
  },
);
