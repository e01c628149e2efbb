import type { Method, Stretch } from './method.ts';

/**
 * Volume x price: net units = gross units x (1 - return rate);
 * revenue = net units x list price x (1 - discount).
 */
export const volumePrice: Method = {
  code: 'volumePrice',
  inputs: ['grossUnits', 'listPrice', 'discount', 'returnRate'],
  compute({ inputs, units, revenue, offset, from, to }: Stretch): void {
    const [gross, price, discount, returns] = inputs;
    if (!gross || !price || !discount || !returns)
      throw new RangeError('volumePrice has four inputs');
    for (let t = from; t < to; t += 1) {
      const net = (gross[t] ?? NaN) * (1 - (returns[t] ?? NaN));
      units[offset + t] = net;
      revenue[offset + t] = net * (price[t] ?? NaN) * (1 - (discount[t] ?? NaN));
    }
  },
};
