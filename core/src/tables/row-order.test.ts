import { assert } from 'chai';
import { amongSiblings, byValue } from './row-order.ts';

describe('rows in another order', () => {
  const rows = [
    ['a', 0, 5],
    ['a1', 1, 1],
    ['a2', 1, 2],
    ['b', 0, null],
    ['c', 0, 9],
    ['c1', 1, 0],
    ['c1x', 2, 3],
    ['d', 0, 5],
  ].map(([name, level, value]) => ({
    name: String(name),
    level: Number(level),
    value: value as number | null,
  }));
  const names = (list: readonly { name: string }[]): string =>
    list.map(({ name }) => name).join(' ');

  it('stay below the row that they are part of', () => {
    const back = amongSiblings(rows, (a, b) => b.name.localeCompare(a.name));
    assert.equal(names(back), 'd c c1 c1x b a a2 a1');
    assert.isEmpty(amongSiblings([], () => 0));
  });

  it('leave those without a number last either way, and equal ones as they came', () => {
    const order = (descending: boolean): string =>
      names(
        amongSiblings(
          rows,
          byValue(({ value }) => value, descending),
        ),
      );
    assert.equal(order(true), 'c c1 c1x a a2 a1 d b');
    assert.equal(order(false), 'a a1 a2 d c c1 c1x b');
  });
});
