import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import type { Figures } from '../tables/figures.ts';
import { M, smallPlan } from '../testing/small-plan.ts';
import { supplyPlan, type SupplyGrain } from './supply.ts';

const tree = new MemberTree(smallPlan([]).dimensions);
const position = tree.dimensionOf(M.carafe);
const first = monthFrom('2026-01');

function figuresOf(units: readonly number[][]): Figures {
  const count = units[0]?.length ?? 0;
  const block = Float64Array.from(units.flat());
  const members: number[] = tree.dimensions.map(() => M.web);
  members[position] = M.carafe;
  return {
    combinations: units.map((_, id) => ({ id, members })),
    first,
    count,
    measures: { units: block, revenue: block, cost: block },
  };
}
const plan = (units: number[][], grain: SupplyGrain) => {
  const figures = figuresOf(units);
  const span = { from: first, to: first + figures.count - 1 };
  return supplyPlan(figures, tree, position, [], span, grain, 4);
};

describe('supplyPlan', () => {
  it('gives whole units that add up to the same total by week, month and quarter', () => {
    const cells = fc.array(
      fc.array(fc.double({ min: 0, max: 5000, noNaN: true }), { minLength: 7, maxLength: 7 }),
      {
        minLength: 1,
        maxLength: 3,
      },
    );
    fc.assert(
      fc.property(cells, (units) => {
        const total = Math.round(units.flat().reduce((a, b) => a + b, 0));
        for (const grain of ['week', 'month', 'quarter'] as const) {
          const rows = plan(units, grain).rows;
          const list = rows.flatMap((row) => row.units);
          assert.isTrue(list.every((value) => Number.isInteger(value) && value >= 0));
          const sum = list.reduce((a, b) => a + b, 0);
          // The order of adding may move a total that lies on the half.
          assert.isAtMost(Math.abs(sum - total), 1);
          assert.equal(
            sum,
            plan(units, 'month')
              .rows.flatMap((row) => row.units)
              .reduce((a, b) => a + b, 0),
          );
        }
      }),
      { numRuns: 40 },
    );
  });

  it('divides a month among its weeks by calendar days', () => {
    const { periods, rows } = plan([[31]], 'week');
    assert.deepEqual([...periods], ['2026-W01', '2026-W02', '2026-W03', '2026-W04', '2026-W05']);
    assert.deepEqual([...(rows[0]?.units ?? [])], [4, 7, 7, 7, 6]);
  });

  it('names months that are missing or less than none', () => {
    const { problems, rows } = plan([[10, Number.NaN, -3]], 'month');
    assert.deepEqual(
      problems.map(({ code, month }) => [code, month]),
      [
        ['missing', '2026-02'],
        ['negative', '2026-03'],
      ],
    );
    assert.deepEqual([...(rows[0]?.units ?? [])], [10, 0, 0]);
  });
});
