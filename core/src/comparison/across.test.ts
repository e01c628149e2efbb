import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { periodsOf } from '../calendar/period.ts';
import { compile } from '../forecast/run.ts';
import { figuresFromRows } from '../tables/figures.ts';
import { COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { TargetScopes } from '../targets/target-of-scope.ts';
import { compareAcross } from './across.ts';
import { compare } from './compare.ts';
import { inAll } from './coverage.ts';

const plan = smallPlan([]);
const { tree } = compile(plan);
const JANUARY = monthFrom('2025-01');
const months = (from: string, to: string) => ({ from: monthFrom(from), to: monthFrom(to) });

const someRows = fc.array(
  fc.record({
    combination: fc.constantFrom(...COMBINATIONS.map(({ id }) => id)),
    month: fc.integer({ min: 0, max: 11 }).map((t) => JANUARY + t),
    units: fc.integer({ min: -3, max: 40 }),
    revenue: fc.integer({ min: -900, max: 90_000 }),
    cost: fc.nat(9_000),
  }),
  { maxLength: 30 },
);
const scopes = fc.constantFrom([], [M.web], [M.web, M.tap]);
const rows = ['channel', 'product'];

describe('a comparison across', () => {
  it('has in each month what a comparison of that month has, and they add up to the total', () => {
    fc.assert(
      fc.property(
        someRows,
        someRows,
        scopes,
        fc.nat(5),
        fc.nat(5),
        (sold, kept, scope, cut, end) => {
          const [actual, planned] = [sold, kept].map((cells) => figuresFromRows(plan, cells));
          if (!actual || !planned) throw new Error('Two sides');
          const span = months('2025-01', '2025-12');
          const covered = { from: span.from + cut, to: span.to - end };
          const query = { rows, scope, span, measures: ['revenue'], grain: 'month' } as const;
          const across = compareAcross(actual, planned, tree, query, covered, 1);
          assert.deepEqual(across.span, covered);
          assert.equal(across.columns.length, 13);
          const all = [...across.rows, ...(across.total ? [across.total] : [])];
          periodsOf(span, 'month', 1).forEach((month, place) => {
            const both = inAll([month, covered]);
            const column = across.columns[place + 1];
            assert.equal(column?.key, month.key);
            if (!both) {
              assert.isNull(column?.span);
              for (const { cells } of all) assert.isNull(cells[place + 1]);
              return;
            }
            const alone = { measure: 'revenue', rows, scope, span: both } as const;
            const one = compare(actual, planned, tree, alone, covered);
            for (const row of [...one.rows, ...(one.total ? [one.total] : [])]) {
              const cell = all.find(({ key }) => key === row.key)?.cells[place + 1];
              assert.deepEqual(cell?.variance, row.variance, `${row.label} in ${month.key}`);
              assert.deepEqual(cell?.actual, row.actual);
            }
          });
          for (const { cells } of all) {
            const [whole, ...each] = cells;
            const sum = each.reduce((sums, cell) => sums + (cell?.variance?.amount ?? 0), 0);
            assert.closeTo(sum, whole?.variance?.amount ?? NaN, 1e-6);
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it('has measures side by side, each with its own judgement', () => {
    const row = (units: number, revenue: number, cost: number) => ({
      ...{ combination: COMBINATIONS[0]?.id ?? 0, month: JANUARY, units, revenue, cost },
    });
    const span = months('2025-01', '2025-03');
    const measures = ['units', 'revenue', 'cost', 'averagePrice', 'marginRate'] as const;
    const across = compareAcross(
      figuresFromRows(plan, [row(10, 200_00, 90_00)]),
      figuresFromRows(plan, [row(8, 200_00, 80_00)]),
      tree,
      { rows: ['channel'], scope: [], span, measures },
      span,
      1,
    );
    assert.deepEqual(
      across.total?.cells.map((cell) => [
        Number(cell?.variance?.amount.toFixed(9)),
        cell?.variance?.judgement,
      ]),
      [
        [2, 'good'],
        [0, 'even'],
        [10, 'bad'],
        [-5, 'bad'],
        [-0.05, 'bad'],
      ],
    );
    assert.deepEqual(
      across.columns.map(({ key }) => key),
      [...measures],
    );
  });

  it('holds further sources beside in every column, as a comparison of the month does', () => {
    fc.assert(
      fc.property(someRows, someRows, someRows, scopes, (sold, kept, before, scope) => {
        const [actual, planned, earlier] = [sold, kept, before].map((cells) =>
          figuresFromRows(plan, cells),
        );
        if (!actual || !planned || !earlier) throw new Error('Three sides');
        const span = months('2025-01', '2025-06');
        const query = { rows, scope, span, measures: ['revenue'], grain: 'month' } as const;
        const across = compareAcross(actual, planned, tree, query, span, 1, [earlier]);
        const march = months('2025-03', '2025-03');
        const alone = { measure: 'revenue', rows, scope, span: march } as const;
        const one = compare(actual, planned, tree, alone, span, [earlier]);
        for (const row of [...one.rows, ...(one.total ? [one.total] : [])]) {
          const all = [...across.rows, ...(across.total ? [across.total] : [])];
          const cell = all.find(({ key }) => key === row.key)?.cells[3];
          assert.deepEqual(cell?.beside, row.beside, row.label);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('takes a target for either side, but not for both', () => {
    const parts = {
      fiscalYear: 2025,
      measure: 'revenue',
      nodes: [
        {
          ...{ id: 1, parent: null, name: 'all', counts: { scope: [], account: null } },
          months: Array.from({ length: 12 }, (_, month) => (month + 1) * 100_00),
        },
      ],
    } as const;
    const target = new TargetScopes(parts, tree, plan.combinations, {
      ...{ fiscalStart: 1, minorDigits: 2 },
    });
    const sold = figuresFromRows(plan, [
      {
        ...{ combination: COMBINATIONS[0]?.id ?? 0, month: JANUARY + 1, units: 1 },
        ...{ revenue: 150_00, cost: null },
      },
    ]);
    const span = months('2025-01', '2025-03');
    const query = {
      rows: ['channel'],
      scope: [],
      span,
      measures: ['revenue'],
      grain: 'month',
    } as const;
    const amounts = (of: typeof sold | TargetScopes, against: typeof sold | TargetScopes) =>
      compareAcross(of, against, tree, query, span, 1).total?.cells.map(
        (cell) => cell?.variance?.amount,
      );
    assert.deepEqual(amounts(sold, target), [150 - 600, -100, -50, -300]);
    assert.deepEqual(amounts(target, sold), [600 - 150, 100, 50, 300]);
    assert.throws(() => amounts(target, target), RangeError, 'has to be a source');
  });
});
