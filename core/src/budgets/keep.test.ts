import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { figuresFromRows, forecastFigures } from '../tables/figures.ts';
import { assume, M, smallPlan } from '../testing/small-plan.ts';
import { keepForecast } from './keep.ts';

const span = { from: monthFrom('2026-01'), to: monthFrom('2026-12') };

describe('keepForecast', () => {
  it('keeps each cell within half a cent and half a thousandth', () => {
    const price = fc.integer({ min: 1, max: 99_999 }).map((n) => n / 1000);
    fc.assert(
      fc.property(price, fc.integer({ min: 0, max: 999 }), (p, returned) => {
        const plan = smallPlan([
          assume('grossUnits', [], 7),
          assume('listPrice', [], p),
          assume('returnRate', [], returned / 1000),
        ]);
        const forecast = forecastFigures(evaluate(compile(plan)));
        const { rows, missing } = keepForecast(forecast, span, 2);
        assert.equal(missing, 0);
        const kept = figuresFromRows(plan, rows);
        forecast.measures.revenue.forEach((value, at) => {
          assert.isAtMost(Math.abs(value - (kept.measures.revenue[at] ?? 0)), 0.005 + 1e-9);
        });
        assert.isTrue(rows.every(({ revenue }) => Number.isInteger(revenue)));
      }),
    );
  });

  it('counts the cells whose input is missing and keeps the others', () => {
    const plan = smallPlan([assume('grossUnits', [M.web], 1), assume('listPrice', [], 1)]);
    const { rows, missing } = keepForecast(forecastFigures(evaluate(compile(plan))), span, 2);
    assert.equal(rows.length, 4 * 12);
    assert.equal(missing, 4 * 12);
  });
});
