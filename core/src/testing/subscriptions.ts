/** Random plans of subscriptions only, with history; for property tests. */
import fc from 'fast-check';
import type { Plan, Subscription } from '../forecast/plan.ts';
import { assume, COMBINATIONS, smallPlan } from './small-plan.ts';

const part = fc.integer({ min: 0, max: 100 }).map((percent) => percent / 100);

const someSubscription: fc.Arbitrary<Subscription> = fc
  .record({
    churn: fc.constantFrom(
      ...['constant' as const, 'byAge' as const, 'atRenewal' as const, 'whole' as const],
    ),
    rates: fc.array(part, { minLength: 1, maxLength: 4 }),
    term: fc.constantFrom(undefined, 3, 12),
    pricePolicy: fc.constantFrom(
      'current' as const,
      'keptFromStart' as const,
      'atRenewal' as const,
    ),
    billing: fc.constantFrom('monthly' as const, 'yearly' as const),
    counts: fc.constantFrom(undefined, 'billed' as const),
    opening: fc.option(fc.array(fc.integer({ min: 0, max: 90 }), { maxLength: 14 }), {
      nil: undefined,
    }),
  })
  .map((set) =>
    set.churn === 'whole' ? { ...set, pricePolicy: 'current', billing: 'monthly' } : set,
  );

/** A change to a combination so many places on; no stream changes to itself. */
function changesTo(
  change: { readonly on: number; readonly age: number; readonly share: number } | undefined,
  at: number,
) {
  const to = COMBINATIONS[(at + (change?.on ?? 0)) % COMBINATIONS.length];
  if (!change || !to) return {};
  return { changesOver: { combination: to.id, age: change.age, share: change.share } };
}

/** Every combination a subscription, under drivers that differ by month. */
export const someInputs: fc.Arbitrary<Plan> = fc
  .record({
    set: fc.array(someSubscription, {
      minLength: COMBINATIONS.length,
      maxLength: COMBINATIONS.length,
    }),
    // Who changes plans: to the next combination but so many, at an age.
    changes: fc.array(
      fc.option(
        fc.record({
          on: fc.integer({ min: 1, max: 3 }),
          age: fc.integer({ min: 1, max: 5 }),
          share: part,
        }),
        { nil: undefined },
      ),
      { minLength: COMBINATIONS.length, maxLength: COMBINATIONS.length },
    ),
    starters: fc.array(fc.integer({ min: 0, max: 70 }), { minLength: 12, maxLength: 12 }),
    churn: fc.array(part, { minLength: 12, maxLength: 12 }),
    price: fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 12, maxLength: 12 }),
    expansion: part,
    // Mostly none, for some months long.
    promotion: fc.option(
      fc.array(fc.integer({ min: 0, max: 5 }), { minLength: 12, maxLength: 12 }),
      {
        nil: new Array<number>(12).fill(0),
      },
    ),
    off: part,
    sold: fc.array(fc.integer({ min: 0, max: 60 }), {
      minLength: COMBINATIONS.length,
      maxLength: COMBINATIONS.length,
    }),
  })
  .map(({ set, changes, starters, churn, price, expansion, promotion, off, sold }) => {
    const months = (values: readonly number[]) => ({
      kind: 'months' as const,
      values: Object.fromEntries(
        values.map((value, at) => [`2026-${String(at + 1).padStart(2, '0')}`, value]),
      ),
    });
    return smallPlan(
      [
        assume('newSubscribers', [], months(starters)),
        assume('churnRate', [], months(churn)),
        assume('listPrice', [], months(price)),
        assume('expansionRate', [], expansion / 4),
        assume('promotionMonths', [], months(promotion)),
        assume('promotionOff', [], off),
      ],
      {
        streams: COMBINATIONS.map(({ id }, at) => ({
          id: at + 1,
          combination: id,
          method: 'subscription' as const,
          settings: {
            subscription: set[at],
            ...(set[at]?.churn === 'whole' ? {} : changesTo(changes[at], at)),
          },
        })),
        actuals: {
          combination: COMBINATIONS.map(({ id }) => id),
          month: COMBINATIONS.map(() => '2025-12'),
          units: sold,
          revenue: sold.map((units) => units * 900),
          cost: sold.map(() => 0),
        },
      },
    );
  });
