import { assert } from 'chai';
import type { RowOrder } from '@dravex/core';
import { arrowIn, inOrder, turned } from './use-order.ts';

describe('rows in the order of a column', () => {
  it('are the largest first, then the smallest, then as they came', () => {
    const rows = [
      { key: 'a', level: 0, value: 5 },
      { key: 'a1', level: 1, value: 1 },
      { key: 'a2', level: 1, value: 2 },
      { key: 'b', level: 0, value: 9 },
    ];
    const keys = (order: RowOrder | undefined): string =>
      inOrder(rows, order, ({ value }) => value)
        .map(({ key }) => key)
        .join(' ');
    const first = turned(undefined, 'value');
    assert.equal(keys(first), 'b a a2 a1');
    assert.deepEqual(arrowIn(first, 'value'), { ordered: '\u2193' });
    const second = turned(first, 'value');
    assert.equal(keys(second), 'a a1 a2 b');
    assert.deepEqual(
      [arrowIn(second, 'value'), arrowIn(second, 'other')],
      [{ ordered: '\u2191' }, {}],
    );
    const third = turned(second, 'value');
    assert.equal(keys(third), 'a a1 a2 b');
    assert.deepEqual(arrowIn(third, 'value'), {});
    assert.deepEqual(turned(second, 'other'), { column: 'other', descending: true });
  });
});
