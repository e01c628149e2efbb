import { assert } from 'chai';
import fc from 'fast-check';
import { cohortTable } from './cohorts.ts';
import {
  movementOf,
  runOf,
  type CohortRun,
  type Movement,
  type SubscriptionInput,
} from './movement.ts';
import { billedAhead } from './prepaid.ts';
import { netRevenueRetention, worthOf } from './measures.ts';
import { churnProblems, expectedMonths, plateauOf, survival, type Churn } from './survival.ts';

const rate = fc.integer({ min: 0, max: 100 }).map((percent) => percent / 100);
const someChurn: fc.Arbitrary<Churn> = fc.oneof(
  fc.record({ kind: fc.constant('constant' as const), rate }),
  fc.record({
    kind: fc.constant('byAge' as const),
    rates: fc.array(rate, { minLength: 1, maxLength: 5 }),
  }),
  fc.record({
    kind: fc.constant('atRenewal' as const),
    term: fc.integer({ min: 1, max: 13 }),
    rate,
  }),
);
const MONTHS = 18;
const series = (value: fc.Arbitrary<number>): fc.Arbitrary<number[]> =>
  fc.array(value, { minLength: MONTHS, maxLength: MONTHS });
const small = fc.integer({ min: 0, max: 20 }).map((percent) => percent / 100);
const someInput: fc.Arbitrary<SubscriptionInput> = fc.record({
  opening: fc.record({
    byAge: fc.array(fc.integer({ min: 0, max: 90 }), { maxLength: 15 }),
    price: fc.integer({ min: 1, max: 30 }),
  }),
  starters: series(fc.integer({ min: 0, max: 80 })),
  churn: someChurn,
  churnFactor: fc.option(series(fc.constantFrom(1, 0.5, 2)), { nil: undefined }),
  price: series(fc.integer({ min: 1, max: 30 })),
  pricePolicy: fc.constantFrom('current' as const, 'keptFromStart' as const, 'atRenewal' as const),
  term: fc.constantFrom(undefined, 6, 12),
  promotionMonths: fc.option(series(fc.integer({ min: 0, max: 6 })), { nil: undefined }),
  promotionOff: fc.option(series(rate), { nil: undefined }),
  expansion: fc.option(series(small), { nil: undefined }),
  contraction: fc.option(series(small), { nil: undefined }),
  changedIn: fc.option(series(fc.integer({ min: 0, max: 20 })), { nil: undefined }),
  changes: fc.option(fc.record({ age: fc.integer({ min: 1, max: 14 }), share: rate }), {
    nil: undefined,
  }),
});
/** The same without cohorts: customers leave whole. */
const someWhole: fc.Arbitrary<SubscriptionInput> = fc
  .tuple(someInput, fc.integer({ min: 1, max: 7 }), fc.integer({ min: -9, max: 9 }))
  .map(([input, every, first]) => ({
    ...{ ...input, promotionMonths: undefined, promotionOff: undefined, changes: undefined },
    pricePolicy: 'current' as const,
    churnFactor: Array.from(input.starters, (_, t) => (t % 5) / 4),
    whole: { every, first },
  }));

const near = (one: number, other: number, what: string): void =>
  assert.isAtMost(Math.abs(one - other), 1e-9 * Math.max(1, Math.abs(one)), what);

/** Sums of the same cohorts, one by one or together, differ in their last digits. */
function assertSame({ movement: one }: CohortRun, { movement: other }: CohortRun): void {
  const seriesOf = ({ revenue, ...counts }: Movement) => ({ ...counts, ...revenueOf(revenue) });
  const revenueOf = (revenue: Movement['revenue']) =>
    Object.fromEntries(Object.entries(revenue).map(([name, of]) => [`revenue ${name}`, of]));
  const others: Record<string, Float64Array> = seriesOf(other);
  for (const [name, of] of Object.entries(seriesOf(one))) {
    of.forEach((value, t) => near(value, others[name]?.[t] ?? NaN, `${name} ${t}`));
  }
}

