import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { DivisionError } from '../spread/divide.ts';
import { actualFigures, figuresFromRows, forecastFigures } from '../tables/figures.ts';
import { assume, M, smallPlan } from '../testing/small-plan.ts';
import { divideOverLines, sheetLines } from './sheet-lines.ts';

const CENTS = 100;

describe('the lines of a sheet', () => {
  // A unit at 5 euros is forecast in each combination and month of 2026; in 2025 combination 100
  // sold 10 euros in November and December, 101 sold 30 in January.
  const facts = [
    [100, '2025-11', 1, 10],
    [100, '2025-12', 1, 10],
    [101, '2025-01', 3, 30],
  ] as const;
  const plan = smallPlan([assume('grossUnits', [], 1), assume('listPrice', [], 5)], {
    actuals: {
      combination: facts.map(([combination]) => combination),
      month: facts.map(([, month]) => month),
      units: facts.map(([, , units]) => units),
      revenue: facts.map(([, , , euros]) => euros * CENTS),
      cost: facts.map(() => 0),
    },
  });
  const model = evaluate(compile(plan));
  const actual = actualFigures(plan);
  const cell = (combination: number, month: string, units: number, euros: number) => ({
    ...{ combination, month: monthFrom(month), units, revenue: euros * CENTS, cost: null },
  });
  const version = figuresFromRows(plan, [
    cell(100, '2026-01', 2, 11),
    cell(100, '2026-02', 2, 12.34),
    cell(101, '2026-01', 1, 7),
    cell(104, '2026-01', 9, 50),
  ]);
  const of = (scope: readonly number[], rows: readonly string[], more: object = {}) =>
    sheetLines(
      model.tree,
      { actual, forecast: forecastFigures(model, actual), version },
      {
        ...{ scope, rows, measure: 'revenue' },
        span: { from: monthFrom('2026-01'), to: monthFrom('2026-12') },
        closed: monthFrom('2025-12'),
        ...more,
      },
      CENTS,
    );

  it('are the members of its dimensions within its scope, below their totals', () => {
    const lines = of([M.web], ['region', 'product']);
    assert.deepEqual(
      lines.map(({ name, level, parent }) => [name, level, parent]),
      [
        ['Total', 0, true],
        ['north', 1, true],
        ['hardware', 2, true],
        ['carafe', 3, false],
        ['tap', 3, false],
        ['coast', 1, true],
        ['hardware', 2, true],
        ['carafe', 3, false],
        ['tap', 3, false],
      ],
    );
    assert.sameMembers([...(lines[3]?.scope ?? [])], [M.web, M.north, M.carafe]);
  });

  it('have the slice’s own last year, last twelve months, forecast and plan, to the cent', () => {
    const lines = of([M.web], ['region', 'product']);
    const numbers = lines.map(({ lastYear, lastTwelve, forecast, plan: planned }) =>
      [lastYear, lastTwelve, forecast, planned].map((value) => (value ?? NaN) / CENTS),
    );
    const year = 12 * 5;
    assert.deepEqual(numbers[0], [50, 50, 4 * year, 30.34]);
    assert.deepEqual(numbers[1], [20, 20, 2 * year, 23.34]);
    assert.deepEqual(numbers[3], [20, 20, year, 23.34]);
    assert.deepEqual(numbers[5], [30, 30, 2 * year, 7]);
    const units = of([M.web], ['region'], { measure: 'units' });
    assert.deepEqual(
      units.map(({ plan: planned, lastYear }) => [planned, lastYear]),
      [
        [5, 5],
        [4, 2],
        [1, 3],
      ],
    );
  });

  it('take last year’s open months from the forecast, and only closed ones as the last twelve', () => {
    const [total] = of([M.web], ['region'], { closed: monthFrom('2025-11') });
    assert.equal(total?.lastTwelve, 40 * CENTS);
    const next = { from: monthFrom('2027-01'), to: monthFrom('2027-12') };
    const [later] = of([M.web], ['region'], { span: next });
    assert.equal(later?.lastYear, 4 * 12 * 5 * CENTS);
    assert.equal(later?.plan, 0);
  });

  it('are none where nothing lies in the scope', () => {
    assert.deepEqual(
      of([M.web, M.plans], ['region']).map(({ name }) => name),
      ['Total'],
    );
  });
});

describe('a total that is typed over lines', () => {
  const line = fc.record({ plan: fc.integer({ min: 0, max: 1e7 }), locked: fc.boolean() });

  it('adds up to the cent, and what is locked stays', () => {
    fc.assert(
      fc.property(
        fc.array(line, { minLength: 1 }),
        fc.integer({ min: 0, max: 1e8 }),
        (lines, total) => {
          const locked = lines.reduce((sum, one) => sum + (one.locked ? one.plan : 0), 0);
          const free = lines.some((one) => !one.locked);
          const divide = () => divideOverLines(total, lines, 'revenue');
          if (locked > total || (!free && locked !== total)) {
            assert.throws(divide, DivisionError);
            return;
          }
          const amounts = divide();
          assert.equal(
            amounts.reduce((sum, one) => sum + one, 0),
            total,
          );
          lines.forEach((one, place) => {
            if (one.locked) assert.equal(amounts[place], one.plan);
          });
        },
      ),
    );
  });

  it('keeps the proportions of the others, and divides equally where they plan nothing', () => {
    const plans = (...plans: number[]) => plans.map((plan) => ({ plan, locked: false }));
    assert.deepEqual(divideOverLines(600, plans(100, 200), 'revenue'), [200, 400]);
    assert.deepEqual(divideOverLines(600, plans(0, 0), 'revenue'), [300, 300]);
    assert.deepEqual(divideOverLines(1, plans(0, 0), 'units'), [0.5, 0.5]);
    assert.deepEqual(divideOverLines(10.5, plans(1, 2.5), 'units'), [3, 7.5]);
  });
});
