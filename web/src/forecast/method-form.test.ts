import { BASELINE_KINDS, type StreamSettings, type MethodCode } from '@dravex/core';
import { assert } from 'chai';
import fc from 'fast-check';
import { formatsFor } from '../format/numbers.ts';
import { blankFunnel } from './blank-funnel.ts';
import { methodFormOf, settingsOf } from './method-form.ts';

const formats = formatsFor('de-DE', 'EUR');
const of = fc.constantFrom('units' as const, 'revenue' as const);
const why = fc.constantFrom({}, { why: 'agreed with the stores' });
const months = fc.uniqueArray(fc.integer({ min: 1, max: 12 }), { maxLength: 4 });

/** A method with settings as the form can say them. */
const set: fc.Arbitrary<[MethodCode, StreamSettings]> = fc.oneof(
  fc.record({ why }).map((one): [MethodCode, StreamSettings] => ['amount', one.why]),
  fc
    .record({
      combination: fc.integer({ min: 1, max: 99 }),
      from: fc.integer({ min: 0, max: 6 }),
      to: fc.integer({ min: 6, max: 60 }),
      why,
    })
    .map(({ why: reason, ...attached }): [MethodCode, StreamSettings] => [
      'volumePrice',
      { attached, ...reason },
    ]),
  of.map((what): [MethodCode, StreamSettings] => ['growthLastYear', { of: what }]),
  fc
    .tuple(of, fc.constantFrom('month' as const, 'quarter' as const))
    .map(([what, base]): [MethodCode, StreamSettings] => ['growthPeriod', { of: what, base }]),
  fc
    .record({
      of,
      kind: fc.constantFrom('best' as const, ...BASELINE_KINDS),
      growth: fc.integer({ min: -500, max: 500 }).map((whole) => whole / 1000),
      blank: months,
      rates: fc.boolean(),
    })
    .map(({ of: what, kind, growth, blank, rates }): [MethodCode, StreamSettings] => [
      'baseline',
      {
        baseline: {
          of: what,
          kind,
          settings: {
            ...(rates ? { rates: { level: 0.3 } as never } : {}),
            ...(kind === 'lastMonth' ? { month: '2026-08' } : {}),
            ...(kind === 'mean' ? { span: { from: '2026-01', to: '2026-06' } } : {}),
            ...(kind === 'sameMonthGrowth' ? { growth } : {}),
            ...(blank.length > 0 ? { blank: [...blank].sort((a, b) => a - b) } : {}),
          },
        },
      },
    ]),
  fc.constant<[MethodCode, StreamSettings]>(['funnel', { funnel: blankFunnel() }]),
  fc
    .record({
      churn: fc.constantFrom(
        ...['constant' as const, 'byAge' as const, 'atRenewal' as const, 'whole' as const],
      ),
      pricePolicy: fc.constantFrom('current' as const, 'keptFromStart' as const),
      billing: fc.constantFrom('monthly' as const, 'yearly' as const),
      term: fc.constantFrom({}, { term: 6 }),
      opening: fc.constantFrom({}, { opening: [12, 0, 3.5] }),
      deferred: fc.constantFrom({}, { deferred: [100, 90] }),
      changes: fc.constantFrom({}, { changesOver: { combination: 4, age: 6, share: 0.125 } }),
    })
    .map(({ churn, term, opening, deferred, changes, ...one }): [MethodCode, StreamSettings] => {
      if (churn === 'whole') {
        const whole = { churn, pricePolicy: 'current', billing: 'monthly' } as const;
        const more = { ...term, ...opening, countedFrom: '2026-02' };
        return ['subscription', { subscription: { ...whole, ...more } }];
      }
      const rates = churn === 'byAge' ? { rates: [0.12, 0.055] } : {};
      const more = { ...rates, ...term, ...opening, ...deferred };
      return ['subscription', { subscription: { churn, ...one, ...more }, ...changes }];
    }),
  fc.constant<[MethodCode, StreamSettings]>([
    'formula',
    {
      formula: {
        units: 'visits * 2',
        revenue: null,
        names: [{ name: 'that', combination: 4, measure: 'revenue' }],
      },
    },
  ]),
);

describe('the form of a method', () => {
  it('says the settings that it was made from', () => {
    fc.assert(
      fc.property(set, ([method, settings]) => {
        const form = methodFormOf({ method, settings }, formats);
        assert.equal(form.method, method);
        assert.deepEqual(settingsOf(form, settings, formats), settings);
      }),
    );
  });

  it('drops what only another baseline had', () => {
    const settings: StreamSettings = {
      baseline: { of: 'revenue', kind: 'lastMonth', settings: { month: '2026-08', months: 3 } },
    };
    const form = {
      ...methodFormOf({ method: 'baseline', settings }, formats),
      kind: 'mean' as const,
    };
    assert.deepEqual(settingsOf(form, settings, formats).baseline?.settings, {});
  });

  it('does not change the line that it began with', () => {
    const settings: StreamSettings = { funnel: blankFunnel() };
    const form = methodFormOf({ method: 'funnel', settings }, formats);
    Object.assign(form.funnel.steps[0] ?? {}, { name: 'Changed' });
    assert.deepEqual(settings, { funnel: blankFunnel() });
  });
});
