/** Random plans in which every method, profile and kind of driver can occur; for property tests. */
import fc from 'fast-check';
import { BASELINE_KINDS } from '../baselines/baseline.ts';
import type { Adjustment } from '../drivers/adjustment.ts';
import type { Assumption, Profile } from '../drivers/assumption.ts';
import { DRIVERS } from '../drivers/catalogue.ts';
import type { Driver } from '../drivers/driver.ts';
import { LEFT_BLANK } from '../forecast/anew.ts';
import type { Funnel, Override, Plan, Stream, StreamSettings } from '../forecast/plan.ts';
import { own as ownDriver } from './own-driver.ts';
import { COMBINATIONS, M, smallPlan } from './small-plan.ts';

const own = (
  code: string,
  kind: Driver['kind'],
  unit: string,
  part: Partial<Driver> = {},
): Driver => ownDriver({ code, kind, unit, ...part });

/** Drivers of the planner's own: some typed, some by formula, two that read each other's months before. */
export const OWN_DRIVERS: readonly Driver[] = [
  own('spend', 'money', 'a month', { default: 5000 }),
  own('visitCost', 'moneyPerUnit', 'per visit', { default: 2 }),
  own('visits', 'count', 'visits', { formula: 'spend / visitCost' }),
  own('conversion', 'percent', '%', { default: 0.05, minimum: 0, maximum: 1 }),
  own('campaign', 'yesNo', '', { default: 0 }),
  own('lift', 'percent', '%', { formula: 'if(campaign = 1, 10%, 0)' }),
  own('echo', 'count', 'units', { formula: 'average(lag(grossUnits, 1), 2) * (1 + lift)' }),
  own('up', 'ratio', '', { formula: '1 + lag(down, 1) / 2', default: 1 }),
  own('down', 'ratio', '', { formula: 'min(up, 3) - 0.25' }),
];

const month = fc.constantFrom('2026-01', '2026-02', '2026-05', '2026-09', '2026-12');
const amount = fc.integer({ min: 0, max: 900 });
const share = fc.integer({ min: 0, max: 100 }).map((percent) => percent / 100);
const twelve = fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 12, maxLength: 12 });

const profileOf = (value: fc.Arbitrary<number>): fc.Arbitrary<Profile> =>
  fc.oneof(
    fc.record({ kind: fc.constant('value' as const), value }),
    fc.record({
      kind: fc.constant('steps' as const),
      steps: fc.array(fc.record({ from: month, value }), { minLength: 1, maxLength: 3 }),
    }),
    fc.record({ kind: fc.constant('months' as const), values: fc.dictionary(month, value) }),
    fc.record({
      kind: fc.constant('growth' as const),
      start: value,
      startMonth: fc.constantFrom('2025-01', '2026-03'),
      by: fc.constantFrom('month', 'compound', 'yearRate', 'yearAmount'),
      rate: share,
      stepMonth: fc.integer({ min: 1, max: 12 }),
    }),
    fc.record({
      kind: fc.constant('annual' as const),
      totals: fc.record({ '2025-01': value, '2026-01': value }),
      weights: twelve,
      each: fc.boolean(),
    }),
    fc.record({ kind: fc.constant('level' as const), level: value, indices: twelve }),
    fc.record({ kind: fc.constant('lastYear' as const), growth: share }),
  ) as fc.Arbitrary<Profile>;

const scope = fc.constantFrom<readonly number[]>(
  [],
  [M.web],
  [M.hardware],
  [M.carafe, M.north],
  [M.stores, M.tap, M.coast],
);
const RATES = [
  'discount',
  'returnRate',
  'conversion',
  'marketShare',
  'attachRate',
  'growth',
  'periodGrowth',
  'costShare',
  'churnRate',
  'expansionRate',
];
const AMOUNTS = [
  'grossUnits',
  'listPrice',
  'amount',
  'marketSize',
  'spend',
  'visitCost',
  'unitCost',
  'newSubscribers',
];

