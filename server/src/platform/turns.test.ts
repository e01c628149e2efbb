import { assert } from 'chai';
import { Turns } from './turns.ts';

describe('turns', () => {
  it('let only so many be at work, in order, also when one fails', async () => {
    const turns = new Turns(2);
    let atWork = 0;
    let most = 0;
    const order: number[] = [];
    const one = (number: number) =>
      turns.take(async () => {
        order.push(number);
        atWork += 1;
        most = Math.max(most, atWork);
        await new Promise((resolve) => setImmediate(resolve));
        atWork -= 1;
        if (number === 1) throw new Error('one fails');
        return number;
      });
    const ended = await Promise.allSettled([0, 1, 2, 3, 4].map(one));
    assert.equal(most, 2);
    assert.deepEqual(order, [0, 1, 2, 3, 4]);
    assert.deepEqual(
      ended.map(({ status }) => status),
      ['fulfilled', 'rejected', 'fulfilled', 'fulfilled', 'fulfilled'],
    );
  });
});