describe('subscriptions', () => {
  it('balance in every month, in subscribers and in recurring revenue', () => {
    fc.assert(
      fc.property(fc.oneof(someInput, someWhole), (input) => {
        const { opening, starters, lost, changedIn, changedOut, active, revenue } =
          movementOf(input);
        const before = input.opening.byAge.reduce((sum, count) => sum + count, 0);
        for (let t = 0; t < MONTHS; t += 1) {
          const at = (of: Float64Array, month = t): number => of[month] ?? NaN;
          near(at(opening), t === 0 ? before : at(active, t - 1), `opening ${t}`);
          const changed = at(changedIn) - at(changedOut);
          near(at(opening) + at(starters) - at(lost) + changed, at(active), `subscribers ${t}`);
          const { new: entered, priceChange, expansion, contraction, closing } = revenue;
          const first = before * input.opening.price;
          near(at(revenue.opening), t === 0 ? first : at(closing, t - 1), `revenue opens ${t}`);
          const moved = at(entered) + at(priceChange) + at(expansion) - at(contraction);
          const net = at(revenue.changedIn) - at(revenue.changedOut) - at(revenue.lost);
          near(at(revenue.opening) + moved + net, at(closing), `revenue ${t}`);
        }
      }),
    );
  });

  it('are the sum of their cohorts', () => {
    fc.assert(
      fc.property(someInput, (input) => {
        const { active } = movementOf(input);
        const rows = cohortTable(input);
        for (let t = 0; t < MONTHS; t += 1) {
          const sum = rows.reduce((all, row) => all + (row.active[t] || 0), 0);
          near(sum, active[t] ?? NaN, `month ${t}`);
        }
      }),
    );
  });

  it('go on from an earlier run where only later months are others, to the same numbers', () => {
    fc.assert(
      fc.property(
        fc.oneof(someInput, someWhole),
        fc.nat(MONTHS - 1),
        fc.constantFrom(
          ...(['starters', 'churnFactor', 'price', 'expansion', 'contraction'] as const),
          ...(['changedIn', 'promotionMonths', 'promotionOff'] as const),
        ),
        (some, month, code) => {
          // As a driver gives it: a series, though there is nothing in any month.
          const nothing = Array.from({ length: MONTHS }, () => (code === 'churnFactor' ? 1 : 0));
          const input = { ...some, [code]: some[code] ?? nothing };
          const before = runOf(input);
          const others = Array.from(input[code] ?? nothing);
          others[month] = (others[month] ?? 0) + (code === 'promotionMonths' ? 2 : 0.25);
          const changed = { ...input, [code]: others };
          assertSame(runOf(changed, before), runOf(changed));
          assert.strictEqual(runOf({ ...input }, before), before);
          assertSame(runOf({ ...changed, term: 7 }, before), runOf({ ...changed, term: 7 }));
        },
      ),
    );
    // From paying all alike to each paying a price of its own, in the middle of the run.
    const alike: SubscriptionInput = {
      opening: { byAge: [100], price: 10 },
      starters: Array.from({ length: MONTHS }, () => 5),
      churn: { kind: 'constant', rate: 0.1 },
      price: Array.from({ length: MONTHS }, () => 10),
      pricePolicy: 'current',
      expansion: new Float64Array(MONTHS),
    };
    const grows = { ...alike, expansion: new Float64Array(MONTHS).fill(0.1, 5, 6) };
    assertSame(runOf(grows, runOf(alike)), runOf(grows));

    // What came before is not computed again: it is what it was, whatever it was.
    const starters = Array.from({ length: MONTHS }, () => 10);
    const input: SubscriptionInput = {
      opening: { byAge: [5], price: 1 },
      starters,
      churn: { kind: 'constant', rate: 1 },
      churnFactor: starters.map(() => 0.1),
      price: starters,
      pricePolicy: 'current',
    };
    const before = runOf(input);
    before.movement.lost[9] = 4711;
    const churnFactor = starters.map((_, t) => (t < 10 ? 0.1 : 0.2));
    const after = runOf({ ...input, churnFactor }, before);
    assert.equal(after.movement.lost[9], 4711);
    assert.closeTo(after.movement.lost[10] ?? NaN, 0.2 * (before.movement.active[9] ?? NaN), 1e-9);
  });

  it('keep of a cohort what the curve says, which never rises', () => {
    fc.assert(
      fc.property(someChurn, fc.integer({ min: 1, max: 500 }), (churn, size) => {
        const curve = survival(churn, MONTHS - 1);
        const { active } = movementOf({
          opening: { byAge: [], price: 1 },
          starters: Array.from({ length: MONTHS }, (_, t) => (t === 0 ? size : 0)),
          churn,
          price: Array.from({ length: MONTHS }, () => 1),
          pricePolicy: 'current',
        });
        curve.forEach((left, age) => {
          near(size * left, active[age] ?? NaN, `age ${age}`);
          assert.isAtMost(left, curve[age - 1] ?? 1);
        });
      }),
    );
  });

  it('level off where a constant gain says', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.record({ kind: fc.constant('constant' as const), rate: fc.constantFrom(0.1, 0.3, 1) }),
          fc.record({
            kind: fc.constant('byAge' as const),
            rates: fc.constantFrom([0.5, 0.2], [0, 0.3], [1], [0.2, 1, 0.4]),
          }),
          fc.record({
            kind: fc.constant('atRenewal' as const),
            term: fc.constantFrom(1, 3, 12),
            rate: fc.constantFrom(0.4, 0.9, 1),
          }),
        ),
        fc.integer({ min: 0, max: 50 }),
        fc.option(fc.record({ age: fc.integer({ min: 1, max: 14 }), share: rate }), {
          nil: undefined,
        }),
        (churn, gain, changes) => {
          const left = survival(churn, 600).reduce(
            (sum, part, age) =>
              sum + (changes && age >= changes.age ? part * (1 - changes.share) : part),
            0,
          );
          const { plateau } = plateauOf(gain, churn, 0.9, changes);
          near(gain * left, plateau ?? NaN, JSON.stringify([churn, changes]));
        },
      ),
    );
    assert.isNull(plateauOf(40, { kind: 'constant', rate: 0 }).plateau, 'nobody leaves');
    assert.deepEqual(plateauOf(0, { kind: 'constant', rate: 0.5 }).plateau, 0);
    assert.isNull(expectedMonths({ kind: 'byAge', rates: [0.3, 0] }));
  });

  it('count a price rise for all, for new ones only, or for those who renew', () => {
    const starters = [10, ...Array.from({ length: MONTHS - 1 }, () => 0)];
    const price = starters.map((_, t) => (t < 3 ? 10 : 12));
    const closing = (pricePolicy: SubscriptionInput['pricePolicy'], term?: number): number[] => {
      const opening = { byAge: [], price: 0 };
      const churn = { kind: 'constant', rate: 0 } as const;
      const input = { opening, starters, churn, price, pricePolicy, term };
      return [...movementOf(input).revenue.closing];
    };
    assert.equal(closing('current')[3], 120);
    assert.equal(closing('keptFromStart').at(-1), 100);
    assert.deepEqual(closing('atRenewal', 6).slice(5, 7), [100, 120]);
  });

  it('take a promotion off the first months, and count its end as a price change', () => {
    const { revenue } = movementOf({
      opening: { byAge: [], price: 0 },
      starters: [10, 0, 0, 0],
      churn: { kind: 'constant', rate: 0 },
      price: [10, 10, 10, 10],
      pricePolicy: 'current',
      promotionMonths: [2, 0, 0, 0],
      promotionOff: [0.5, 0, 0, 0],
    });
    assert.deepEqual([...revenue.closing], [50, 50, 100, 100]);
    assert.deepEqual([...revenue.priceChange], [0, 0, 50, 0]);
  });

  it('that are billed ahead balance: opening deferred + billed - earned = closing', () => {
    fc.assert(
      fc.property(
        series(fc.integer({ min: 0, max: 80 })),
        series(fc.integer({ min: 1, max: 200 })),
        fc.array(fc.integer({ min: 0, max: 900 }), { maxLength: 11 }),
        (begun, price, opening) => {
          const { billed, earned, deferred } = billedAhead(begun, price, opening);
          let before = opening.reduce((sum, value) => sum + value, 0);
          for (let t = 0; t < MONTHS; t += 1) {
            const after = before + (billed[t] ?? NaN) - (earned[t] ?? NaN);
            near(after, deferred[t] ?? NaN, `month ${t}`);
            assert.isAtLeast(after, -1e-6, 'nothing is earned that was not billed');
            before = after;
          }
        },
      ),
    );
  });

  it('say what is wrong with a churn, with its place', () => {
    const fields = (churn: Churn): string[] => churnProblems(churn).map(({ field }) => field);
    assert.deepEqual(fields({ kind: 'constant', rate: 1.2 }), ['rate']);
    assert.deepEqual(fields({ kind: 'constant', rate: NaN }), ['rate']);
    assert.deepEqual(fields({ kind: 'byAge', rates: [] }), ['rates']);
    assert.deepEqual(fields({ kind: 'byAge', rates: [0.1, -0.1] }), ['rates.1']);
    assert.deepEqual(fields({ kind: 'atRenewal', term: 0, rate: 2 }), ['term', 'rate']);
    assert.isEmpty(fields({ kind: 'atRenewal', term: 12, rate: 0 }));
  });

  it('have no worth where nothing divides', () => {
    const churn = { kind: 'constant', rate: 0 } as const;
    assert.deepEqual(worthOf(10, 0, expectedMonths(churn), 5), {
      lifetime: null,
      lifetimeValue: null,
      monthsToPayBack: null,
    });
    assert.isNull(netRevenueRetention(0, 0, 0, 0));
  });
});
