import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { typeValues } from '../drivers/typing.ts';
import { forecastFigures } from '../tables/figures.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { allResults } from '../testing/results.ts';
import { change } from './change.ts';
import { compile, evaluate, planOf } from './run.ts';
import { missingInputs } from '../checking/missing-inputs.ts';

const base = [assume('grossUnits', [], 100), assume('listPrice', [], 10)];

describe('evaluate', () => {
  it('computes open months by volume x price', () => {
    const model = evaluate(
      compile(
        smallPlan([...base, assume('discount', [M.web], 0.1), assume('returnRate', [], 0.05)]),
      ),
    );
    const t = monthFrom('2026-01') - model.first;
    assert.closeTo(model.results.units[0]?.[t] ?? 0, 95, 1e-9);
    assert.closeTo(model.results.revenue[0]?.[t] ?? 0, 95 * 10 * 0.9, 1e-9);
    assert.equal(model.results.revenue[0]?.[t - 1], 0);
  });

  it('reports a missing input with driver, stream and month, and computes the rest', () => {
    const months = { kind: 'months', values: { '2026-01': 7 } } as const;
    const model = evaluate(
      compile(
        smallPlan([
          assume('grossUnits', [M.web], months),
          assume('grossUnits', [M.stores], 1),
          assume('listPrice', [], 1),
        ]),
      ),
    );
    const problems = missingInputs(model);
    assert.lengthOf(problems, 4);
    assert.deepEqual(problems[0]?.where, { driver: 'grossUnits', stream: 1, month: '2026-02' });
    assert.isNaN(model.results.revenue[0]?.[monthFrom('2026-02') - model.first]);
    assert.equal(model.results.revenue[4]?.[model.open], 1);
  });

  it('refuses two streams for one combination', () => {
    const streams = [1, 2].map((id) => ({ id, combination: 100, method: 'volumePrice' as const }));
    assert.throws(() => compile(smallPlan(base, { streams })), RangeError, 'there can be only one');
  });
});

describe('change', () => {
  it('gives what computing everything anew gives, and touches only what is covered', () => {
    const scope = fc.constantFrom([], [M.web], [M.hardware, M.north], [M.stores, M.tap, M.coast]);
    const edit = fc.record({
      scope,
      driver: fc.constantFrom('grossUnits', 'listPrice', 'discount'),
      month: fc.constantFrom('2026-01', '2026-06'),
      value: fc.option(fc.integer({ min: 0, max: 1 }), { nil: null }),
    });
    fc.assert(
      fc.property(fc.array(edit, { minLength: 1, maxLength: 8 }), (edits) => {
        const model = evaluate(compile(smallPlan(base)));
        for (const { driver, ...typed } of edits) {
          const recomputed = change(model, typeValues(driver, model.assumptions, [typed]));
          for (const index of recomputed) {
            assert.isTrue(model.tree.covers(typed.scope, COMBINATIONS[index]?.members ?? []));
          }
        }
        const anew = evaluate(compile(planOf(model)));
        assert.deepEqual(allResults(model), allResults(anew));
      }),
    );
  });
});

describe('forecastFigures', () => {
  it('shows actuals in closed months and never in open ones', () => {
    const actuals = {
      combination: [100, 100, 100],
      month: ['2025-12', '2025-12', '2026-01'],
      units: [3, -1, 50],
      revenue: [3000, -1000, 99_999],
      cost: [900, 0, 5],
    };
    const model = evaluate(compile(smallPlan(base, { actuals })));
    const figures = forecastFigures(model);
    const december = monthFrom('2025-12') - figures.first;
    assert.equal(figures.measures.revenue[december], 20);
    assert.equal(figures.measures.units[december], 2);
    assert.equal(figures.measures.revenue[december + 1], 1000);
    // A closed month without sales lines is 0.
    assert.equal(figures.measures.revenue[december - 1], 0);
  });

  it('keeps combinations that have sales but no stream', () => {
    const actuals = {
      combination: [107],
      month: ['2025-06'],
      units: [1],
      revenue: [100],
      cost: [1],
    };
    const [stream] = smallPlan(base).streams;
    const model = evaluate(compile(smallPlan(base, { actuals, streams: stream ? [stream] : [] })));
    const figures = forecastFigures(model);
    const at = figures.combinations.findIndex(({ id }) => id === 107) * figures.count;
    assert.equal(figures.measures.revenue[at + monthFrom('2025-06') - figures.first], 1);
    assert.equal(figures.measures.revenue[at + monthFrom('2026-06') - figures.first], 0);
  });
});
