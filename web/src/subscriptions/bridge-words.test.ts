import { monthFrom, periodsOf } from '@dravex/core';
import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { bridgeFileLines } from './bridge-lines.ts';
import { bridgeInWords } from './bridge-words.ts';

const formats = formatsFor('en-IE', 'EUR');
const from = monthFrom('2027-01');
/** Three months, of which the version holds as many as have a number. */
const bridge = (plan: (number | null)[], now: number[], churn: (number | null)[]) => ({
  periods: periodsOf({ from, to: from + 2 }, 'month', 1),
  plan,
  now,
  steps: [
    { step: 'starters' as const, values: plan.map((value) => value && 1000) },
    { step: 'churn' as const, values: churn },
  ],
  starters: { plan: plan.map((value) => value && 7), now: now.map(() => 9) },
});

describe('recurring revenue beside a version', () => {
  it('says how far it is off and by what, the largest first, in the last month that both know', () => {
    assert.equal(
      bridgeInWords(bridge([1, 2, 100_000], [1, 2, 97_000], [0, 0, -4000]), 'Plan A', formats),
      'Recurring revenue in March 2027 is 3 thousand under Plan A: churn −4 thousand, new subscribers +1 thousand',
    );
    const short = bridge([1, 99_000, null], [1, 100_000, 5], [0, 0, null]);
    assert.include(bridgeInWords(short, 'Plan A', formats), 'in February 2027 is 1 thousand over');
    assert.include(
      bridgeInWords(bridge([null, null, null], [1, 1, 1], [null, null, null]), 'Plan A', formats),
      'does not hold these months',
    );
    assert.include(
      bridgeInWords(bridge([1, 1, 5e6], [1, 1, 5e6], [0, 0, 0]), 'Plan A', formats),
      'is as in Plan A',
    );
  });

  it('is a file of the same numbers, with totals of what both know', () => {
    const [head, ...lines] = bridgeFileLines(
      { name: 'Plan A', bridge: bridge([10, 20, null], [11, 22, 33], [1, 2, null]) },
      'EUR',
    );
    assert.deepEqual(head, ['Of', 'Line', 'Unit', '2027-01', '2027-02', '2027-03', 'Total']);
    assert.deepInclude(lines, ['Recurring revenue', 'Churn', 'EUR', 1, 2, null, 2]);
    assert.deepInclude(lines, ['Recurring revenue', 'Forecast', 'EUR', 11, 22, 33, 22]);
    assert.deepInclude(lines, ['New subscribers', 'Variance', 'subscribers', 2, 2, null, 4]);
    assert.isEmpty(bridgeFileLines({ name: 'Plan A', bridge: undefined }, 'EUR'));
  });
});
