/** What stands above several values of a driver, and what typing there does. */
import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { DRIVERS } from '../drivers/catalogue.ts';
import type { Driver } from '../drivers/driver.ts';
import type { Assumption } from '../drivers/assumption.ts';
import { change } from '../forecast/change.ts';
import type { Plan, Stream } from '../forecast/plan.ts';
import { compile, evaluate, planOf, seriesOfDriver, totalOf, type Model } from '../forecast/run.ts';
import { streamsIn } from '../forecast/structure.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { forecastFacts } from '../tables/facts.ts';
import { marketOf } from '../tables/market.ts';
import { measuredTable } from '../tables/measured.ts';
import { explainFully } from '../trace/explain.ts';
import { evaluateTrace, type TraceNode } from '../trace/trace.ts';
import { driverTable } from './driver-table.ts';
import { referenceOf } from './overview.ts';
import { changeProblems, flattened, typeInto, typedThere, type TypedInput } from './type-into.ts';

const JANUARY = '2026-01';
const AT = monthFrom(JANUARY);
const NOTHING: TypedInput = { values: [], totals: [], changes: [] };

const modelOf = (assumptions: Assumption[], part: Partial<Plan> = {}): Model =>
  evaluate(compile(smallPlan(assumptions, part)));
const type = (model: Model, driver: string, input: Partial<TypedInput>): void => {
  change(model, typeInto(model, driver, { ...NOTHING, ...input }));
};
/** The number of the topmost row of a driver's table in January, and over the window. */
function shown(model: Model, driver: string, to = JANUARY, scope: readonly number[] = []) {
  const span = { from: AT, to: monthFrom(to) };
  const [row] = driverTable(model, { driver, rows: ['channel'], scope, span });
  return { month: row?.values[0] ?? Number.NaN, total: row?.total ?? Number.NaN };
}
const value = (model: Model, driver: string, place: number, month = JANUARY): number =>
  seriesOfDriver(model, place, driver)?.values[monthFrom(month) - model.first] ?? Number.NaN;
const traced = (model: Model, driver: string, scope: readonly number[]): TraceNode =>
  explainFully(model, { kind: 'driver', driver, scope, month: JANUARY }, () =>
    forecastFacts(model),
  );
const own = (part: Partial<Driver> & Pick<Driver, 'code' | 'kind'>): Driver => ({
  name: part.code,
  unit: '',
  minimum: null,
  maximum: null,
  step: null,
  default: null,
  choices: [],
  formula: null,
  ...part,
});

/** Prices that differ from product to product. */
const prices = () => [
  assume('grossUnits', [], 10),
  assume('listPrice', [M.carafe], 100),
  assume('listPrice', [M.tap], 280),
];

describe('a change typed above several values', () => {
  it('changes each value below by it, and the trace says so; taken back it is as before', () => {
    const model = modelOf(prices());
    const before = totalOf(model, 'revenue', [0, 1, 2, 3, 4, 5, 6, 7], { from: AT, to: AT });
    const edit = typeInto(model, 'listPrice', {
      ...NOTHING,
      changes: [{ scope: [M.web], month: JANUARY, kind: 'times', by: 1.04 }],
    });
    change(model, edit);
    assert.equal(value(model, 'listPrice', 0), 104);
    assert.closeTo(value(model, 'listPrice', 2), 291.2, 1e-9);
    assert.equal(value(model, 'listPrice', 4), 100, 'the stores keep theirs');
    assert.equal(value(model, 'listPrice', 0, '2026-02'), 100, 'and so does February');
    const trace = traced(model, 'listPrice', COMBINATIONS[2]?.members ?? []);
    assert.equal(trace.shape, 'product');
    assert.deepEqual(
      trace.parts.map((part) => part.value),
      [280, 1.04],
    );
    const id = edit.adjustments?.put[0]?.id ?? 0;
    assert.deepEqual(trace.parts[1]?.source, { kind: 'adjustment', id });
    const after = totalOf(model, 'revenue', [0, 1, 2, 3, 4, 5, 6, 7], { from: AT, to: AT });
    assert.closeTo(after - before, 0.04 * (before / 2), 1e-9);
    const put = edit.adjustments?.put ?? [];
    change(model, { put: [], drop: [], adjustments: { put: [], drop: put.map(({ id }) => id) } });
    assert.equal(value(model, 'listPrice', 2), 280);
  });

  it('reaches values that a narrower assumption gives', () => {
    const model = modelOf([
      ...prices(),
      assume('discount', [], 0.1),
      assume('discount', [M.web, M.carafe, M.north], 0.2),
    ]);
    type(model, 'discount', {
      changes: [{ scope: [], month: JANUARY, kind: 'plus', by: -0.01 }],
    });
    assert.closeTo(value(model, 'discount', 0), 0.19, 1e-12);
    assert.closeTo(value(model, 'discount', 5), 0.09, 1e-12);
  });

  it('is refused where a value below would leave its bounds, with the bound and the line', () => {
    const model = modelOf([...prices(), assume('discount', [M.web], 0.005)]);
    const [found] = changeProblems(model, 'discount', [
      { scope: [], month: JANUARY, kind: 'plus', by: -0.01 },
    ]);
    assert.match(
      found?.message ?? '',
      /below the minimum of 0 %, for web · carafe · north in 2026-01/,
    );
  });

  it('is made once where a selection holds a row and what lies below it', () => {
    const model = modelOf(prices());
    const change1 = { month: JANUARY, kind: 'times', by: 2 } as const;
    type(model, 'listPrice', {
      changes: [
        { ...change1, scope: [M.carafe] },
        { ...change1, scope: [M.web, M.carafe] },
        { ...change1, scope: [M.carafe] },
      ],
    });
    assert.equal(value(model, 'listPrice', 0), 200);
  });
});

