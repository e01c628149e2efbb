import { assert } from 'chai';
import { monthFrom } from '../calendar/month.ts';
import { compile, evaluate } from '../forecast/run.ts';
import type { Plan } from '../forecast/plan.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { DRIVERS } from '../drivers/catalogue.ts';
import {
  driverUses,
  lastSeason,
  observedHistory,
  profilePreview,
  referenceOf,
} from './overview.ts';

/** Two years closed: 10 a month at 20 in 2024, 12 at 25 in 2025, a tenth of that in one other stream. */
function modelOf(part: Partial<Plan> = {}) {
  const months = Array.from({ length: 24 }, (_, t) => ({
    month: `${2024 + Math.floor(t / 12)}-${String(1 + (t % 12)).padStart(2, '0')}`,
    units: t < 12 ? 10 : 12,
    revenue: t < 12 ? 20_000 : 30_000,
  }));
  const { calendar } = smallPlan([]);
  return evaluate(
    compile(
      smallPlan([assume('grossUnits', [], 10), assume('discount', [M.web], 0.1)], {
        calendar: { ...calendar, first: '2024-01' },
        drivers: [
          ...DRIVERS,
          { ...(DRIVERS[0] ?? assertNever()), code: 'idle', name: 'Idle', formula: null },
        ],
        actuals: {
          combination: months.map(() => COMBINATIONS[0]?.id ?? 0),
          month: months.map(({ month }) => month),
          units: months.map(({ units }) => units),
          revenue: months.map(({ revenue }) => revenue),
          cost: months.map(() => 0),
        },
        ...part,
      }),
    ),
  );
}
function assertNever(): never {
  throw new Error('there are drivers');
}

describe('what drivers feed', () => {
  it('is told of each, with what is missing and what nobody chose', () => {
    const uses = new Map(driverUses(modelOf()).map((use) => [use.code, use]));
    assert.deepInclude(uses.get('grossUnits'), {
      streams: 8,
      missing: 0,
      byDefault: 0,
      assumptions: 1,
    });
    assert.deepInclude(uses.get('listPrice'), { streams: 8, missing: 8 });
    assert.deepInclude(uses.get('discount'), { streams: 8, byDefault: 4, assumptions: 1 });
    assert.deepInclude(uses.get('idle'), { streams: 0, formulas: [] });
    assert.deepInclude(uses.get('marketSize'), { streams: 0 });
  });
});

describe('what sales say of a driver', () => {
  it('is the last year beside the year before, and the last three months', () => {
    const model = modelOf();
    assert.deepEqual(referenceOf(model, 'grossUnits', []), {
      lastYear: 12,
      yearBefore: 10,
      lastThree: 12,
      lowest: 10,
      highest: 12,
    });
    assert.deepInclude(referenceOf(model, 'listPrice', [M.web]), { lastYear: 25, yearBefore: 20 });
    const growth = referenceOf(model, 'growth', []);
    assert.isNull(growth?.lastYear, 'no value unless both spans are complete');
    assert.closeTo(growth?.lastThree ?? 0, 0.5, 1e-12);
    assert.isNull(referenceOf(model, 'marketSize', []), 'sales do not say it');
    assert.isNull(referenceOf(model, 'discount', [])?.lastThree, 'no list price is known');
    assert.isNull(referenceOf(model, 'returnRate', []), 'nobody knows what came back');
    assert.deepEqual(observedHistory(model, 'listPrice', [M.stores]).at(-1), null);
  });

  it('is what last year’s profile stands on, and the season that can be taken from it', () => {
    const model = modelOf();
    const common = { driver: 'grossUnits', scope: [], from: '2026-01', to: null, note: '' };
    const values = profilePreview(model, { ...common, profile: { kind: 'lastYear', growth: 0.5 } });
    assert.equal(values[monthFrom('2026-05') - model.first], 18);
    assert.isNaN(values[monthFrom('2025-05') - model.first]);
    assert.deepEqual(lastSeason(model, 'grossUnits', []), new Array(12).fill(1));
    assert.isNull(lastSeason(model, 'discount', []));
  });
});
