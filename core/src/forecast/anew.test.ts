import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { missingInputs } from '../checking/missing-inputs.ts';
import { COMBINATIONS, assume, smallPlan } from '../testing/small-plan.ts';
import { explainResult } from '../trace/explain-stream.ts';
import { LEFT_BLANK, settingsAnew } from './anew.ts';
import { funnelTable, FORECAST_ANEW } from './funnel-table.ts';
import type { AnewMonths, BaselineChoice, Plan, Stream } from './plan.ts';
import { compile, evaluate, type Model } from './run.ts';

const mean: BaselineChoice = { of: 'revenue', kind: 'mean', settings: {} };
const [first] = COMBINATIONS;
const combination = first?.id ?? 0;

/** A stream that sold 10 units for 100.00 in every month of 2025. */
function planWith(anew: readonly AnewMonths[], method: Stream['method'] = 'volumePrice'): Plan {
  const months = Array.from({ length: 12 }, (_, at) => `2025-${String(at + 1).padStart(2, '0')}`);
  return smallPlan([assume('grossUnits', [], 7), assume('listPrice', [], 3)], {
    streams: [{ id: 1, combination, method, settings: { anew } }],
    actuals: {
      combination: months.map(() => combination),
      month: months,
      units: months.map(() => 10),
      revenue: months.map(() => 10_000),
      cost: months.map(() => 0),
    },
  });
}

const valueIn = (model: Model, month: string, result: 'units' | 'revenue'): number =>
  model.results[result][0]?.[monthFrom(month) - model.first] ?? Number.NaN;

describe('months forecast anew', () => {
  it('come from their baseline, and the months around them from the method', () => {
    const model = evaluate(compile(planWith([{ from: '2026-02', to: '2026-03', baseline: mean }])));
    assert.closeTo(valueIn(model, '2026-01', 'revenue'), 21, 1e-9);
    assert.closeTo(valueIn(model, '2026-02', 'revenue'), 100, 1e-9);
    assert.closeTo(valueIn(model, '2026-03', 'units'), 10, 1e-9);
    assert.closeTo(valueIn(model, '2026-04', 'revenue'), 21, 1e-9);
  });

  it('value continued units at list price, also where the method reads none', () => {
    const baseline: BaselineChoice = { ...mean, of: 'units' };
    const model = evaluate(
      compile(planWith([{ from: '2026-02', to: '2026-02', baseline }], 'growthLastYear')),
    );
    assert.closeTo(valueIn(model, '2026-02', 'revenue'), 30, 1e-9);
  });

  it('are left blank, which is 0 and not missing', () => {
    const model = evaluate(
      compile(planWith([{ from: '2026-05', to: '2026-12', baseline: LEFT_BLANK }], 'amount')),
    );
    assert.equal(valueIn(model, '2026-05', 'revenue'), 0);
    assert.equal(valueIn(model, '2026-05', 'units'), 0);
    const missing = missingInputs(model).map(({ message }) => message);
    assert.lengthOf(missing, 1);
    assert.include(missing[0], 'in 2026-01 to 2026-04;');
  });

  it('explain themselves by the baseline', () => {
    const baseline: BaselineChoice = {
      of: 'revenue',
      kind: 'mean',
      settings: { span: { from: '2025-01', to: '2025-06' } },
    };
    const model = evaluate(compile(planWith([{ from: '2026-02', to: '2026-02', baseline }])));
    const month = monthFrom('2026-02');
    const node = explainResult(model, 0, 'revenue', month - model.first);
    assert.include(JSON.stringify(node), '2025-01 to 2025-06');
  });

  it('are a line of their own in the table of a funnel', () => {
    const plan = planWith([{ from: '2026-01', to: '2026-01', baseline: mean }], 'funnel');
    const funnel = {
      sources: [{ name: 'Visits', kind: 'typed' as const, drivers: ['grossUnits'], enters: 0 }],
      steps: [{ name: 'Sale', rate: 'discount', lag: 0, opening: [], cost: null }],
    };
    const streams = plan.streams.map((one) => ({ ...one, settings: { ...one.settings, funnel } }));
    const model = evaluate(compile({ ...plan, streams }));
    const span = { from: monthFrom('2026-01'), to: monthFrom('2026-02') };
    const { lines } = funnelTable(model, [], span, 'month');
    const lineOf = (name: string): readonly (number | null)[] =>
      lines.find((one) => one.kind === 'revenue' && one.name === name)?.values ?? [];
    assert.deepEqual(lineOf(FORECAST_ANEW), [100, 0]);
    assert.equal(lineOf('Visits')[0], 0);
  });

  it('are laid over what was forecast anew before, so that no month is in two of them', () => {
    const month = fc.integer({ min: 2, max: 12 });
    const stretch = fc.tuple(month, month, fc.boolean()).map(([one, other, back]) => ({
      from: Math.min(one, other),
      to: Math.max(one, other),
      back,
    }));
    const text = (at: number): string => `2026-${String(at).padStart(2, '0')}`;
    fc.assert(
      fc.property(fc.array(stretch, { maxLength: 6 }), (stretches) => {
        const expected = new Array<number>(13).fill(-1);
        let settings: Stream['settings'] = { why: 'as agreed' };
        stretches.forEach(({ from, to, back }, at) => {
          expected.fill(back ? -1 : at, from, to + 1);
          const basis = { ...mean, settings: { months: at + 1 } };
          const months = { from: text(from), to: text(to) };
          settings = settingsAnew(settings, months, back ? null : basis, '2026-01');
        });
        for (let at = 2; at <= 12; at += 1) {
          const holding = (settings?.anew ?? []).filter(
            ({ from, to }) => from <= text(at) && to >= text(at),
          );
          const bases = holding.map(({ baseline }) => (baseline.settings.months ?? 0) - 1);
          assert.deepEqual(bases, (expected[at] ?? -1) < 0 ? [] : [expected[at]]);
        }
        assert.equal(settings?.why, 'as agreed');
      }),
    );
  });

  it('are dropped once they are closed', () => {
    const before = { anew: [{ from: '2026-02', to: '2026-03', baseline: mean }] };
    const after = settingsAnew(before, { from: '2026-08', to: '2026-08' }, mean, '2026-03');
    assert.deepEqual(
      after.anew?.map(({ from }) => from),
      ['2026-08'],
    );
  });
});
