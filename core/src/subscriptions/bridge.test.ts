import { assert } from 'chai';
import fc from 'fast-check';
import { periodsOf } from '../calendar/period.ts';
import { monthFrom } from '../calendar/month.ts';
import type { Plan } from '../forecast/plan.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { someInputs } from '../testing/subscriptions.ts';
import { assume, COMBINATIONS, smallPlan } from '../testing/small-plan.ts';
import { subscriptionBridge, type BridgeStep, type SubscriptionBridge } from './bridge.ts';
import { subscriberFigures } from './figures.ts';
import { keepSubscribers, keptSubscriberFigures } from './kept.ts';

const span = { from: monthFrom('2026-01'), to: monthFrom('2026-12') };

/** What lies between a plan as it was kept and another one. */
function between(kept: Plan, now: Plan, grain: 'month' | 'quarter' = 'month'): SubscriptionBridge {
  const [before, after] = [kept, now].map((plan) => evaluate(compile(plan)));
  if (!before || !after) throw new Error('Both plans compute');
  return subscriptionBridge(
    keptSubscriberFigures(after, keepSubscribers(before, span)),
    subscriberFigures(after),
    COMBINATIONS.map((_, place) => place),
    periodsOf(span, grain, 1),
    span.from,
    after.first,
  );
}
const stepOf = ({ steps }: SubscriptionBridge, wanted: BridgeStep): number[] =>
  (steps.find(({ step }) => step === wanted)?.values ?? []).map((value) => value ?? NaN);

describe('why recurring revenue is another one than planned', () => {
  it('is steps that add up to the difference in every period, whatever the two plans are', () => {
    fc.assert(
      fc.property(someInputs, someInputs, (kept, other) => {
        for (const grain of ['month', 'quarter'] as const) {
          const { plan, now, steps, starters } = between(kept, other, grain);
          plan.forEach((planned, at) => {
            const difference = (now[at] ?? NaN) - (planned ?? NaN);
            const sum = steps.reduce((all, { values }) => all + (values[at] ?? NaN), 0);
            const size = Math.max(1, Math.abs(now[at] ?? 0), Math.abs(planned ?? 0));
            assert.isAtMost(Math.abs(difference - sum), 1e-8 * size, `${grain} ${at}`);
          });
          assert.isFalse(starters.now.includes(null));
        }
      }),
      { numRuns: 40 },
    );
  });

  const [first] = COMBINATIONS;
  const planOf = (starters: number, churn: number, price: number): Plan =>
    smallPlan(
      [
        assume('newSubscribers', [], starters),
        assume('churnRate', [], churn),
        assume('listPrice', [], price),
      ],
      { streams: [{ id: 1, combination: first?.id ?? 0, method: 'subscription' }] },
    );
  const kept = planOf(10, 0.1, 20);

  it('is nothing where nothing was changed', () => {
    for (const { values } of between(kept, kept).steps) {
      assert.isTrue(values.every((value) => value === 0));
    }
  });

  it('names what was changed, with what follows from it, and nothing else', () => {
    const more = between(kept, planOf(12, 0.1, 20));
    // Two more a month, of whom nine tenths stay from month to month, at 20 each.
    const left = Array.from({ length: 12 }, (_, t) => (2 * 20 * (1 - 0.9 ** (t + 1))) / 0.1);
    stepOf(more, 'starters').forEach((value, t) => assert.closeTo(value, left[t] ?? NaN, 1e-9));
    for (const step of ['before', 'churn', 'price', 'expansion', 'changes'] as const) {
      assert.isTrue(
        stepOf(more, step).every((value) => Math.abs(value) < 1e-9),
        step,
      );
    }
    const loses = between(kept, planOf(10, 0.2, 20));
    assert.closeTo(
      stepOf(loses, 'churn').at(-1) ?? NaN,
      (loses.now.at(-1) ?? 0) - (loses.plan.at(-1) ?? 0),
      1e-9,
    );
    const dearer = between(kept, planOf(10, 0.1, 25));
    assert.closeTo(stepOf(dearer, 'price').at(-1) ?? NaN, (dearer.plan.at(-1) ?? 0) / 4, 1e-9);
  });

  it('is amounts, not millions that cancel each other, where next to nothing is paid at first', () => {
    // Everybody leaves in June; who begins then pays next to nothing for three months.
    const paid = planOf(1000, 0.1, 100);
    const promoted = {
      ...paid,
      assumptions: [
        ...paid.assumptions,
        assume('churnRate', [], 1, { from: '2026-06', to: '2026-06' }),
        assume('promotionMonths', [], 3),
        assume('promotionOff', [], 1 - 1e-9, { from: '2026-06' }),
      ],
    };
    const { steps, now } = between(promoted, paid);
    const most = Math.max(...now.map((value) => value ?? NaN));
    for (const { step, values } of steps) {
      assert.isTrue(
        values.every((value) => Math.abs(value ?? NaN) <= most),
        step,
      );
    }
  });

  it('does not know months that the version does not hold', () => {
    const after = evaluate(compile(kept));
    const half = keepSubscribers(after, { from: span.from, to: span.from + 5 });
    const { plan, steps } = subscriptionBridge(
      keptSubscriberFigures(after, half),
      subscriberFigures(after),
      [0],
      periodsOf(span, 'month', 1),
      span.from,
      after.first,
    );
    assert.isNumber(plan[5]);
    assert.isNull(plan[6]);
    assert.isNull(steps[1]?.values[6]);
  });
});
