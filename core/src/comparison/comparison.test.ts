import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import { Replacements } from '../dimensions/successors.ts';
import { compile } from '../forecast/run.ts';
import { ACTUAL, FORECAST, LAST_YEAR, nameOfSource, sourceNamed } from '../sources/source.ts';
import { versionSource, YEAR_BEFORE_LAST, type Source } from '../sources/source.ts';
import { roundedTogether } from '../spread/rounded-together.ts';
import { actualFigures, figuresFromRows, type Figures } from '../tables/figures.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { bridgeOf, REVENUE_STEPS, shownSteps } from './bridge.ts';
import { compare } from './compare.ts';
import { largestDifferences } from './largest.ts';
import { SUBSCRIBER_SERIES, type SubscriberFigures } from '../subscriptions/figures.ts';
import { attribution, DRIVER_STEPS, driverBridgeOf } from './by-driver.ts';
import { compareAndExplain } from './explained.ts';
import { coverageOf, inAll } from './coverage.ts';
import { TargetScopes } from '../targets/target-of-scope.ts';
import { stillToGo } from './still-to-go.ts';
import { isMaterial, varianceOf } from './variance.ts';

const plan = smallPlan([]);
const model = compile(plan);
const { tree } = model;
const sold = (figures: Figures) => ({ source: ACTUAL, figures });
const planned = (figures: Figures) => ({ source: versionSource(1), figures });
const JANUARY = monthFrom('2025-01');
const months = (from: string, to: string) => ({ from: monthFrom(from), to: monthFrom(to) });

const someRows = fc.array(
  fc.record({
    combination: fc.constantFrom(...COMBINATIONS.map(({ id }) => id)),
    month: fc.integer({ min: 0, max: 11 }).map((t) => JANUARY + t),
    units: fc.integer({ min: -3, max: 40 }),
    revenue: fc.integer({ min: -900, max: 90_000 }),
    cost: fc.constant(null),
  }),
  { maxLength: 30 },
);

describe('what matters of differences', () => {
  it('reaches the amount and the share; without a share the amount, of no money the share', () => {
    const least = { amount: 1000, share: 0.05 };
    const of = (amount: number, plan: number, display: 'money' | 'units' = 'money'): boolean =>
      isMaterial(varianceOf(plan + amount, plan, 'moreIsGood'), display, least);
    assert.isTrue(of(-1000, 20_000));
    assert.isFalse(of(999, 1000), 'too small an amount');
    assert.isFalse(of(5000, 200_000), 'too small a share');
    assert.isTrue(of(1000, 0), 'nothing was planned');
    assert.isFalse(of(999, 0));
    assert.isTrue(of(5, 100, 'units'));
    assert.isFalse(of(4, 100, 'units'));
    assert.isFalse(of(0, 100));
  });
});