describe('a value typed above several values', () => {
  it('says what it flattens, and sets all of them', () => {
    const model = modelOf(prices());
    assert.deepEqual(flattened(model, 'listPrice', [M.hardware], JANUARY), {
      streams: 8,
      values: 2,
    });
    type(model, 'listPrice', { values: [{ scope: [M.hardware], month: JANUARY, value: 150 }] });
    assert.deepEqual(
      [0, 1, 2, 3].map((place) => value(model, 'listPrice', place)),
      [150, 150, 150, 150],
    );
    assert.equal(typedThere(model, 'listPrice', [M.hardware], JANUARY)?.value, 150);
    type(model, 'listPrice', { values: [{ scope: [M.hardware], month: JANUARY, value: null }] });
    assert.equal(value(model, 'listPrice', 2), 280, 'taken back');
  });

  it('becomes an ordinary assumption where that holds by itself', () => {
    const model = modelOf([assume('grossUnits', [], 10), assume('listPrice', [], 100)]);
    const edit = typeInto(model, 'listPrice', {
      ...NOTHING,
      values: [{ scope: [M.web], month: JANUARY, value: 90 }],
    });
    assert.lengthOf(edit.put, 1);
    assert.isUndefined(edit.adjustments);
  });

  it('holds as it was typed, whatever was typed before', () => {
    const scope = fc.constantFrom(
      [],
      [M.web],
      [M.carafe],
      [M.web, M.carafe, M.north],
      [M.carafe, M.tap],
    );
    const typed = fc.record({
      scope,
      value: fc.integer({ min: 1, max: 99 }),
      change: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(typed, { minLength: 1, maxLength: 6 }), (list) => {
        const model = modelOf(prices());
        for (const { scope: where, value: number, change: times } of list) {
          const by = 1 + number / 100;
          type(
            model,
            'listPrice',
            times
              ? { changes: [{ scope: where, month: JANUARY, kind: 'times', by }] }
              : { values: [{ scope: where, month: JANUARY, value: number }] },
          );
          if (times) continue;
          for (const index of streamsIn(model, where)) {
            assert.equal(value(model, 'listPrice', index), number);
          }
        }
        const anew = evaluate(compile(planOf(model)));
        model.streams.forEach((_, index) =>
          assert.equal(value(model, 'listPrice', index), value(anew, 'listPrice', index)),
        );
      }),
    );
  });

  it('never reaches beyond what is in sight', () => {
    const model = modelOf(prices());
    const rows = driverTable(model, {
      driver: 'listPrice',
      rows: ['product'],
      scope: [M.carafe, M.north],
      span: { from: AT, to: AT },
    });
    const hardware = rows.find(({ label }) => label === 'hardware');
    assert.sameMembers([...(hardware?.scope ?? [])], [M.carafe, M.north]);
    type(model, 'listPrice', {
      values: [{ scope: hardware?.scope ?? [], month: JANUARY, value: 50 }],
    });
    assert.equal(value(model, 'listPrice', 0), 50);
    assert.equal(value(model, 'listPrice', 1), 100, 'the coast is out of sight');
    assert.equal(value(model, 'listPrice', 2), 280, 'and so is the tap');
  });
});