/** Assumptions without ids; the order is that of creation. */
export const someAssumptions: fc.Arbitrary<Omit<Assumption, 'id'>[]> = fc.array(
  fc.oneof(
    ...[
      { drivers: RATES, value: share },
      { drivers: AMOUNTS, value: amount },
      { drivers: ['campaign'], value: fc.constantFrom(0, 1) },
    ].map(({ drivers, value }) =>
      fc.record({
        driver: fc.constantFrom(...drivers),
        scope,
        from: fc.constantFrom(null, '2026-02'),
        to: fc.constantFrom(null, '2026-10'),
        profile: profileOf(value),
        note: fc.constant(''),
      }),
    ),
  ),
  { maxLength: 14 },
);

/** Changes that are laid over drivers, without ids; the order is that of creation. */
export const someAdjustments: fc.Arbitrary<Omit<Adjustment, 'id'>[]> = fc.array(
  fc.record({
    driver: fc.constantFrom(...AMOUNTS, ...RATES, 'visits'),
    scope: fc.oneof(scope, fc.constant([M.carafe, M.tap, M.north])),
    from: fc.constantFrom(null, '2025-06', '2026-03'),
    to: fc.constantFrom(null, '2026-03', '2026-08'),
    kind: fc.constantFrom('set', 'times', 'plus'),
    value: fc.constantFrom(0.5, 1.04, 0.01, 2),
    note: fc.constant(''),
  }),
  { maxLength: 4 },
);

/** A combination that a stream reads; the fewer that follow each other, the fewer circles. */
const other = fc.constantFrom(...COMBINATIONS.map(({ id }) => id));
/** A funnel of three sources, one of which has a step of its own. */
const someFunnel: fc.Arbitrary<Funnel> = fc
  .record({ lag: fc.nat(2), opening: amount, enters: fc.nat(1), own: fc.boolean() })
  .map(({ lag, opening, enters, own }) => {
    const later = { lag, opening: Array.from({ length: lag }, () => opening) };
    const call = { name: 'Call', rate: 'conversion', ...later, cost: 'visitCost' };
    return {
      sources: [
        { name: 'Paid visits', kind: 'paid', drivers: ['spend', 'visitCost'], enters: 0 },
        { name: 'Walk-ins', kind: 'typed', drivers: ['grossUnits'], enters },
        {
          name: 'Referrals',
          kind: 'times',
          drivers: ['visits', 'conversion'],
          steps: own ? [call] : [],
          enters: 1,
        },
      ],
      steps: [
        { name: 'Trial', rate: 'conversion', ...later, cost: null },
        { name: 'Customer', rate: 'conversion', lag: 0, opening: [], cost: 'visitCost' },
      ],
    };
  });
const settings: Readonly<Record<Stream['method'], fc.Arbitrary<StreamSettings>>> = {
  amount: fc.constant({}),
  marketShare: fc.constant({}),
  volumePrice: fc.oneof(
    fc.constant({}),
    fc
      .record({ combination: other, from: fc.nat(2), to: fc.integer({ min: 2, max: 5 }) })
      .map((attached) => ({ attached })),
  ),
  growthLastYear: fc.record({ of: fc.constantFrom('units', 'revenue') }),
  growthPeriod: fc.record({
    of: fc.constantFrom('units', 'revenue'),
    base: fc.constantFrom('month', 'quarter'),
  }),
  funnel: someFunnel.map((funnel) => ({ funnel })),
  baseline: fc
    .record({
      of: fc.constantFrom('units', 'revenue'),
      kind: fc.constantFrom('best', ...BASELINE_KINDS),
      settings: fc.constant({}),
    })
    .map((baseline) => ({ baseline })),
  subscription: fc
    .record({
      churn: fc.constantFrom('constant', 'byAge', 'atRenewal', 'whole'),
      rates: fc.constantFrom([0.2, 0.1], [0.5]),
      term: fc.constantFrom(undefined, 3, 12),
      pricePolicy: fc.constantFrom('current', 'keptFromStart', 'atRenewal'),
      billing: fc.constantFrom('monthly', 'yearly'),
      counts: fc.constantFrom(undefined, 'earned', 'billed'),
      opening: fc.constantFrom(undefined, [5, 0, 12]),
    })
    .chain((subscription) =>
      // New ones come out of a funnel, or are a driver.
      fc
        .record({
          funnel: fc.option(someFunnel, { nil: undefined }),
          // Some go over to another stream, which may be a subscription or none.
          changesOver: fc.option(
            fc.record({
              combination: other,
              age: fc.integer({ min: 1, max: 4 }),
              share: fc.constantFrom(0.3, 1),
            }),
            { nil: undefined },
          ),
        })
        .map(({ funnel, changesOver }) => ({
          ...{ subscription, ...(funnel ? { funnel } : {}) },
          ...(changesOver ? { changesOver } : {}),
        })),
    ),
  formula: fc
    .record({
      combination: other,
      measure: fc.constantFrom('units', 'revenue'),
      units: fc.constantFrom(
        'visits * conversion + 1',
        'echo',
        'lag(units, 1) * up',
        'max(3, round(visits * 2%, 0))',
        null,
      ),
      revenue: fc.constantFrom(
        null,
        'lag(that, 1) * 2 + amount',
        'units * listPrice / 2',
        'if(lag(that, 2) > 50, amount, 10)',
        'sum(lag(that, 1), 3) - amount ^ 2 / 100',
      ),
    })
    .map(({ combination, measure, units, revenue }) => ({
      formula: { units, revenue, names: [{ name: 'that', combination, measure }] },
    })),
} as unknown as Record<Stream['method'], fc.Arbitrary<StreamSettings>>;

