import { assert } from 'chai';
import fc from 'fast-check';
import {
  bandsFromDeals,
  dealHints,
  dealPlan,
  dealsBySplit,
  dealsInBands,
  fewestDeals,
  latestStart,
} from './deal-plan.ts';

const value = fc.integer({ min: 1, max: 100_000 });
const bandsOf = fc.array(
  value.map((one) => ({ value: one })),
  { minLength: 1, maxLength: 4 },
);
const worth = (counts: readonly number[], bands: readonly { value: number }[]): number =>
  counts.reduce((sum, count, place) => sum + count * (bands[place]?.value ?? 0), 0);
const objectives = fc.integer({ min: 0, max: 5_000_000 });

describe('a deal plan', () => {
  it('says nothing where it has no periods or sellers to divide by', () => {
    const plan = dealPlan({ objective: 10, tiers: [], periods: 4, sellers: 0 });
    assert.deepInclude(plan, { revenue: 0, gap: -10, deals: 0, dealsPerSellerPerPeriod: null });
  });

  it('by a wanted split reaches the objective with less than a deal of each size too many', () => {
    fc.assert(
      fc.property(
        objectives,
        bandsOf,
        fc.array(fc.nat(10), { maxLength: 4 }),
        (goal, bands, split) => {
          const counts = dealsBySplit(goal, bands, split);
          assert.isTrue(counts.every((count) => Number.isInteger(count) && count >= 0));
          const wanted = bands.filter((_, place) => (split[place] ?? 0) > 0);
          if (wanted.length === 0) assert.equal(worth(counts, bands), 0);
          else {
            const made = worth(counts, bands);
            assert.isAtLeast(made, goal - 1e-6);
            assert.isBelow(made, goal + Math.max(...wanted.map((band) => band.value)));
          }
        },
      ),
    );
    assert.deepEqual(dealsBySplit(1000, [{ value: 300 }, { value: 50 }], [60, 40]), [2, 8]);
  });

  it('of the fewest deals has no smaller one that reaches the objective', () => {
    fc.assert(
      fc.property(objectives, bandsOf, (goal, bands) => {
        const { counts, reached } = fewestDeals(goal, bands, Infinity);
        const many = counts.reduce((sum, count) => sum + count, 0);
        assert.isTrue(reached);
        assert.isAtLeast(worth(counts, bands), goal);
        const most = Math.max(...bands.map((band) => band.value));
        assert.isTrue(many === 0 || (many - 1) * most < goal, 'one less never reaches it');
      }),
    );
  });

  it('stops at what can be handled, and says that this is not enough', () => {
    const bands = [{ value: 100 }, { value: 30 }];
    assert.deepEqual(fewestDeals(1000, bands, 4), { counts: [4, 0], reached: false });
    assert.deepEqual(fewestDeals(920, bands, 20), { counts: [9, 1], reached: true });
    assert.deepEqual(fewestDeals(0, bands, 20), { counts: [0, 0], reached: true });
  });

  it('makes bands of deals that were made, in which every one of them counts once', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 90_000 }), { minLength: 1 }), (deals) => {
        const bands = bandsFromDeals(deals);
        assert.isAtMost(bands.length, 3);
        const found = dealsInBands(deals, bands);
        assert.equal(
          found.reduce((sum, { count }) => sum + count, 0),
          deals.length,
        );
        assert.deepEqual(
          found.map(({ count }) => count),
          bands.map(({ count }) => count),
        );
      }),
    );
    assert.deepEqual(
      bandsFromDeals([600, 200, 150, 30, 10, 10]).map(({ from, count }) => [from, count]),
      [
        [600, 1],
        [150, 2],
        [10, 3],
      ],
    );
    assert.isEmpty(bandsFromDeals([0, -5]));
  });

  it('names what is odd: few large ones, too many, and those that close too late', () => {
    const band = (name: string, worthOf: number, count: number, months: number) => ({
      ...{ name, value: worthOf, count, months },
      winRate: 0.5,
    });
    const bands = [band('large', 1000, 3, 9), band('small', 10, 100, 1)];
    assert.deepEqual(
      dealHints(bands, { handled: 60, left: 6 }).map(({ kind }) => kind),
      ['few-large', 'too-many', 'too-late'],
    );
    assert.isEmpty(dealHints([band('small', 10, 40, 1)], { handled: 60, left: 6 }));
    assert.equal(latestStart({ months: 4 }, 12), 8);
  });
});
