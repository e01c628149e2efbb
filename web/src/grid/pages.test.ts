import { assert } from 'chai';
import fc from 'fast-check';
import { pagesOf } from './pages.ts';

describe('a table on paper', () => {
  it('leaves no column out and prints none twice, but totals on every page', () => {
    const columns = fc.array(fc.record({ total: fc.boolean() }), { maxLength: 80 });
    fc.assert(
      fc.property(columns, fc.integer({ min: 2, max: 20 }), (list, most) => {
        const pages = pagesOf(list, most);
        const totals = list.flatMap(({ total }, place) => (total ? [place] : []));
        const others = list.flatMap(({ total }, place) => (total ? [] : [place]));
        for (const { places } of pages) assert.includeMembers([...places], totals);
        assert.deepEqual(
          pages.flatMap(({ places }) => places.filter((place) => !totals.includes(place))),
          others,
        );
        const each = Math.max(1, most - totals.length);
        for (const { from, to } of pages) assert.isAtMost(to - from + 1, each);
      }),
    );
  });
});
