/** What stands above several values of a driver. */
import { assert } from 'chai';
import { monthFrom } from '../calendar/month.ts';
import { DRIVERS } from '../drivers/catalogue.ts';
import type { Stream } from '../forecast/plan.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { forecastFigures } from '../tables/figures.ts';
import { marketOf } from '../tables/market.ts';
import { measuredTable } from '../tables/measured.ts';
import { evaluateTrace } from '../trace/trace.ts';
import { referenceOf } from './overview.ts';
import { AT, modelOf, shown, value, traced } from '../testing/driver-rows.ts';
import { own } from '../testing/own-driver.ts';

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
      forecastFigures(nested),
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