describe('the total row of a driver', () => {
  const streams = (methods: readonly Stream['method'][]): Stream[] =>
    methods.map((method, at) => ({ id: at + 1, combination: COMBINATIONS[at]?.id ?? 0, method }));

  it('weighs prices by the units that the plan computes, of whatever method', () => {
    const first = COMBINATIONS[0]?.members ?? [];
    const second = COMBINATIONS[1]?.members ?? [];
    const model = modelOf(
      [
        assume('grossUnits', first, 1000),
        assume('listPrice', first, 10),
        assume('marketSize', second, 4000),
        assume('marketShare', second, 0.25),
        assume('listPrice', second, 30),
      ],
      { streams: streams(['volumePrice', 'marketShare']) },
    );
    assert.equal(shown(model, 'listPrice').month, 20);
    const trace = traced(model, 'listPrice', []);
    assert.equal(trace.value, 20);
    assert.equal(evaluateTrace(trace), 20);
    assert.equal(trace.weightedBy, 'gross units');
  });

  it('weighs a discount by revenue at list price, and a share by its market', () => {
    const [a = [], b = []] = COMBINATIONS.map(({ members }) => members);
    const model = modelOf(
      [
        assume('grossUnits', [], 100),
        assume('listPrice', a, 10),
        assume('listPrice', b, 30),
        assume('discount', a, 0.4),
      ],
      { streams: streams(['volumePrice', 'volumePrice']) },
    );
    assert.closeTo(shown(model, 'discount').month, (0.4 * 1000) / 4000, 1e-12);
    const shares = modelOf(
      [
        assume('listPrice', [], 1),
        assume('marketSize', a, 100),
        assume('marketSize', b, 300),
        assume('marketShare', a, 0.4),
        assume('marketShare', b, 0.2),
      ],
      { streams: streams(['marketShare', 'marketShare']) },
    );
    assert.closeTo(shown(shares, 'marketShare').month, 0.25, 1e-12);
  });

  it('adds up flows of one’s own, takes the last month of what is there, and weighs as it is told', () => {
    const drivers = [
      ...DRIVERS,
      own({ code: 'visits', kind: 'count', default: 100 }),
      own({ code: 'partners', kind: 'count', nature: 'stock', default: 5 }),
      own({ code: 'share', kind: 'percent', weight: 'visits' }),
      own({ code: 'plain', kind: 'percent' }),
    ];
    const formula = (units: string) => ({ formula: { units, revenue: null, names: [] } });
    const model = modelOf(
      [
        assume('visits', [M.web], 300),
        assume('share', [M.web], 0.1),
        assume('share', [M.stores], 0.5),
        assume('plain', [M.web], 0.1),
        assume('plain', [M.stores], 0.5),
        assume('listPrice', [], 1),
      ],
      {
        drivers,
        streams: COMBINATIONS.map(({ id }, at) => ({
          id: at + 1,
          combination: id,
          method: 'formula',
          settings: formula('visits * share * plain + partners'),
        })),
      },
    );
    assert.deepEqual(shown(model, 'visits', '2026-03'), { month: 1600, total: 4800 });
    assert.deepEqual(shown(model, 'partners', '2026-03'), { month: 40, total: 40 });
    assert.closeTo(shown(model, 'share').month, (300 * 0.1 + 100 * 0.5) / 400, 1e-12);
    assert.closeTo(shown(model, 'plain').month, 0.3, 1e-12);
    assert.equal(traced(model, 'plain', []).weightedBy, 'nothing: all weigh the same');
    assert.equal(traced(model, 'share', []).weightedBy, 'visits');
  });

  it('has a grid also where only formulas, or nothing, read the driver', () => {
    const drivers = [
      ...DRIVERS,
      own({ code: 'spend', kind: 'money', default: 50 }),
      own({ code: 'visits', kind: 'count', formula: 'spend / 2', unit: 'units' }),
    ];
    const model = modelOf([assume('listPrice', [], 1), assume('marketSize', [], 900)], {
      drivers,
      streams: [
        {
          id: 1,
          combination: 100,
          method: 'formula',
          settings: { formula: { units: 'lag(units, 1) + 1', revenue: null, names: [] } },
        },
      ],
    });
    assert.equal(shown(model, 'spend').month, 50);
    assert.equal(shown(model, 'marketSize').month, 900);
  });
});

describe('an annual total', () => {
  const profile = {
    kind: 'annual',
    totals: { '2026-01': 1200 },
    weights: new Array<number>(12).fill(1),
  } as const;
  const sold = {
    combination: [100, 101],
    month: ['2025-11', '2025-12'],
    units: [30, 10],
    revenue: [0, 0],
    cost: [0, 0],
  };

  it('of a scope is divided over its streams by what they sold, and typed over is spread', () => {
    const model = modelOf([assume('grossUnits', [M.web], profile), assume('listPrice', [], 1)], {
      actuals: sold,
    });
    assert.equal(value(model, 'grossUnits', 0), 75);
    assert.equal(value(model, 'grossUnits', 1), 25);
    assert.equal(value(model, 'grossUnits', 2), 0);
    assert.equal(shown(model, 'grossUnits', '2026-12', [M.web]).total, 1200);
    assert.closeTo(evaluateTrace(traced(model, 'grossUnits', [M.web])) ?? 0, 100, 1e-9);
  });

  it('is divided equally where nothing was sold, and given to each where that is chosen', () => {
    const equal = modelOf([assume('grossUnits', [M.web], profile), assume('listPrice', [], 1)]);
    assert.equal(value(equal, 'grossUnits', 3), 25);
    const each = modelOf([
      assume('grossUnits', [M.web], { ...profile, each: true }),
      assume('listPrice', [], 1),
    ]);
    assert.equal(value(each, 'grossUnits', 3), 100);
  });
});

