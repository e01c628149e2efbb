import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { change } from '../forecast/change.ts';
import { compile, evaluate, type Model } from '../forecast/run.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { valueIn, type Assumption } from '../drivers/assumption.ts';
import { DRIVERS } from '../drivers/catalogue.ts';
import { checkAssumption } from '../drivers/check.ts';
import { refuseValue } from '../drivers/driver.ts';
import { driverTable } from './driver-table.ts';
import { MISSING } from '../drivers/holding.ts';
import { spreadTyped } from './spread-typed.ts';
import { AssumptionSet, FRESH_ID } from '../drivers/assumption-set.ts';
import { typeValues } from '../drivers/typing.ts';

const WEB_CARAFE_NORTH = [M.web, M.carafe, M.north];
const MARCH = monthFrom('2026-03');

function held(model: Model, driver: string, members: readonly number[], month: string): number {
  const t = monthFrom(month) - model.first;
  return model.drivers.holdings.get(driver)?.series(members).values[t] ?? Number.NaN;
}

function priceOf(assumptions: Assumption[], month = '2026-03'): number {
  return held(compile(smallPlan(assumptions)), 'listPrice', WEB_CARAFE_NORTH, month);
}

describe('which assumption holds', () => {
  it('takes the one with more pinned dimensions, however old', () => {
    const two = assume('listPrice', [M.web, M.north], 7);
    assert.equal(priceOf([two, assume('listPrice', [M.carafe], 9)]), 7);
  });

  it('then the deeper member, dimension by dimension in the workspace order', () => {
    const family = assume('listPrice', [M.hardware], 1);
    const product = assume('listPrice', [M.carafe], 2);
    assert.equal(priceOf([product, family]), 2);
    // The channel comes before the region in the workspace's order.
    const channel = assume('listPrice', [M.web], 3);
    const region = assume('listPrice', [M.north], 4);
    assert.equal(priceOf([channel, region]), 3);
  });

  it('then the later created', () => {
    const older = assume('listPrice', [M.web], 5);
    const newer = assume('listPrice', [M.web], 6);
    assert.equal(priceOf([newer, older]), 6);
  });

  it('looks past an assumption that does not cover the month', () => {
    const spring = assume('listPrice', WEB_CARAFE_NORTH, 30, { from: '2026-04', to: '2026-05' });
    const all = assume('listPrice', [], 20);
    assert.equal(priceOf([spring, all], '2026-03'), 20);
    assert.equal(priceOf([spring, all], '2026-04'), 30);
    assert.equal(priceOf([spring, all], '2026-06'), 20);
  });

  it('never takes a missing input for zero', () => {
    assert.isNaN(priceOf([]));
    const model = compile(smallPlan([]));
    assert.equal(model.inputs[0]?.[0]?.holders[0], MISSING);
  });

  it('shares one series among streams under the same assumptions', () => {
    const model = compile(smallPlan([assume('listPrice', [M.web], 5)]));
    const series = model.inputs.map((inputs) => inputs[1]);
    assert.strictEqual(series[0], series[3]);
    assert.notStrictEqual(series[0], series[4]);
  });

  it('agrees with trying every assumption on every stream', () => {
    const scope = fc
      .tuple(
        fc.constantFrom(null, M.web, M.stores),
        fc.constantFrom(null, M.hardware, M.carafe, M.tap),
        fc.constantFrom(null, M.north, M.coast),
      )
      .map((members) => members.filter((m) => m !== null));
    fc.assert(
      fc.property(fc.array(scope, { maxLength: 12 }), (scopes) => {
        const assumptions = scopes.map((s, i) => assume('listPrice', s, i + 1));
        const plan = smallPlan(assumptions);
        const model = compile(plan);
        const depths = (a: Assumption): number[] =>
          plan.dimensions.map((_, d) =>
            a.scope.reduce(
              (most, m) => (model.tree.dimensionOf(m) === d ? model.tree.depth(m) : most),
              0,
            ),
          );
        for (const { members } of COMBINATIONS) {
          const best = assumptions
            .filter((a) => model.tree.covers(a.scope, members))
            .map((a) => ({ a, rank: [a.scope.length, ...depths(a), a.id] }))
            .sort((x, y) => {
              const at = x.rank.findIndex((value, i) => value !== y.rank[i]);
              return (y.rank[at] ?? 0) - (x.rank[at] ?? 0);
            })[0];
          const value = best ? valueIn(best.a, MARCH) : undefined;
          const got = held(model, 'listPrice', members, '2026-03');
          if (value === undefined) assert.isNaN(got);
          else assert.equal(got, value);
        }
      }),
    );
  });
});

