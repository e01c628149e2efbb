import { assert } from 'chai';
import { amongSiblings } from './among-siblings.ts';

describe('rows in another order', () => {
  it('stay below the row that they are part of', () => {
    const rows = ['1', '1/5', '1/6', '2', '2/5', '2/5/7', '3'].map((key) => ({ key }));
    const back = amongSiblings(rows, (a, b) => b.key.localeCompare(a.key));
    assert.deepEqual(
      back.map(({ key }) => key),
      ['3', '2', '2/5', '2/5/7', '1', '1/6', '1/5'],
    );
    assert.isEmpty(amongSiblings([], () => 0));
  });
});
