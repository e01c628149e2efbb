import { assert } from 'chai';
import { monthFrom } from '../calendar/month.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import { COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { figuresFromRows } from './figures.ts';
import { overtakings, partsOf, type PartsQuery } from './parts.ts';

const START = monthFrom('2025-01');

describe('parts of a total', () => {
  const plan = smallPlan([]);
  const tree = new MemberTree(plan.dimensions);
  const rows = COMBINATIONS.flatMap(({ id }, place) =>
    Array.from({ length: 24 }, (_, t) => ({
      combination: id,
      month: START + t,
      units: place + 1,
      // The first combination earns more from month to month.
      revenue: (place + 1) * 1000 + (place === 0 ? t * 1000 : 0),
      cost: 0,
    })),
  );
  const figures = figuresFromRows(plan, rows);
  const query: PartsQuery = {
    measure: 'revenue',
    by: 'region',
    scope: [],
    span: { from: START + 12, to: START + 23 },
    grain: 'month',
    most: 8,
  };

  it('add up to the total, the rest standing together', () => {
    const all = partsOf(figures, tree, query, 1);
    const few = partsOf(
      figures,
      tree,
      { ...query, by: 'product', scope: [M.hardware], most: 1 },
      1,
    );
    assert.lengthOf(all.parts, 2);
    assert.deepEqual(
      few.parts.map(({ name }) => name),
      ['Others (2)'],
      'where only one has room, everything stands together',
    );
    all.columns.forEach((_, column) => {
      const sum = all.parts.reduce((total, { values }) => total + (values[column] ?? 0), 0);
      assert.closeTo(sum, few.parts[0]?.values[column] ?? 0, 1e-9);
    });
  });

  it('go down to the level at which there are several', () => {
    const { parts } = partsOf(figures, tree, { ...query, by: 'product' }, 1);
    assert.sameMembers(
      parts.map(({ name }) => name),
      ['carafe', 'tap'],
      'hardware alone would be one part',
    );
  });

  it('know their year before and their place between volume and price', () => {
    const { lastYear, priced } = partsOf(figures, tree, query, 1);
    assert.deepEqual(
      lastYear.map(({ values }) => values.length),
      [12, 12],
    );
    const north = priced.find(({ name }) => name === 'north');
    const units = 12 * (1 + 3 + 5 + 7);
    assert.equal(north?.units, units);
    assert.closeTo(north?.price ?? 0, (units * 10 + 10 * (12 * 12 + 66)) / units, 1e-9);
    assert.isBelow(north?.before?.price ?? 0, north?.price ?? 0);
    const first = partsOf(figures, tree, { ...query, span: { from: START, to: START + 11 } }, 1);
    assert.isEmpty(first.lastYear);
    assert.isNull(first.priced[0]?.before);
  });

  it('leave out what has no place on a scale of proportions', () => {
    const nothing = figuresFromRows(plan, []);
    assert.isEmpty(partsOf(nothing, tree, query, 1).priced);
  });
});

describe('overtakings', () => {
  it('are told once, where the one gets above the other for good', () => {
    const parts = [
      { name: 'a', values: [1, 3, 1, 4] },
      { name: 'b', values: [2, 2, 2, 2] },
      { name: 'c', values: [9, 9, 9, 9] },
    ];
    const crossings = overtakings(parts);
    assert.deepEqual(
      crossings.map(({ over, under }) => [over, under]),
      [['a', 'b']],
    );
    assert.closeTo(crossings[0]?.at ?? 0, 2 + 1 / 3, 1e-12);
    assert.isEmpty(overtakings([{ name: 'a', values: [null, 5] }, ...parts.slice(1)]));
  });
});