/** Months that are forecast anew: mostly none. */
const anew: fc.Arbitrary<StreamSettings> = fc.oneof(
  { weight: 3, arbitrary: fc.constant({}) },
  {
    weight: 1,
    arbitrary: fc
      .record({
        of: fc.constantFrom('units' as const, 'revenue' as const),
        kind: fc.constantFrom('best' as const, ...BASELINE_KINDS),
        from: fc.constantFrom('2026-01', '2026-02'),
        to: fc.constantFrom('2026-02', '2026-09'),
        blank: fc.boolean(),
      })
      .map(({ of, kind, from, to, blank }) => ({
        anew: [
          { from, to, baseline: { of, kind, settings: {} } },
          ...(blank ? [{ from: '2026-11', to: '2026-12', baseline: LEFT_BLANK }] : []),
        ],
      })),
  },
);

const stream = fc
  .constantFrom(...(Object.keys(settings) as Stream['method'][]))
  .chain((method) =>
    fc
      .tuple(settings[method], anew)
      .map(([ofMethod, months]) => ({ method, settings: { ...ofMethod, ...months } })),
  );

/** A plan of eight combinations, each by some method, with history, assumptions and overrides. */
export const somePlan: fc.Arbitrary<Plan> = fc
  .record({
    streams: fc.array(stream, { minLength: COMBINATIONS.length, maxLength: COMBINATIONS.length }),
    assumptions: someAssumptions,
    adjustments: someAdjustments,
    sold: fc.array(fc.integer({ min: -5, max: 60 }), { minLength: 96, maxLength: 96 }),
    overrides: fc.array(
      fc.record({
        combination: other,
        month,
        measure: fc.constantFrom('units' as const, 'revenue' as const),
        value: amount,
        by: fc.constant('Ann'),
        why: fc.constant('agreed'),
      }),
      { maxLength: 4 },
    ),
  })
  .map(({ streams, assumptions, adjustments, sold, overrides }) => {
    const rows = sold.map((units, at) => ({
      combination: COMBINATIONS[at % 8]?.id ?? 0,
      month: `2025-${String(1 + Math.floor(at / 8)).padStart(2, '0')}`,
      units,
      revenue: units * 731,
    }));
    const byCell = new Map<string, Override>(
      overrides.map((one) => [`${one.combination} ${one.month} ${one.measure}`, one]),
    );
    return smallPlan(
      assumptions.map((assumption, at) => ({ ...assumption, id: at + 1 })),
      {
        drivers: [...DRIVERS, ...OWN_DRIVERS],
        streams: streams.map((one, at) => ({
          id: at + 1,
          combination: COMBINATIONS[at]?.id ?? 0,
          ...one,
        })),
        actuals: {
          combination: rows.map(({ combination }) => combination),
          month: rows.map((row) => row.month),
          units: rows.map(({ units }) => units),
          revenue: rows.map(({ revenue }) => revenue),
          cost: rows.map(({ units }) => units * 300),
        },
        overrides: [...byCell.values()],
        adjustments: adjustments.map((one, at) => ({ ...one, id: at + 1 })),
      },
    );
  });