describe('profiles', () => {
  it('hold a step from its month on until the next', () => {
    const steps = {
      kind: 'steps',
      steps: [
        { from: '2026-06', value: 2 },
        { from: '2026-02', value: 1 },
      ],
    } as const;
    const price = assume('listPrice', [], steps);
    assert.deepEqual(
      ['2026-01', '2026-02', '2026-05', '2026-06', '2026-12'].map((m) =>
        valueIn(price, monthFrom(m)),
      ),
      [undefined, 1, 1, 2, 2],
    );
  });
});

describe('refuseValue', () => {
  const [, price, discount] = DRIVERS;
  it('names the bound as people read it', () => {
    if (!price || !discount) throw new Error('no drivers');
    assert.include(refuseValue(price, -5)?.message, '-5 is below the minimum of 0');
    assert.include(refuseValue(discount, 1.2)?.message, '120 % is above the maximum of 100 %');
    assert.isUndefined(refuseValue(discount, 0.2));
    for (const value of [Number.NaN, Infinity, -Infinity, 1e308])
      assert.isDefined(refuseValue(price, value));
  });
});

describe('checkAssumption', () => {
  it('reports every mistake with its field', () => {
    const plan = smallPlan([]);
    const wrong = {
      driver: 'discount',
      scope: [M.web, M.stores, 999],
      from: '2031-01',
      to: '2026-01',
      profile: { kind: 'value', value: 3 },
      note: '',
    } as const;
    const codes = checkAssumption(wrong, plan).map(({ code }) => code);
    assert.sameMembers(codes, [
      'two-members',
      'unknown-member',
      'month-outside',
      'value-refused',
      'ends-before-start',
    ]);
    const [unknown] = checkAssumption({ ...wrong, driver: 'weather' }, plan);
    assert.equal(unknown?.code, 'unknown-driver');
  });
});

describe('typing', () => {
  const type = (
    assumptions: Assumption[],
    scope: readonly number[],
    month: string,
    value: number | null,
  ) => typeValues('listPrice', new AssumptionSet(assumptions), [{ scope, month, value }]);

  it('lays a new assumption on top of any other profile', () => {
    const list = assume('listPrice', [M.web], 20);
    const { put } = type([list], [M.web], '2026-03', 25);
    assert.lengthOf(put, 1);
    assert.isAtLeast(put[0]?.id ?? 0, FRESH_ID);
    assert.equal(priceOf([list, ...put]), 25);
    assert.equal(priceOf([list, ...put], '2026-04'), 20);
  });

  it('goes in place into a value per month', () => {
    const months = assume('listPrice', [M.web], {
      kind: 'months',
      values: { '2026-03': 1, '2026-04': 2 },
    });
    const { put, drop } = type([months], [M.web], '2026-03', 9);
    assert.deepEqual(
      put.map(({ id }) => id),
      [months.id],
    );
    assert.deepEqual(drop, []);
    assert.deepEqual(put[0]?.profile, { kind: 'months', values: { '2026-03': 9, '2026-04': 2 } });
  });

  it('takes back what was typed, and drops what is then empty', () => {
    const months = assume('listPrice', [M.web], { kind: 'months', values: { '2026-03': 1 } });
    assert.deepEqual(type([months], [M.web], '2026-03', null), { put: [], drop: [months.id] });
    assert.deepEqual(type([assume('listPrice', [M.web], 3)], [M.web], '2026-03', null), {
      put: [],
      drop: [],
    });
  });

  it('makes the typed value hold for a stream typed at its own scope', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom('2026-02', '2026-03'), fc.integer({ min: 1, max: 99 })), {
          minLength: 1,
        }),
        (values) => {
          const before = [
            assume('listPrice', WEB_CARAFE_NORTH, 5),
            assume('listPrice', [M.web], 6),
          ];
          const typed = values.map(([month, value]) => ({ scope: WEB_CARAFE_NORTH, month, value }));
          const { put } = typeValues('listPrice', new AssumptionSet(before), typed);
          const last = values.at(-1);
          assert.equal(priceOf([...before, ...put], last?.[0]), last?.[1]);
        },
      ),
    );
  });
});

