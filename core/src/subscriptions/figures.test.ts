import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import type { Plan } from '../forecast/plan.ts';
import { compile, evaluate, type Model } from '../forecast/run.ts';
import { MEASURES, type MeasuredCode } from '../measures/catalogue.ts';
import { FORECAST } from '../sources/source.ts';
import { forecastFigures } from '../tables/figures.ts';
import { marketOf } from '../tables/market.ts';
import { measuredTable } from '../tables/measured.ts';
import { assume, COMBINATIONS, smallPlan } from '../testing/small-plan.ts';
import { someInputs } from '../testing/subscriptions.ts';
import { explain } from '../trace/explain.ts';
import { evaluateTrace } from '../trace/trace.ts';
import { subscriberFigures } from './figures.ts';
import { subscriptionTable } from './table.ts';

const span = { from: monthFrom('2026-01'), to: monthFrom('2026-12') };
const CODES = [
  'activeSubscribers',
  'recurringRevenue',
  'newSubscribers',
  'subscriberChurn',
  'netRetention',
] as const;
const measured = (model: Model, measure: MeasuredCode, grain: 'month' | 'year', from = span.from) =>
  measuredTable(
    forecastFigures(model),
    marketOf(model),
    model.tree,
    {
      measures: [measure],
      rows: ['channel'],
      columns: 'time',
      scope: [],
      grain,
      span: { from, to: span.to },
    },
    1,
    () => subscriberFigures(model),
  );
const near = (one: number | null | undefined, other: number | null | undefined): void => {
  if (other === null || other === undefined) assert.isNull(one);
  else assert.closeTo(one ?? NaN, other, 1e-6 * Math.max(1, Math.abs(other)));
};

describe('measures of subscriptions', () => {
  it('are those of the movement, in months and in years: stocks of the last month, ratios of their parts', () => {
    fc.assert(
      fc.property(someInputs, (plan) => {
        const model = evaluate(compile(plan));
        for (const grain of ['month', 'year'] as const) {
          const { lines, rates } = subscriptionTable(model, [], span, grain);
          const line = (code: string) => lines.find((one) => one.code === code);
          const rate = (code: string) => rates.find((one) => one.code === code);
          const expected = [
            line('active'),
            line('revenueClosing'),
            line('starters'),
            rate('logoChurn'),
            rate('netRetention'),
          ];
          CODES.forEach((measure, at) => {
            const [total] = measured(model, measure, grain).totals;
            total?.cells.forEach((cell, place) => near(cell.value, expected[at]?.values[place]));
            near(total?.total.value, expected[at]?.total);
          });
        }
      }),
      { numRuns: 25 },
    );
  });

  it('add up by row where they add, and explain themselves down to who came and who left', () => {
    fc.assert(
      fc.property(someInputs, fc.constantFrom(...CODES), (plan, measure) => {
        const model = evaluate(compile(plan));
        const { rows, totals } = measured(model, measure, 'month');
        const [total] = totals;
        if (MEASURES[measure].nature !== 'ratio') {
          const outer = rows.filter(({ level }) => level === 0);
          const sum = outer.reduce((all, row) => all + (row.total.value ?? 0), 0);
          near(sum, total?.total.value);
        }
        const about = { source: FORECAST, measure, span, whole: [], before: null };
        const question = { kind: 'measured' as const, ...about };
        const figures = forecastFigures(model);
        const check = (scope: readonly number[]): void => {
          const node = explain(model, { ...question, scope }, () => figures);
          near(evaluateTrace(node), node.value);
          for (const part of node.parts) {
            if (part.question?.kind === 'measured') check(part.question.scope);
          }
        };
        check([]);
        near(explain(model, { ...question, scope: [] }, () => figures).value, total?.total.value);
      }),
      { numRuns: 25 },
    );
  });

  it('leave a line out of which an input is missing, and say so', () => {
    const [one, other] = COMBINATIONS;
    const set = { churn: 'constant', pricePolicy: 'current', billing: 'monthly' } as const;
    const model = evaluate(
      compile(
        smallPlan(
          [
            assume('newSubscribers', one?.members ?? [], 10),
            assume('churnRate', [], 0.1),
            assume('listPrice', [], 5),
          ],
          {
            streams: [one, other].map((combination, at) => ({
              ...{ id: at + 1, combination: combination?.id ?? 0, method: 'subscription' as const },
              settings: { subscription: { ...set, opening: [100] } },
            })),
          },
        ),
      ),
    );
    const total = measured(model, 'activeSubscribers', 'month').totals[0];
    assert.deepEqual(total?.cells[0], { value: 100, incomplete: true });
    const churn = measured(model, 'subscriberChurn', 'month').totals[0];
    assert.closeTo(churn?.cells[0]?.value ?? NaN, 0.1, 1e-9);
  });

  it('know of closed months what was sold, and nothing of who came', () => {
    const [first] = COMBINATIONS;
    const subscription = { churn: 'constant', pricePolicy: 'current', billing: 'yearly' } as const;
    const plan = (counts: 'earned' | 'billed'): Plan =>
      smallPlan([assume('newSubscribers', [], 1), assume('listPrice', [], 12)], {
        streams: [
          {
            ...{ id: 1, combination: first?.id ?? 0, method: 'subscription' },
            settings: { subscription: { ...subscription, counts } },
          },
        ],
        actuals: {
          combination: Array.from({ length: 12 }, () => first?.id ?? 0),
          month: Array.from({ length: 12 }, (_, t) => `2025-${String(t + 1).padStart(2, '0')}`),
          units: Array.from({ length: 12 }, (_, t) => t + 1),
          revenue: Array.from({ length: 12 }, () => 2400),
          cost: Array.from({ length: 12 }, () => 0),
        },
      });
    const closed = (counts: 'earned' | 'billed', measure: MeasuredCode) =>
      measured(evaluate(compile(plan(counts))), measure, 'month', monthFrom('2025-11')).totals[0]
        ?.cells[1];
    assert.deepEqual(closed('earned', 'activeSubscribers'), { value: 12, incomplete: false });
    // Whoever began in the last twelve months is there, and brings a twelfth of a year.
    assert.deepEqual(closed('billed', 'activeSubscribers'), { value: 78, incomplete: false });
    assert.equal(closed('billed', 'recurringRevenue')?.value, 24);
    assert.deepEqual(closed('earned', 'newSubscribers'), { value: null, incomplete: true });
    // Where records say who came and who left, that is known too; records of open months say nothing.
    const recorded = {
      combination: [first?.id ?? 0, first?.id ?? 0, 999],
      month: ['2025-12', '2026-01', '2025-12'],
      ...{ opening: [40, 1, 1], added: [7, 9, 9], lost: [4, 1, 1] },
    };
    const model = evaluate(compile(plan('earned')));
    const [plain, known] = [subscriberFigures(model), subscriberFigures(model, recorded)];
    const at = (model.plan.combinations.findIndex(({ id }) => id === first?.id) || 0) * plain.count;
    assert.deepEqual(
      [known.of.opening, known.of.starters, known.of.lost].map((series) => series[at + 11]),
      [40, 7, 4],
    );
    assert.equal(known.of.starters[at + 12], plain.of.starters[at + 12]);
  });
});
