import { assert } from 'chai';
import type { BudgetCell } from '../budgets/cell.ts';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { compare, notBegun } from '../comparison/compare.ts';
import { varianceOf } from '../comparison/variance.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import { COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { figuresFromRows } from './figures.ts';
import { overTime, ratio, sharesOf } from '../measures/nature.ts';
import { rollUp, type TableQuery } from './roll-up.ts';

const plan = smallPlan([]);
const tree = new MemberTree(plan.dimensions);
const JANUARY = monthFrom('2025-01');

const row = fc.record({
  combination: fc.constantFrom(...COMBINATIONS.map(({ id }) => id)),
  month: fc.integer({ min: JANUARY, max: JANUARY + 23 }),
  units: fc.integer({ min: -50, max: 500 }),
  revenue: fc.integer({ min: -100_000, max: 1_000_000 }),
  cost: fc.constant(null),
});

const query: TableQuery = {
  measure: 'revenue',
  rows: ['channel', 'product'],
  columns: 'time',
  scope: [],
  span: { from: JANUARY, to: JANUARY + 23 },
  grain: 'quarter',
};

const one = (changes: Partial<BudgetCell>): BudgetCell => ({
  combination: 100,
  month: JANUARY,
  units: 1,
  revenue: 100,
  cost: null,
  ...changes,
});

describe('rollUp', () => {
  it('has parents that are the sum of what lies below them, in every column', () => {
    const arrangement = fc.constantFrom(['channel', 'product'], ['region'], ['product', 'channel']);
    fc.assert(
      fc.property(fc.array(row, { maxLength: 60 }), arrangement, (rows, dimensions) => {
        const table = rollUp(figuresFromRows(plan, rows), tree, { ...query, rows: dimensions }, 1);
        const all = [{ ...table.total, level: -1 }, ...table.rows];
        all.forEach((parent, place) => {
          const below = all.slice(place + 1);
          const end = below.findIndex(({ level }) => level <= parent.level);
          const children = (end < 0 ? below : below.slice(0, end)).filter(
            (r) => r.level === parent.level + 1,
          );
          if (children.length === 0) return;
          parent.cells.forEach(({ value }, column) => {
            const sum = children.reduce((s, child) => s + (child.cells[column]?.value ?? 0), 0);
            assert.closeTo(value ?? 0, sum, 1e-6);
          });
        });
      }),
    );
  });

  it('has the same total however it is cut', () => {
    fc.assert(
      fc.property(fc.array(row, { maxLength: 60 }), (rows) => {
        const figures = figuresFromRows(plan, rows);
        const expected = rows.reduce((sum, { revenue }) => sum + revenue, 0) / 100;
        for (const columns of ['time', 'region']) {
          for (const grain of ['month', 'year'] as const) {
            const table = rollUp(figures, tree, { ...query, columns, grain }, 4);
            assert.closeTo(table.total.total.value ?? 0, expected, 1e-6);
            const across = table.total.cells.reduce((sum, { value }) => sum + (value ?? 0), 0);
            assert.closeTo(across, expected, 1e-6);
          }
        }
      }),
    );
  });

  it('weighs average prices by volume at every level', () => {
    const figures = figuresFromRows(plan, [
      one({ units: 1, revenue: 1000 }),
      one({ combination: 104, units: 9, revenue: 1800 }),
    ]);
    const { total, rows } = rollUp(figures, tree, { ...query, measure: 'averagePrice' }, 1);
    assert.closeTo(total.total.value ?? 0, 28 / 10, 1e-12);
    assert.equal(rows[0]?.total.value, 10);
    assert.isNull(total.cells[1]?.value, 'no units, no price');
  });

  it('narrows to a scope and leaves empty rows out', () => {
    const figures = figuresFromRows(plan, [one({}), one({ combination: 104, revenue: 300 })]);
    const table = rollUp(figures, tree, { ...query, scope: [M.web, M.hardware] }, 1);
    assert.equal(table.total.total.value, 1);
    assert.deepEqual(
      table.rows.map(({ label }) => label),
      ['web', 'hardware', 'carafe'],
    );
    const either = rollUp(figures, tree, { ...query, scope: [M.web, M.stores] }, 1);
    assert.equal(either.total.total.value, 4, 'members of one dimension widen');
  });

  it('marks totals over something missing and shows the rest', () => {
    const figures = figuresFromRows(plan, [one({ cost: 50 }), one({ combination: 104 })]);
    const { total, rows } = rollUp(figures, tree, { ...query, measure: 'cost' }, 1);
    assert.deepEqual(total.total, { value: 0.5, incomplete: true });
    assert.deepEqual(rows.find(({ label }) => label === 'stores')?.total, {
      value: null,
      incomplete: true,
    });
  });
});

