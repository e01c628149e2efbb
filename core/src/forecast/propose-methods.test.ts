import { assert } from 'chai';
import { monthFrom, monthText } from '../calendar/month.ts';
import { assume, COMBINATIONS, smallPlan } from '../testing/small-plan.ts';
import { bandOf } from './methods/baseline.ts';
import { compile, evaluate, stretchOf, type Model } from './run.ts';
import type { Plan, StreamSettings } from './plan.ts';
import { proposeMethod } from './propose-methods.ts';

/** Three years of history; the first combination has a season, others fewer months, or none. */
function modelOf(settings?: StreamSettings): Model {
  const first = monthFrom('2023-01');
  const [a, b, c] = COMBINATIONS.map(({ id }) => id);
  const rows: { combination: number; month: string; units: number }[] = [];
  for (let t = 0; t < 36; t += 1) {
    const month = monthText(first + t);
    const noise = ((t * 7) % 5) - 2;
    rows.push({ combination: a ?? 0, month, units: 100 + 40 * Math.sin(t / 1.91) + noise });
    if (t >= 31) rows.push({ combination: b ?? 0, month, units: 10 + t });
    if (t >= 22) rows.push({ combination: c ?? 0, month, units: 10 + t });
  }
  const plan: Plan = smallPlan([assume('listPrice', [], 10), assume('grossUnits', [], 1)], {
    calendar: {
      first: '2023-01',
      last: '2026-12',
      closedThrough: '2025-12',
      asOf: '2026-01-10',
      fiscalStart: 1,
    },
    actuals: {
      combination: rows.map(({ combination }) => combination),
      month: rows.map(({ month }) => month),
      units: rows.map(({ units }) => units),
      revenue: rows.map(({ units }) => Math.round(units * 900)),
      cost: rows.map(() => 0),
    },
  });
  const streams = settings
    ? plan.streams.map((one, place) =>
        place === 0 ? { ...one, method: 'baseline' as const, settings } : one,
      )
    : plan.streams;
  return evaluate(compile({ ...plan, streams }));
}

describe('proposing methods', () => {
  const model = modelOf();
  const idAt = (place: number): number => model.streams[place]?.stream.id ?? 0;

  it('takes the baseline that did best, and says by how much', () => {
    const { method, settings, why, league } = proposeMethod(model, idAt(0));
    assert.equal(method, 'baseline');
    assert.equal(settings.baseline?.kind, league[0]?.kind);
    assert.match(why, /did best over the last twelve months: scaled error \d\.\d\d; next /);
  });

  it('falls back to what a short history can bear', () => {
    assert.deepInclude(proposeMethod(model, idAt(1)), { method: 'growthPeriod' });
    assert.include(proposeMethod(model, idAt(1)).why, 'Sold for 5 months');
    const fourteen = proposeMethod(model, idAt(2));
    assert.include(fourteen.why, fourteen.method === 'baseline' ? 'did best' : '14 months');
    assert.equal(proposeMethod(model, idAt(3)).method, 'volumePrice');
    assert.throws(() => proposeMethod(model, 999), RangeError);
  });
});

describe('the band of a baseline', () => {
  it('lies around the forecast, wider further ahead, in units and in revenue alike', () => {
    const settings = { baseline: { of: 'units', kind: 'sameMonth', settings: {} } } as const;
    const model = modelOf(settings);
    const stretch = stretchOf(model, 0);
    const units = bandOf(stretch, 'units') ?? [];
    const revenue = bandOf(stretch, 'revenue') ?? [];
    assert.lengthOf(units, 12);
    units.forEach(({ low, high }, t) => {
      const value = model.results.units[0]?.[model.open + t] ?? NaN;
      assert.closeTo((low + high) / 2, value, 1e-9);
      assert.isAbove(high, low);
      assert.closeTo(revenue[t]?.high ?? 0, high * 10, 1e-6, 'at the list price');
      const before = units[t - 1];
      if (before) assert.isAtLeast(high - low, before.high - before.low - 1e-9);
    });
    assert.isNull(bandOf(stretchOf(modelOf(), 0), 'units'), 'another method has no band');
  });
});
