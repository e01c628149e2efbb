import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import {
  fitRetention,
  observedChurn,
  observedCohorts,
  subscriberMonths,
  worseThanElders,
  type ObservedAge,
  type ObservedCohort,
  type SubscriberCount,
} from './observed.ts';
import { survival, type Churn } from './survival.ts';

const MARCH = monthFrom('2026-03');

/** A cohort of a curve, in whole subscribers. */
function cohortOf(churn: Churn, start: number, size: number, ages: number): ObservedCohort {
  return { start, active: [...survival(churn, ages)].map((left) => Math.round(size * left)) };
}
const agesOf = (churn: Churn, size = 100_000, ages = 24): ObservedAge[] =>
  observedChurn([cohortOf(churn, MARCH, size, ages)]);

describe('subscribers as they were', () => {
  it('are counted by cohort and age, whoever leaves in the month of the start in the next one', () => {
    const counts: SubscriberCount[] = [
      { start: MARCH, end: null, count: 5 },
      { start: MARCH, end: MARCH, count: 2 },
      { start: MARCH, end: MARCH + 2, count: 3 },
      { start: MARCH + 1, end: null, count: 4 },
      { start: MARCH + 2, end: MARCH + 9, count: 1 },
      { start: MARCH + 3, end: null, count: 7 },
    ];
    const cohorts = observedCohorts(counts, MARCH + 2);
    assert.deepEqual(cohorts, [
      { start: MARCH, active: [10, 8, 5] },
      { start: MARCH + 1, active: [4, 4] },
      { start: MARCH + 2, active: [1] },
    ]);
    assert.deepEqual(observedChurn(cohorts), [
      { age: 1, atRisk: 14, lost: 2, rate: 2 / 14 },
      { age: 2, atRisk: 8, lost: 3, rate: 3 / 8 },
    ]);
  });

  it('add up to what is active in each month, whoever they are', () => {
    const someone = fc.record({
      start: fc.integer({ min: 0, max: 20 }),
      stays: fc.option(fc.integer({ min: 0, max: 20 })),
    });
    fc.assert(
      fc.property(fc.array(someone, { maxLength: 40 }), (people) => {
        const counts = people.map(({ start, stays }) => ({
          start: MARCH + start,
          end: stays === null ? null : MARCH + start + stays,
          count: 1,
        }));
        const through = MARCH + 20;
        const cohorts = observedCohorts(counts, through);
        for (const month of subscriberMonths(counts, MARCH + 3, through)) {
          const { opening, added, lost, closing } = month;
          const there = (at: number): number =>
            cohorts.reduce((sum, one) => sum + (one.active[at - one.start] ?? 0), 0);
          const began = cohorts.find(({ start }) => start === month.month)?.active[0] ?? 0;
          assert.deepEqual(
            [opening, added, closing],
            [there(month.month - 1), began, there(month.month)],
          );
          assert.equal(opening + added - lost, closing);
        }
      }),
    );
  });
});

describe('a fitted curve', () => {
  it('is one rate where one rate explains it', () => {
    const fitted = fitRetention(agesOf({ kind: 'constant', rate: 0.04 }));
    assert.deepEqual(fitted?.churn, { kind: 'constant', rate: 0.04 });
    const { s, low, high } = fitted?.left[12] ?? { s: 0, low: 0, high: 0 };
    assert.closeTo(s, 0.96 ** 12, 1e-3);
    assert.isTrue(low < s && s < high && high - low < 0.02);
  });

  it('falls with age where those who come leave soonest', () => {
    const rates = Array.from({ length: 24 }, (_, at) => 0.12 / (1 + 0.5 * at));
    const fitted = fitRetention(agesOf({ kind: 'byAge', rates }));
    assert.equal(fitted?.churn.kind, 'byAge');
    const found = fitted?.churn.kind === 'byAge' ? fitted.churn.rates : [];
    for (const at of [0, 5, 20]) assert.closeTo(found[at] ?? 0, rates[at] ?? 0, 2e-3);
  });

  it('leaves at renewals where nearly all do', () => {
    const fitted = fitRetention(agesOf({ kind: 'atRenewal', term: 12, rate: 0.3 }));
    assert.deepEqual(fitted?.churn, { kind: 'atRenewal', term: 12, rate: 0.3 });
  });

  it('has a band that is wider where fewer stand behind it, and says nothing of a handful', () => {
    const wide = (size: number): number => {
      const { low = 0, high = 0 } =
        fitRetention(agesOf({ kind: 'constant', rate: 0.1 }, size))?.left[6] ?? {};
      return high - low;
    };
    assert.isAbove(wide(100), 2 * wide(1000));
    assert.isNull(fitRetention([{ age: 1, atRisk: 90, lost: 4, rate: 4 / 90 }]));
    assert.isNull(fitRetention([]));
  });

  it('never rises and stays between nothing and all, whatever was observed', () => {
    const age = fc.tuple(
      fc.integer({ min: 0, max: 500 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(age, { minLength: 1, maxLength: 30 }), (list) => {
        const ages = list.map(([atRisk, part], at) => {
          const lost = Math.round(atRisk * part);
          return { age: at + 1, atRisk, lost, rate: atRisk === 0 ? null : lost / atRisk };
        });
        const fitted = fitRetention(ages);
        fitted?.left.forEach(({ s, low, high }, at) => {
          const before = fitted.left[at - 1]?.s ?? 1;
          assert.isTrue(s <= before + 1e-12 && s >= 0, `${s} after ${before}`);
          assert.isTrue(low <= s + 1e-9 && s <= high + 1e-9 && low >= 0 && high <= 1);
        });
      }),
    );
  });
});

describe('a cohort that does worse than its elders', () => {
  const usual: Churn = { kind: 'constant', rate: 0.03 };
  const elders = Array.from({ length: 12 }, (_, at) =>
    cohortOf(usual, MARCH - 12 + at, 200, 18 - at),
  );

  it('is pointed out, with what was to be expected, and is no measure for the next', () => {
    const bad = cohortOf({ kind: 'constant', rate: 0.16 }, MARCH, 400, 6);
    const after = cohortOf(usual, MARCH + 1, 200, 5);
    const [found, ...others] = worseThanElders([...elders, bad, after]);
    assert.deepEqual(others, []);
    assert.deepInclude(found, { start: MARCH, size: 400 });
    assert.closeTo(found?.expected ?? 0, 400 - 400 * 0.97 ** 6, 25);
    assert.isAbove(found?.lost ?? 0, 200);
  });

  it('is none where all leave alike, where it is too small, or where there are no elders', () => {
    assert.deepEqual(worseThanElders(elders), []);
    const small = cohortOf({ kind: 'constant', rate: 0.5 }, MARCH, 10, 6);
    assert.deepEqual(worseThanElders([...elders, small]), []);
    assert.deepEqual(worseThanElders([cohortOf({ kind: 'constant', rate: 0.9 }, 0, 500, 5)]), []);
  });
});
