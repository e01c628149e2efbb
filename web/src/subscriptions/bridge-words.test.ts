import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { bridgeInWords } from './bridge-words.ts';

const formats = formatsFor('en-IE', 'EUR');
const bridge = (
  planned: number | null,
  now: number,
  steps: Partial<Record<'starters' | 'churn', number>>,
) => ({
  plan: [planned],
  now: [now],
  steps: Object.entries(steps).map(([step, value]) => ({
    step: step as 'starters' | 'churn',
    values: [value],
  })),
  starters: { plan: [0], now: [0] },
});

describe('recurring revenue beside a version', () => {
  it('says how far it is off and by what, the largest first', () => {
    assert.equal(
      bridgeInWords(
        bridge(100_000, 97_000, { starters: 1000, churn: -4000 }),
        'Plan A',
        'March 2027',
        formats,
      ),
      'Recurring revenue in March 2027 is 3 thousand under Plan A: churn −4 thousand, new subscribers +1 thousand',
    );
    assert.equal(
      bridgeInWords(bridge(100_000, 100_000, { starters: 0 }), 'Plan A', 'March 2027', formats),
      'Recurring revenue in March 2027 is as in Plan A',
    );
    assert.include(
      bridgeInWords(bridge(null, 1, {}), 'Plan A', 'March 2027', formats),
      'does not hold',
    );
  });
});