describe('natures', () => {
  it('roll up over time as they should', () => {
    assert.equal(overTime('flow', [1, 2, 3]), 6);
    assert.equal(overTime('stock', [1, 2, 3]), 3);
    assert.isNull(overTime('level', [1, 2]));
    assert.equal(overTime('level', [4]), 4);
  });

  it('give no value for a division by zero', () => {
    assert.isNull(ratio(1, 0));
    assert.isNull(ratio(0, 0));
    assert.deepEqual(sharesOf([0, 0]), [null, null]);
  });
});

describe('variance', () => {
  it('is good or bad by what the measure means', () => {
    assert.deepEqual(varianceOf(90, 100, 'moreIsGood'), {
      amount: -10,
      percent: -0.1,
      judgement: 'bad',
    });
    assert.equal(varianceOf(90, 100, 'moreIsBad').judgement, 'good');
    assert.equal(varianceOf(5, 5, 'moreIsGood').judgement, 'even');
    assert.isNull(varianceOf(5, 0, 'moreIsGood').percent);
    assert.equal(varianceOf(5, -10, 'moreIsGood').percent, 1.5);
  });
});

describe('compare', () => {
  const actual = figuresFromRows(plan, [
    one({ revenue: 1200 }),
    one({ month: JANUARY + 13, revenue: 77 }),
  ]);
  const planned = figuresFromRows(plan, [
    one({ revenue: 1000 }),
    one({ combination: 104, revenue: 400 }),
  ]);
  const closed = monthFrom('2025-12');
  const covered = { from: JANUARY, to: closed };
  const ask = (span: { from: number; to: number }) =>
    compare(
      actual,
      planned,
      tree,
      { measure: 'revenue', rows: ['channel'], scope: [], span },
      covered,
    );

  it('cuts both sides to the months that both have, and says so', () => {
    const { span, cut, total } = ask({ from: JANUARY, to: JANUARY + 20 });
    assert.deepEqual(span, { from: JANUARY, to: closed });
    assert.isTrue(cut);
    assert.equal(total?.actual.value, 12);
    assert.deepEqual(total?.variance, { amount: -2, percent: -2 / 14, judgement: 'bad' });
  });

  it('has rows that only one side has', () => {
    const stores = ask({ from: JANUARY, to: closed }).rows.find(({ label }) => label === 'stores');
    assert.equal(stores?.actual.value, 0);
    assert.equal(stores?.variance?.amount, -4);
  });

  it('has no actual side, and no difference, in a month that has not begun', () => {
    const { rows, total } = notBegun(ask({ from: JANUARY, to: closed }));
    assert.isNotEmpty(rows);
    for (const row of [...rows, ...(total ? [total] : [])]) {
      assert.deepInclude(row, { actual: { value: null, incomplete: false }, variance: null });
    }
    assert.equal(total?.plan.value, 14);
  });

  it('compares nothing in a window of which both have no month', () => {
    const { span, rows } = ask({ from: closed + 1, to: closed + 3 });
    assert.isNull(span);
    assert.isEmpty(rows);
  });
});