describe('what the books say', () => {
  const actuals = {
    combination: [100, 100, 107, 107],
    month: ['2024-06', '2025-06', '2024-06', '2025-06'],
    units: [10, 10, 10, 30],
    revenue: [10_000, 10_000, 10_000, 60_000],
    cost: [4000, 4000, 1000, 5000],
  };
  const calendar = { ...smallPlan([]).calendar, first: '2024-01' };
  const [only] = smallPlan([]).streams;
  const model = modelOf([assume('grossUnits', [], 1), assume('listPrice', [], 1)], {
    actuals,
    calendar,
    streams: only ? [only] : [],
  });

  it('is of everything in scope, forecast or not', () => {
    assert.equal(
      referenceOf(model, 'growth', [])?.lastYear,
      null,
      'no year before the year before',
    );
    assert.closeTo(referenceOf(model, 'listPrice', [])?.lastYear ?? 0, 700 / 40, 1e-12);
    assert.closeTo(referenceOf(model, 'grossUnits', [])?.lastYear ?? 0, 40 / 12, 1e-12);
    assert.closeTo(referenceOf(model, 'unitCost', [])?.lastYear ?? 0, 90 / 40, 1e-12);
    assert.closeTo(referenceOf(model, 'costShare', [])?.lastYear ?? 0, 90 / 700, 1e-12);
  });

  it('takes a discount out of the net price once: 9,000 at ten percent is 9,000 next year', () => {
    const sold = {
      combination: [100],
      month: ['2025-06'],
      units: [100],
      revenue: [900_000],
      cost: [0],
    };
    const repeated = modelOf(
      [
        assume('grossUnits', [], 100),
        assume('discount', [], 0.1),
        assume('listPrice', [], { kind: 'lastYear', growth: 0 }),
      ],
      { actuals: sold },
    );
    const june = monthFrom('2026-06') - repeated.first;
    assert.closeTo(repeated.results.revenue[0]?.[june] ?? 0, 9000, 1e-9);
  });

  it('counts a market within a market once', () => {
    const market = [
      assume('marketSize', [], 1000),
      assume('marketSize', [M.carafe], 300),
      assume('grossUnits', [], 10),
      assume('listPrice', [], 1),
    ];
    const nested = modelOf(market);
    const table = measuredTable(
      forecastFacts(nested),
      marketOf(nested),
      nested.tree,
      {
        measures: ['marketSize', 'shareOfMarket'],
        rows: ['product'],
        columns: 'time',
        grain: 'month',
        scope: [],
        span: { from: AT, to: AT },
      },
      1,
    );
    assert.deepEqual(
      table.totals.map(({ total }) => total.value),
      [1000, 0.08],
    );
    assert.equal(shown(nested, 'marketSize').month, 1000);
    const facts = [
      { measure: 'market', nature: 'flow', scope: [], months: ['2025-12'], values: [1000] },
      { measure: 'market', nature: 'flow', scope: [M.carafe], months: ['2025-12'], values: [300] },
    ] as const;
    const drivers = DRIVERS.map((one) =>
      one.code === 'marketSize' ? { ...one, history: { measure: 'market', per: null } } : one,
    );
    const measured = modelOf(market, { facts, drivers });
    const { closed } = measured;
    const all = closed.members;
    assert.equal(closed.facts.together('market', all).at(-1), 1000);
  });
});

describe('cost of sales', () => {
  it('is net units at unit cost where there is one, else a share of revenue, else no value', () => {
    const model = modelOf([
      assume('grossUnits', [], 100),
      assume('returnRate', [], 0.1),
      assume('listPrice', [], 10),
      assume('unitCost', [M.web], 4),
      assume('costShare', [M.carafe], 0.3),
    ]);
    const cost = (place: number): number => model.results.cost[place]?.[model.open] ?? Number.NaN;
    assert.closeTo(cost(0), 90 * 4, 1e-9, 'the unit cost goes before the share');
    assert.closeTo(cost(4), 900 * 0.3, 1e-9);
    assert.isNaN(cost(6));
  });
});
