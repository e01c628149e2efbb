import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { someInputs } from '../testing/subscriptions.ts';
import { assume, COMBINATIONS, smallPlan } from '../testing/small-plan.ts';
import { explainResult } from '../trace/explain-stream.ts';
import { subscriptionTable, type SubscriptionLine, type SubscriptionLineCode } from './table.ts';

const span = { from: monthFrom('2026-01'), to: monthFrom('2026-12') };
const find = (lines: readonly SubscriptionLine[], code: SubscriptionLineCode): SubscriptionLine => {
  const line = lines.find((one) => one.code === code);
  if (!line) throw new Error(`There is no line ${code}`);
  return line;
};

describe('the subscriptions of a scope', () => {
  it('balance in every month, quarter and year, whatever their kinds, and agree with the results', () => {
    fc.assert(
      fc.property(someInputs, (plan) => {
        const model = evaluate(compile(plan));
        for (const grain of ['month', 'quarter', 'year'] as const) {
          const { lines, periods, cohorts } = subscriptionTable(model, [], span, grain);
          const value = (code: SubscriptionLineCode, place: number): number =>
            find(lines, code).values[place] ?? Number.NaN;
          periods.forEach((period, at) => {
            const near = (one: number, other: number, what: string): void =>
              assert.isAtMost(Math.abs(one - other), 1e-6 * Math.max(1, Math.abs(one)), what);
            const active = value('opening', at) + value('starters', at) - value('lost', at);
            near(active, value('active', at), `subscribers, ${period.key}`);
            const moved =
              value('revenueOpening', at) +
              value('new', at) +
              value('priceChange', at) +
              value('expansion', at) -
              value('contraction', at) -
              value('revenueLost', at);
            near(moved, value('revenueClosing', at), `revenue, ${period.key}`);
            const t = period.to - model.first;
            const units = model.results.units.reduce((sum, of) => sum + (of[t] ?? NaN), 0);
            near(units, value('active', at), `units, ${period.key}`);
            const months = period.to - span.from;
            const left = cohorts.reduce((sum, one) => sum + (one.active[months] ?? 0), 0);
            near(left, value('active', at), `cohorts, ${period.key}`);
            const before = at === 0 ? undefined : value('active', at - 1);
            if (before !== undefined) near(before, value('opening', at), `opens, ${period.key}`);
          });
        }
      }),
      { numRuns: 40 },
    );
  });

  const [first] = COMBINATIONS;
  const one = (more: object = {}) =>
    smallPlan(
      [assume('newSubscribers', [], 40), assume('churnRate', [], 0.04), assume('listPrice', [], 9)],
      {
        streams: [
          {
            id: 1,
            combination: first?.id ?? 0,
            method: 'subscription',
            settings: {
              subscription: {
                churn: 'constant',
                pricePolicy: 'current',
                billing: 'monthly',
                opening: [100],
                ...more,
              },
            },
          },
        ],
      },
    );

  it('say where new subscribers and churn lead', () => {
    const { leadsTo } = subscriptionTable(evaluate(compile(one())), [], span, 'month');
    assert.deepInclude(leadsTo, { gain: 40, churn: 0.04, monthsToFraction: 57 });
    assert.closeTo(leadsTo?.plateau ?? NaN, 1000, 1e-9);
  });

  it('explain subscribers by those before, the new and the lost', () => {
    const model = evaluate(compile(one()));
    const node = explainResult(model, 0, 'units', model.open);
    assert.deepEqual(
      node.parts.map(({ label, value }) => [label, value]),
      [
        ['Subscribers before', 100],
        ['New subscribers', 40],
        ['Less lost', -4],
      ],
    );
    assert.equal(model.results.revenue[0]?.[model.open], 136 * 9);
  });

  it('earn what was billed ahead in twelfths, those of before counted', () => {
    const plan = one({ billing: 'yearly', churn: 'atRenewal', opening: [12, 0, 0, 0, 0, 0, 6] });
    const model = evaluate(compile(plan));
    const { lines } = subscriptionTable(model, [], span, 'month');
    const billed = find(lines, 'billed').values;
    assert.closeTo(billed[0] ?? NaN, 40 * 9 * 12, 1e-9);
    // Six began six months before the first month's end: they renew in the sixth.
    assert.closeTo(billed[5] ?? NaN, (40 + 6 * 0.96) * 9 * 12, 1e-9);
    assert.closeTo(find(lines, 'earned').values[0] ?? NaN, (40 + 18) * 9, 1e-9);
  });

  it('cannot be computed by a curve that is none, and say so', () => {
    const model = evaluate(compile(one({ churn: 'byAge', rates: [1.5] })));
    assert.isNaN(model.results.units[0]?.[model.open]);
    assert.include(model.streams[0]?.mistakes[0], 'outside 0 to 100 %');
  });
});
