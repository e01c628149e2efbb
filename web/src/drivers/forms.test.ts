import type { Driver, DriverKind } from '@dravex/core';
import { assert } from 'chai';
import fc from 'fast-check';
import { formatsFor } from '../format/numbers.ts';
import { codeOf, driverOf, fieldsOf } from './driver-fields.ts';
import { blankForm, formOf, isComplete, profileOf, type FormProfile } from './profile-form.ts';

const LOCALES = ['en-IE', 'de-DE', 'fr-CH'] as const;
const locale = fc.constantFrom(...LOCALES);
/** Numbers as people type them: up to six digits after the point. */
const value = fc.integer({ min: -9e11, max: 9e11 }).map((whole) => whole / 1e6);
/** Fractions whose percents have at most four digits after the point. */
const share = fc.integer({ min: -2e6, max: 2e6 }).map((whole) => whole / 1e6);
const month = fc
  .record({ year: fc.integer({ min: 2024, max: 2032 }), place: fc.integer({ min: 1, max: 12 }) })
  .map(({ year, place }) => `${year}-${String(place).padStart(2, '0')}`);
const twelve = fc.array(value, { minLength: 12, maxLength: 12 });

const profileFor = (percent: boolean): fc.Arbitrary<FormProfile> => {
  const own = percent ? share : value;
  return fc.oneof(
    fc.record({ kind: fc.constant('value' as const), value: own }),
    fc.record({
      kind: fc.constant('steps' as const),
      steps: fc.array(fc.record({ from: month, value: own }), { minLength: 1, maxLength: 5 }),
    }),
    fc
      .record({
        start: own,
        startMonth: month,
        by: fc.constantFrom('month', 'compound', 'yearRate', 'yearAmount'),
        rate: share,
        stepMonth: fc.integer({ min: 1, max: 12 }),
      })
      .map((growth) => ({ kind: 'growth' as const, ...growth })),
    fc
      .record({ year: month, total: own, weights: twelve, each: fc.boolean() })
      .map(({ year, total, weights, each }) => ({
        kind: 'annual' as const,
        totals: { [year]: total },
        weights,
        ...(each ? { each } : {}),
      })),
    fc.record({ kind: fc.constant('level' as const), level: own, indices: twelve }),
    fc.record({ kind: fc.constant('lastYear' as const), growth: share }),
  );
};

describe('the form of a profile', () => {
  const blank = blankForm({ closedThrough: 24_320, fiscalStart: 4, value: '', season: null });

  it('says the profile that it was made from, in any locale', () => {
    fc.assert(
      fc.property(
        fc.boolean().chain((percent) => fc.tuple(fc.constant(percent), profileFor(percent))),
        locale,
        ([percent, profile], tag) => {
          const numbers = { formats: formatsFor(tag, 'EUR'), percent, firstOpen: '2026-10' };
          assert.deepEqual(profileOf(formOf(profile, blank, numbers), numbers), profile);
        },
      ),
    );
  });

  it('is not complete while a number cannot be read', () => {
    const numbers = { formats: formatsFor('en-IE', 'EUR'), percent: false, firstOpen: '2026-10' };
    const complete = (form: Partial<typeof blank>): boolean =>
      isComplete(profileOf({ ...blank, ...form }, numbers));
    assert.isFalse(complete({ value: '' }));
    assert.isFalse(complete({ value: 'many' }));
    assert.isTrue(complete({ value: '1,200.5' }));
    assert.isFalse(complete({ kind: 'steps' }));
    assert.isFalse(complete({ kind: 'level', value: '5', season: ['1', ''] }));
  });
});

describe('the form of a driver', () => {
  const bound = fc.option(
    fc.integer({ min: -1e9, max: 1e9 }).map((whole) => whole / 1000),
    { nil: null },
  );
  const driver: fc.Arbitrary<Driver> = fc
    .record({
      kind: fc.constantFrom<DriverKind>('count', 'money', 'moneyPerUnit', 'percent', 'ratio'),
      minimum: bound,
      maximum: bound,
      default: bound,
      measured: fc.boolean(),
      choices: fc.array(
        fc.record({ value: fc.integer({ min: 0, max: 9 }), label: fc.constantFrom('low', 'high') }),
        { maxLength: 3 },
      ),
    })
    .map(({ measured, ...rest }) => ({
      ...rest,
      code: 'visits',
      name: 'Visits',
      unit: 'visits',
      step: 1,
      formula: null,
      nature: 'flow' as const,
      weight: null,
      history: measured ? { measure: 'visits', per: null } : null,
    }));

  it('says the driver that it was made from, in any locale', () => {
    fc.assert(
      fc.property(driver, locale, (made, tag) => {
        const formats = formatsFor(tag, 'EUR');
        assert.deepEqual(driverOf(fieldsOf(made, formats), made.step, formats), made);
      }),
    );
  });

  it('makes a name in formulas of the name, unless one is given', () => {
    assert.equal(codeOf({ code: '', name: 'Cost per visit' }), 'costPerVisit');
    assert.equal(codeOf({ code: '', name: ' 2nd visits' }), '_2ndVisits');
    assert.equal(codeOf({ code: 'own', name: 'Cost per visit' }), 'own');
  });
});
