import { evaluateTrace } from '@dravex/core';
import { assert } from 'chai';
import { differenceOf, growthOf } from './nodes.ts';

describe('numbers that a room explains by itself', () => {
  it('work out to what is shown', () => {
    const now = { label: 'Now', value: 110 };
    const before = { label: 'Before', value: 80 };
    const difference = differenceOf('Off by', now, before);
    assert.equal(difference.value, 30);
    assert.equal(evaluateTrace(difference), 30);
    const growth = growthOf('Growth', now, before);
    assert.equal(growth.value, 0.375);
    assert.equal(evaluateTrace(growth), 0.375);
    // Less of a loss is more, whatever the sign.
    const loss = growthOf('Growth', { label: 'Now', value: -40 }, { label: 'Then', value: -80 });
    assert.deepEqual([loss.value, evaluateTrace(loss)], [0.5, 0.5]);
  });

  it('have no value where a side has none', () => {
    const now = { label: 'Now', value: 110 };
    const nothing = { label: 'Before', value: null };
    assert.isNull(differenceOf('Off by', now, nothing).value);
    assert.isNull(growthOf('Growth', now, nothing).value);
    assert.isNull(evaluateTrace(growthOf('Growth', now, { label: 'Before', value: 0 })));
  });
});
