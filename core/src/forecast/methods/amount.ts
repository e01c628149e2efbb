import { at, type Method } from './method.ts';

/** Amount: revenue by month, typed. It has no units. */
export const amount: Method = {
  code: 'amount',
  name: 'Amount',
  when: 'Revenue is agreed or known as an amount, without units.',
  needs: 'A revenue amount for every month.',
  inputs: () => ['amount'],
  writes: ['units', 'revenue'],
  compute({ inputs, results, from, to }) {
    for (let t = from; t < to; t += 1) {
      results.units[t] = 0;
      results.revenue[t] = at(inputs[0], t);
    }
  },
  explain: (result, { driver, setting }) =>
    result === 'revenue'
      ? { shape: 'product', parts: [driver('amount')] }
      : { shape: 'plus', parts: [setting('An amount has no units', 'units', 0)] },
};