describe('a comparison of any two sources', () => {
  it('says why revenue differs by steps that add up, in any cut, exact and as shown', () => {
    fc.assert(
      fc.property(
        someRows,
        someRows,
        fc.subarray(['channel', 'product', 'region'], { minLength: 1 }),
        fc.constantFrom([], [M.web], [M.hardware], [M.web, M.tap]),
        fc.constantFrom(1, 1000),
        (some, others, rows, scope, unit) => {
          const [actual, kept] = [figuresFromRows(plan, some), figuresFromRows(plan, others)];
          const span = months('2025-01', '2025-12');
          const query = { measure: 'revenue', rows, scope, span } as const;
          const { bridge, drivers, total } = compareAndExplain(
            model,
            sold(actual),
            planned(kept),
            query,
            span,
          );
          assert.isNotNull(bridge);
          if (!bridge || !total) return;
          const steps = REVENUE_STEPS.reduce((all, step) => all + bridge[step], 0);
          assert.closeTo(bridge.plan + steps, bridge.actual, 1e-6);
          assert.closeTo(bridge.plan, total.plan.value ?? NaN, 1e-6);
          assert.closeTo(bridge.actual, total.actual.value ?? NaN, 1e-6);
          const byDriver = DRIVER_STEPS.reduce((all, step) => all + (drivers?.[step] ?? NaN), 0);
          assert.closeTo(byDriver, bridge.actual - bridge.plan, 1e-6);
          const shown = shownSteps(bridge, REVENUE_STEPS, unit);
          const all = REVENUE_STEPS.reduce((sum, step) => sum + shown[step], shown.plan);
          assert.equal(all, shown.actual);
          for (const step of REVENUE_STEPS) {
            assert.isBelow(Math.abs(shown[step] - bridge[step]), 2 * unit, step);
          }
        },
      ),
    );
  });

  it('counts by the rows that are asked for: what is mix of products is price of channels', () => {
    const row = (combination: number, units: number, euros: number) => ({
      ...{ combination, month: JANUARY, units, revenue: euros * 100, cost: null },
    });
    // Ten carafes at 10 and ten taps at 20 were planned; five and fifteen were sold.
    const [carafe, tap] = [100, 102];
    const planned = figuresFromRows(plan, [row(carafe, 10, 100), row(tap, 10, 200)]);
    const sold = figuresFromRows(plan, [row(carafe, 5, 50), row(tap, 15, 300)]);
    const of = (by: string[]) =>
      bridgeOf(sold, planned, tree, { by, scope: [], span: months('2025-01', '2025-01') });
    assert.deepInclude(of(['product']), { plan: 300, volume: 0, mix: 50, price: 0, actual: 350 });
    assert.deepInclude(of(['channel']), { plan: 300, volume: 0, mix: 0, price: 50, actual: 350 });
    const other = figuresFromRows(plan, [row(carafe, 10, 100), row(103, 4, 90)]);
    assert.deepInclude(
      bridgeOf(other, planned, tree, {
        ...{ by: ['product', 'region'], scope: [], span: months('2025-01', '2025-01') },
      }),
      { new: 90, newItems: 1, discontinued: -200, discontinuedItems: 1, price: 0, volume: 0 },
    );
  });

  it('shows what replaces what as pairs, where one of them begins or ends', () => {
    const row = (combination: number, units: number, euros: number) => ({
      ...{ combination, month: JANUARY, units, revenue: euros * 100, cost: null },
    });
    const dimensions = plan.dimensions.map((dimension) => ({
      ...dimension,
      members: dimension.members.map((one) =>
        one.id === M.tap ? { ...one, replaces: M.carafe } : one,
      ),
    }));
    const told = new MemberTree(dimensions);
    const [carafe, tap] = [100, 102];
    const planned = figuresFromRows(plan, [row(carafe, 10, 100)]);
    const both = figuresFromRows(plan, [row(carafe, 2, 20), row(tap, 15, 300)]);
    const asked = { by: ['product'], scope: [], span: months('2025-01', '2025-01') };
    const paired = bridgeOf(both, planned, told, asked);
    assert.deepInclude(paired, {
      ...{ plan: 100, actual: 320, replaced: 220, new: 0, discontinued: 0, volume: 0, newItems: 0 },
      pairs: [{ name: 'tap for carafe', plan: 100, actual: 320 }],
    });
    const query = { measure: 'revenue', rows: ['channel', 'product'], scope: [] } as const;
    const { rows } = compare(both, planned, told, { ...query, span: asked.span }, asked.span);
    const everything = { amount: 0, share: 0 };
    const named = (of: MemberTree) =>
      largestDifferences(rows, of, 'revenue', everything, 8).map(({ label, where, amount }) => [
        label,
        where,
        amount,
      ]);
    assert.deepEqual(named(told), [['tap for carafe', 'web', 220]]);
    assert.deepEqual(named(tree), [
      ['tap', 'web', 300],
      ['carafe', 'web', -80],
    ]);
    assert.deepEqual(largestDifferences(rows, told, 'revenue', { amount: 221, share: 0 }, 8), []);
    const untold = bridgeOf(both, planned, tree, asked);
    assert.deepInclude(untold, { replaced: 0, pairs: [], new: 300, volume: -80 });
    // Where both are sold on both sides they are two items like any other.
    const always = figuresFromRows(plan, [row(carafe, 5, 50), row(tap, 5, 80)]);
    assert.deepInclude(bridgeOf(both, always, told, asked), { replaced: 0, pairs: [] });
    const replacements = new Replacements(told.dimensions[1]?.members ?? []);
    assert.equal(replacements.whyNot(M.tap, M.tap), 'it cannot replace itself');
    assert.include(replacements.whyNot(M.carafe, M.tap), 'in turn');
    assert.include(replacements.whyNot(M.plans, M.carafe), 'already');
    assert.isUndefined(replacements.whyNot(M.plans, M.tap));
  });

  it('explains a subscription by who was there, came and left, where both sides know it', () => {
    const place = 0;
    const { first, count } = figuresFromRows(plan, []);
    const t = JANUARY - first;
    const side = (source: Source, numbers: Record<string, number>) => {
      const cell = { combination: 100, month: JANUARY, units: numbers['active'] ?? 0, cost: null };
      const revenue = (numbers['recurring'] ?? 0) * 100;
      const of = Object.fromEntries(
        SUBSCRIBER_SERIES.map((code) => {
          const series = new Float64Array(COMBINATIONS.length * count);
          series[place * count + t] = numbers[code] ?? 0;
          return [code, series];
        }),
      ) as SubscriberFigures['of'];
      const figures = figuresFromRows(plan, [{ ...cell, revenue }]);
      return {
        source,
        figures: { ...figures, subscribers: () => ({ count, of, places: new Set([place]) }) },
      };
    };
    const span = months('2025-01', '2025-01');
    const then = { opening: 100, lost: 10, starters: 20, active: 110, recurring: 1100 };
    const now = { opening: 120, lost: 24, starters: 10, active: 106, recurring: 1272 };
    const [before, is] = [side(versionSource(1), then), side(ACTUAL, now)];
    const found = driverBridgeOf(model, is, before, { scope: [], span });
    assert.isNotNull(found);
    if (!found) return;
    assert.closeTo(
      DRIVER_STEPS.reduce((all, step) => all + found[step], 0),
      172,
      1e-9,
    );
    assert.isAbove(found.subscribersBefore, 0);
    assert.isBelow(found.churnRate, 0);
    assert.isBelow(found.newSubscribers, 0);
    assert.isAbove(found.listPrice, 0);
    assert.deepInclude(found, { grossUnits: 0, returnRate: 0, notExplained: 0 });
    // A payment of a year in advance is no payment of the month: units explain it, as of anything.
    const ahead = side(ACTUAL, { ...now, recurring: 106 });
    const paid = { ...ahead, figures: { ...is.figures, subscribers: ahead.figures.subscribers } };
    const other = driverBridgeOf(model, paid, before, { scope: [], span });
    assert.deepInclude(other, { subscribersBefore: 0, churnRate: 0, newSubscribers: 0 });
    assert.isBelow(other?.grossUnits ?? 0, 0);
  });

  it('compares only the months that both sides have', () => {
    const { calendar } = plan;
    const version = (id: number) => (id === 3 ? months('2025-04', '2026-03') : undefined);
    const covers = (source: Source) => coverageOf(source, calendar, version);
    assert.deepEqual(covers(ACTUAL), months('2025-01', '2025-12'));
    assert.deepEqual(covers(FORECAST), months('2025-01', '2026-12'));
    assert.deepEqual(covers(LAST_YEAR), months('2026-01', '2026-12'));
    assert.deepEqual(covers(YEAR_BEFORE_LAST), months('2027-01', '2027-12'));
    assert.isUndefined(covers(versionSource(4)));
    assert.deepEqual(
      inAll([covers(ACTUAL), covers(versionSource(3))]),
      months('2025-04', '2025-12'),
    );
    assert.isUndefined(inAll([covers(ACTUAL), covers(LAST_YEAR)]));
    const none = figuresFromRows(plan, []);
    const query = { measure: 'revenue', rows: ['channel'], scope: [] } as const;
    const asked = { ...query, span: months('2025-01', '2025-12') };
    const cut = compareAndExplain(
      model,
      sold(none),
      planned(none),
      asked,
      months('2025-04', '2026-03'),
    );
    assert.deepInclude(cut, { span: months('2025-04', '2025-12'), cut: true });
    const apart = compareAndExplain(model, sold(none), planned(none), asked, undefined);
    assert.deepInclude(apart, { span: null, cut: true, bridge: null });
  });

  it('says what is still to go, beside the best month so far', () => {
    const sold = (month: string, euros: number) => ({
      ...{ combination: 100, month: monthFrom(month), units: 1, revenue: euros * 100, cost: null },
    });
    const actual = figuresFromRows(plan, [sold('2025-03', 70), sold('2025-07', 90)]);
    const planned = figuresFromRows(plan, [sold('2025-07', 100), sold('2026-02', 500)]);
    const query = { measure: 'revenue', rows: ['channel'], scope: [] } as const;
    const year = months('2025-07', '2026-06');
    const asked = (of: 'revenue' | 'averagePrice', closed: string) =>
      stillToGo(actual, planned, tree, { ...query, measure: of }, year, monthFrom(closed));
    assert.deepEqual(asked('revenue', '2025-12'), {
      ...{ left: 510, months: 6, each: 85, best: { month: monthFrom('2025-07'), value: 90 } },
    });
    assert.deepInclude(asked('revenue', '2025-06'), { left: 600, months: 12 });
    assert.isNull(asked('revenue', '2026-06'), 'a closed year');
    assert.isNull(asked('averagePrice', '2025-12'), 'prices do not add up');
  });

  it('names its sources in addresses', () => {
    for (const source of [
      ...[ACTUAL, FORECAST, LAST_YEAR, YEAR_BEFORE_LAST, versionSource(12)],
      versionSource(3, '2026-11-20T10:00:00Z'),
    ]) {
      assert.deepEqual(sourceNamed(nameOfSource(source) ?? ''), source);
    }
    for (const text of [
      '',
      'target',
      'version:',
      'version:0',
      'version:x',
      'version:3@2026-11-20',
      'version:3@2026-19-20T10:00:00Z',
      'toString',
    ]) {
      assert.isUndefined(sourceNamed(text), text);
    }
  });

  it('rounds numbers so that they add up, none of them further than to its neighbours', () => {
    assert.deepEqual(roundedTogether([1.4, 1.4, -0.3], 3), [2, 1, 0]);
    fc.assert(
      fc.property(
        fc.array(
          fc.integer({ min: -5000, max: 5000 }).map((n) => n / 10),
          {
            minLength: 1,
            maxLength: 8,
          },
        ),
        (values) => {
          const sum = Math.round(values.reduce((all, value) => all + value, 0));
          const rounded = roundedTogether(values, sum);
          assert.equal(
            rounded.reduce((all, value) => all + value, 0),
            sum,
          );
          rounded.forEach((value, at) => {
            assert.isAtMost(Math.abs(value - (values[at] ?? 0)), 1 + 1e-9);
          });
        },
      ),
    );
  });

  it('holds further sources and a target beside, each with its own difference, by the same rows', () => {
    const row = (combination: number, revenue: number) => ({
      ...{ combination, month: JANUARY, units: 1, revenue, cost: null },
    });
    const [web, stores] = [M.web, M.stores].map(
      (channel) => COMBINATIONS.find(({ members }) => members.includes(channel))?.id ?? 0,
    );
    const [actual, kept, before] = [
      [row(web ?? 0, 100_00)],
      [row(web ?? 0, 90_00)],
      [row(web ?? 0, 80_00), row(stores ?? 0, 5_00)],
    ].map((rows) => figuresFromRows(plan, rows));
    if (!actual || !kept || !before) throw new Error('Three sides');
    const node = (id: number, scope: number[], cents: number) => ({
      ...{ id, parent: id === 1 ? null : 1, name: `n${id}`, counts: { scope, account: null } },
      months: Array.from({ length: 12 }, () => cents),
    });
    const parts = {
      fiscalYear: 2025,
      measure: 'revenue',
      nodes: [
        node(1, [], 200_00),
        node(2, [M.web, M.north], 60_00),
        node(3, [M.web, M.coast], 50_00),
      ],
    } as const;
    const target = new TargetScopes(parts, tree, plan.combinations, {
      ...{ fiscalStart: 1, minorDigits: 2 },
    });
    const span = months('2025-01', '2025-01');
    const query = { measure: 'revenue', rows: ['channel'], scope: [], span } as const;
    const made = compareAndExplain(model, sold(actual), planned(kept), query, span, [
      before,
      target,
    ]);
    const told = [...made.rows, ...(made.total ? [made.total] : [])].map(
      ({ label, variance, beside }) => [
        label,
        variance?.amount,
        ...beside.flatMap((held) => [held.plan.value, held.variance?.amount ?? null]),
      ],
    );
    assert.deepEqual(told, [
      ['web', 10, 80, 20, 110, -10],
      // Nothing of the tree counts all of the stores: there is no target, and no 0.
      ['stores', 0, 5, -5, null, null],
      ['Revenue', 10, 85, 15, 200, -100],
    ]);
    assert.deepEqual(
      made.rows[0]?.beside[1]?.of?.map(({ name }) => name),
      ['n2', 'n3'],
    );
    const { bridge, ...alone } = compareAndExplain(model, sold(actual), planned(kept), query, span);
    assert.deepEqual(bridge, made.bridge);
    assert.deepEqual(
      alone.rows.map(({ key }) => key),
      made.rows.filter(({ label }) => label === 'web').map(({ key }) => key),
    );
  });

  it('has of a target the months of its year only, and of customers’ parts nothing', () => {
    const parts = {
      fiscalYear: 2025,
      measure: 'revenue',
      nodes: [
        {
          ...{ id: 1, parent: null, name: 'all', counts: { scope: [], account: null } },
          months: Array.from({ length: 12 }, (_, month) => (month + 1) * 100),
        },
        {
          ...{ id: 2, parent: 1, name: 'one', counts: { scope: [M.web], account: 'C1' } },
          months: Array.from({ length: 12 }, () => 100),
        },
      ],
    } as const;
    const asked = { fiscalStart: 1, minorDigits: 2 };
    const target = new TargetScopes(parts, tree, plan.combinations, asked);
    assert.equal(target.of([], months('2025-02', '2025-04'))?.value, 2 + 3 + 4);
    assert.isNull(target.of([], months('2025-12', '2026-01')));
    assert.isNull(target.of([M.web], months('2025-02', '2025-02')));
    const stock = new TargetScopes(
      { ...parts, measure: 'recurringRevenue' },
      ...([tree, plan.combinations, asked] as const),
    );
    assert.equal(stock.of([], months('2025-02', '2025-04'))?.value, 4, 'what is there at the end');
  });

  it('divides a change among drivers by the mean over all orders of switching them', () => {
    const orders = (names: readonly string[]): string[][] =>
      names.length === 0
        ? [[]]
        : names.flatMap((first) =>
            orders(names.filter((one) => one !== first)).map((rest) => [first, ...rest]),
          );
    const factor = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(factor, factor), { minLength: 1, maxLength: 5 }), (pairs) => {
        const names = pairs.map((_, place) => `d${place}`);
        const valueOf = (isNow: (name: string) => boolean): number =>
          pairs.reduce((all, [was, is], place) => all * (isNow(`d${place}`) ? is : was) + place, 1);
        const effects = attribution(names)(valueOf);
        const all = orders(names);
        for (const name of names) {
          const mean =
            all.reduce((sum, order) => {
              const before = order.slice(0, order.indexOf(name));
              const after = (one: string): boolean => before.includes(one) || one === name;
              return sum + valueOf(after) - valueOf((one) => before.includes(one));
            }, 0) / all.length;
          assert.closeTo(effects[name] ?? NaN, mean, 1e-9);
        }
        const sum = names.reduce((total, name) => total + (effects[name] ?? NaN), 0);
        assert.closeTo(sum, valueOf(() => true) - valueOf(() => false), 1e-9);
      }),
    );
    assert.throws(() => attribution(Array.from({ length: 9 }, (_, at) => `d${at}`)), RangeError);
  });

  it('says by driver why revenue differs: what is assumed of a plan, what sales say of what was', () => {
    const [first, second] = COMBINATIONS;
    const month = '2025-01';
    const sales = {
      combination: [first?.id ?? 0, second?.id ?? 0],
      month: [month, month],
      units: [90, 5],
      revenue: [3600_00, 500_00],
      cost: [0, 0],
      returned: [30, 0],
    };
    const within = compile(
      smallPlan(
        [
          assume('listPrice', [], 50, { from: month }),
          assume('discount', [], 0.1, { from: month }),
          assume('returnRate', [], 0.2, { from: month }),
        ],
        {
          actuals: sales,
          streams: [{ id: 1, combination: first?.id ?? 0, method: 'volumePrice' }],
        },
      ),
    );
    const rows = (units: number, cents: number) =>
      figuresFromRows(within.plan, [
        ...[{ combination: first?.id ?? 0, month: JANUARY, units, revenue: cents, cost: null }],
      ]);
    const { drivers } = compareAndExplain(
      within,
      sold(actualFigures(within.plan)),
      planned(rows(80, 3600_00)),
      { measure: 'revenue', rows: ['channel'], scope: [], span: months(month, month) },
      months(month, month),
    );
    // 100 gross, of which 80 stay, at 50 less 10 %; then 120, of which 90 stay, less 20 %.
    const made = attribution(['gross', 'back', 'off'])((isNow) => {
      const gross = isNow('gross') ? 120 : 100;
      const stay = isNow('back') ? 0.75 : 0.8;
      return gross * stay * 50 * (isNow('off') ? 0.8 : 0.9);
    });
    assert.closeTo(drivers?.grossUnits ?? NaN, made.gross, 1e-9);
    assert.closeTo(drivers?.returnRate ?? NaN, made.back, 1e-9);
    assert.closeTo(drivers?.discount ?? NaN, made.off, 1e-9);
    assert.closeTo(drivers?.listPrice ?? NaN, 0, 1e-9);
    assert.closeTo(drivers?.notExplained ?? NaN, 500, 1e-9, 'nothing of it was planned');
  });
});