describe('spreadTyped', () => {
  it('makes the streams add up to the typed total, in whole units', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 500 }), { minLength: 8, maxLength: 8 }),
        fc.integer({ min: 0, max: 100_000 }),
        (units, total) => {
          const typedUnits = COMBINATIONS.map(({ members }, i) =>
            assume('grossUnits', members, units[i] ?? 0),
          );
          const model = compile(smallPlan([...typedUnits, assume('listPrice', [], 1)]));
          const typed = spreadTyped(model, 'grossUnits', {
            scope: [M.web],
            month: '2026-03',
            total,
          });
          assert.isTrue(typed.every(({ value }) => Number.isInteger(value)));
          change(model, typeValues('grossUnits', new AssumptionSet(typedUnits), typed));
          const web = COMBINATIONS.filter(({ members }) => members[0] === M.web);
          const sum = web.reduce(
            (all, { members }) => all + held(model, 'grossUnits', members, '2026-03'),
            0,
          );
          assert.equal(sum, total);
          const stores = COMBINATIONS.findIndex(({ members }) => members[0] === M.stores);
          const [first] = COMBINATIONS.slice(stores);
          assert.equal(held(model, 'grossUnits', first?.members ?? [], '2026-03'), units[stores]);
        },
      ),
    );
  });
});

describe('driverTable', () => {
  const plan = smallPlan([
    assume('grossUnits', [], 10),
    assume('grossUnits', [M.stores], 30),
    assume('listPrice', [], 5),
    assume('discount', [M.web], 0.1),
    assume('discount', [M.stores], 0.3),
  ]);
  const table = (driver: string) =>
    driverTable(evaluate(compile(plan)), {
      driver,
      rows: ['channel'],
      scope: [],
      span: { from: MARCH, to: MARCH },
    });

  it('adds units and weighs rates by volume', () => {
    assert.equal(table('grossUnits')[0]?.values[0], 4 * 10 + 4 * 30);
    const [everything] = table('discount');
    assert.closeTo(everything?.values[0] ?? 0, (40 * 0.1 + 120 * 0.3) / 160, 1e-12);
    assert.equal(everything?.mixed[0], 1);
  });

  it('says which assumption holds and whether it is set at the row itself', () => {
    const rows = table('discount');
    const web = rows.find(({ key }) => key === String(M.web));
    assert.equal(web?.own[0], 1);
    const stream = rows.find(({ leaf }) => leaf);
    assert.equal(stream?.holders[0], web?.holders[0]);
    assert.equal(stream?.own[0], 0);
  });

  it('leaves out closed months', () => {
    const rows = driverTable(compile(plan), {
      driver: 'discount',
      rows: ['channel'],
      scope: [],
      span: { from: monthFrom('2025-11'), to: monthFrom('2026-02') },
    });
    assert.equal(rows[0]?.values.length, 2);
  });
});
