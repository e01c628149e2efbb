import { assert } from 'chai';
import { monthFrom } from '../calendar/month.ts';
import { compile } from '../forecast/run.ts';
import { figuresFromRows } from '../tables/figures.ts';
import { COMBINATIONS, smallPlan } from '../testing/small-plan.ts';
import { planWarnings, type PlanWarning } from './warnings.ts';

/** Three years of months, of which two and a half are closed. */
const plan = smallPlan([], {
  calendar: {
    ...smallPlan([]).calendar,
    ...{ first: '2024-01', last: '2026-12', closedThrough: '2026-06', asOf: '2026-07-05' },
  },
});
const { tree } = compile(plan);
const [line] = COMBINATIONS;
const START = monthFrom('2024-01');
const span = { from: monthFrom('2026-01'), to: monthFrom('2026-12') };

interface Month {
  readonly units: number;
  readonly price: number;
  readonly cost?: number;
}
const rowsOf = (from: number, months: readonly Month[]) =>
  months.map(({ units, price, cost = 4 }, place) => ({
    combination: line?.id ?? 0,
    month: from + place,
    units,
    revenue: Math.round(units * price * 100),
    cost: Math.round(units * cost * 100),
  }));
const flat = (count: number, month: Month): Month[] => Array.from({ length: count }, () => month);

function found(sold: readonly Month[], planned: readonly Month[]): PlanWarning[] {
  const { warnings, lines } = planWarnings(
    figuresFromRows(plan, rowsOf(span.from, planned)),
    figuresFromRows(plan, rowsOf(START, sold)),
    tree,
    { rows: ['product'], scope: [], span, closedThrough: monthFrom('2026-06') },
  );
  assert.equal(lines, 1);
  return [...warnings];
}
const kinds = (all: readonly PlanWarning[]): string[] => all.map(({ kind }) => kind);

describe('what deserves a second look in a plan', () => {
  const usual = [
    ...flat(12, { units: 100, price: 10 }),
    ...flat(12, { units: 104, price: 10 }),
    ...flat(6, { units: 106, price: 10 }),
  ];

  it('is nothing where a plan goes on as sales did', () => {
    assert.isEmpty(found(usual, flat(12, { units: 109, price: 10.2 })));
  });

  it('says a plan that repeats last year within a hair, beside last year', () => {
    const [one, ...more] = found(usual, flat(12, { units: 104.2, price: 10 }));
    assert.isEmpty(more);
    assert.equal(one?.kind, 'repeats');
    assert.closeTo(one?.beside ?? NaN, 12 * 1040, 1e-6);
    // Five months of it are too few.
    const part = [...flat(5, { units: 104, price: 10 }), ...flat(7, { units: 112, price: 10 })];
    assert.isEmpty(found(usual, part));
  });

  it('says growth that never happened, beside the last twelve months’ own', () => {
    const [one, ...more] = found(usual, flat(12, { units: 140, price: 10 }));
    assert.isEmpty(more);
    assert.equal(one?.kind, 'growth');
    assert.closeTo(one?.planned ?? NaN, 140 / 104 - 1, 1e-9);
    assert.closeTo(one?.beside ?? NaN, (6 * 104 + 6 * 106) / (6 * 100 + 6 * 104) - 1, 1e-9);
    // Who grew so before may do it again.
    const grown = [...flat(12, { units: 60, price: 10 }), ...flat(18, { units: 104, price: 10 })];
    assert.isEmpty(found(grown, flat(12, { units: 140, price: 10 })));
  });

  it('says prices and margins that nobody ever saw, beside the nearest', () => {
    const dear = found(usual, flat(12, { units: 90, price: 12 }));
    assert.deepEqual(kinds(dear), ['price', 'margin']);
    assert.closeTo(dear[0]?.beside ?? NaN, 10, 1e-9);
    assert.closeTo(dear[1]?.planned ?? NaN, 1 - 4 / 12, 1e-9);
    const cheap = found(usual, flat(12, { units: 108, price: 9, cost: 3.6 }));
    assert.deepEqual(kinds(cheap), ['price'], 'its margin is as it was');
    const costly = found(usual, flat(12, { units: 108, price: 10, cost: 5 }));
    assert.deepEqual(kinds(costly), ['margin']);
  });

  it('says a total below what is sold already, and nothing of lines without a plan', () => {
    const little = found(usual, flat(12, { units: 50, price: 10 }));
    assert.deepEqual(kinds(little), ['sold']);
    assert.closeTo(little[0]?.beside ?? NaN, 6 * 1060, 1e-6);
    const none = planWarnings(
      figuresFromRows(plan, []),
      figuresFromRows(plan, rowsOf(START, usual)),
      tree,
      { rows: ['product'], scope: [], span, closedThrough: monthFrom('2026-06') },
    );
    assert.deepEqual(none, { warnings: [], lines: 0 });
  });
});
