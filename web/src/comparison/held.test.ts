import { ACTUAL, LAST_YEAR, varianceOf } from '@dravex/core';
import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { sideCell, type SidePart } from './held.ts';

describe('a difference as it is shown', () => {
  const formats = formatsFor('en-IE', 'EUR');
  const cell = (actual: number, plan: number, part: SidePart, least = { amount: 0, share: 0 }) => {
    const of = (value: number) => ({ value, incomplete: false });
    const both = {
      ...{ actual: of(actual), plan: of(plan) },
      variance: varianceOf(actual, plan, 'moreIsGood'),
    };
    const sides = { actual: ACTUAL, plan: LAST_YEAR };
    return sideCell(both, part, sides, { measure: 'revenue', unit: 1000, formats, least });
  };

  it('is that of the shown numbers, and good or bad only where it is shown as something', () => {
    assert.deepInclude(cell(118_100, 118_400, 'variance'), { text: '0', judgement: 'even' });
    assert.deepInclude(cell(118_400, 118_600, 'variance'), { text: '−1', judgement: 'bad' });
    assert.deepInclude(cell(120_000, 118_000, 'variance'), { text: '+2', judgement: 'good' });
    assert.equal(cell(2_005_000, 2_005_400, 'percent').judgement, 'even');
    assert.equal(cell(2_005_000, 2_055_000, 'percent').judgement, 'bad');
    const large = { amount: 5000, share: 0 };
    assert.equal(cell(120_000, 118_000, 'variance', large).judgement, 'slight');
  });
});
