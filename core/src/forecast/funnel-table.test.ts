import { assert } from 'chai';
import { DRIVERS } from '../drivers/catalogue.ts';
import { own } from '../testing/own-driver.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { funnelChain } from './funnel-chain.ts';
import { funnelTable, TYPED_OVER, type FunnelLine } from './funnel-table.ts';
import { UNDER_WAY } from './methods/funnel.ts';
import { compile, evaluate, type Model } from './run.ts';
import type { Funnel, Override } from './plan.ts';

const FUNNEL: Funnel = {
  sources: [
    { name: 'Visits', kind: 'typed', drivers: ['visits'], enters: 0 },
    { name: 'Referrals', kind: 'times', drivers: ['asked', 'yield'], enters: 1 },
  ],
  steps: [
    { name: 'Trial', rate: 'trial', lag: 0, opening: [], cost: 'kit' },
    { name: 'Buyer', rate: 'buy', lag: 2, opening: [40, 50], cost: null },
  ],
};

function modelOf(overrides: readonly Override[] = []): Model {
  const plan = smallPlan(
    [
      assume('visits', [], 1000),
      assume('asked', [], 100),
      assume('yield', [], 0.2),
      assume('trial', [], 0.1),
      assume('buy', [], 0.5),
      assume('kit', [], 3),
      assume('listPrice', [], 20),
      assume('returnRate', [], 0.1),
      assume('grossUnits', [], 1),
    ],
    {
      drivers: [
        ...DRIVERS,
        ...['visits', 'asked'].map((code) => own({ code: code, kind: 'count' })),
        ...['yield', 'trial', 'buy'].map((code) => own({ code: code, kind: 'percent' })),
        own({ code: 'kit', kind: 'moneyPerUnit' }),
      ],
      overrides,
    },
  );
  const streams = plan.streams.map((stream, place) =>
    place < 2 ? { ...stream, method: 'funnel' as const, settings: { funnel: FUNNEL } } : stream,
  );
  return evaluate(compile({ ...plan, streams }));
}

describe('the chain of funnels', () => {
  it('has what enters, passes and comes out in a month, of all streams of the scope', () => {
    const model = modelOf();
    const { sources, steps, out, streams } = funnelChain(model, [], model.first + model.open);
    assert.deepEqual([streams, out], [2, 40]);
    assert.deepEqual(
      sources.map(({ name, brings, enters }) => [name, brings, enters]),
      [
        ['Visits', 2000, 0],
        ['Referrals', 40, 1],
      ],
    );
    assert.deepEqual(steps, [
      { name: 'Trial', driver: 'trial', lag: 0, came: 2000, passed: 200, rate: 0.1 },
      { name: 'Buyer', driver: 'buy', lag: 2, came: 80, passed: 40, rate: 0.5 },
    ]);
    // Two months later those who tried in the first one come, referred ones among them.
    const later = funnelChain(model, [], model.first + model.open + 2);
    assert.equal(later.steps[1]?.came, 240);
    assert.equal(funnelChain(model, [M.stores], model.first + model.open).streams, 0);
  });
});

describe('the table of funnels', () => {
  const span = (model: Model) => ({ from: model.first, to: model.first + model.count - 1 });
  const find = (lines: readonly FunnelLine[], kind: FunnelLine['kind'], name: string) =>
    lines.find((line) => line.kind === kind && line.name === name);

  it('adds up sources, steps, costs and what each source brings, over open months only', () => {
    const model = modelOf();
    const { lines, periods, streams } = funnelTable(model, [], span(model), 'quarter');
    assert.equal(streams, 2);
    assert.lengthOf(periods, 4, 'the closed year has no funnel');
    assert.deepEqual(find(lines, 'source', 'Visits')?.values, [6000, 6000, 6000, 6000]);
    assert.equal(find(lines, 'source', 'Referrals')?.total, 2 * 12 * 20);
    // 100 of 1000 visits and 20 referred are trials; those of visits cost a kit each.
    assert.equal(find(lines, 'step', 'Trial')?.total, 2 * 12 * 120);
    assert.equal(find(lines, 'cost', 'Trial')?.total, 2 * 12 * 100 * 3);
    assert.closeTo(find(lines, 'step', 'Trial')?.rates[0] ?? 0, 0.1, 1e-12);
    assert.closeTo(find(lines, 'step', 'Buyer')?.rates[3] ?? 0, 0.5, 1e-12);
    // In the first two months buyers come from what was under way.
    const under = find(lines, 'units', UNDER_WAY);
    assert.closeTo(under?.values[0] ?? 0, 2 * (40 + 50) * 0.5 * 0.9, 1e-9);
    assert.closeTo(under?.values[1] ?? NaN, 0, 1e-9);
  });

  it('gives sources and what was under way that add up to the streams', () => {
    const model = modelOf();
    const { lines } = funnelTable(model, [], span(model), 'year');
    for (const kind of ['units', 'revenue'] as const) {
      const brought = lines.filter((line) => line.kind === kind);
      const sum = brought.reduce((all, { total }) => all + (total ?? 0), 0);
      let wanted = 0;
      for (const index of [0, 1]) {
        for (let t = model.open; t < model.count; t += 1) {
          wanted += model.results[kind][index]?.[t] ?? NaN;
        }
      }
      assert.closeTo(sum, wanted, 1e-6);
    }
  });

  it('tells what is typed over apart from what the funnel brings', () => {
    const [first] = COMBINATIONS;
    const typed = {
      combination: first?.id ?? 0,
      month: '2026-03',
      measure: 'units',
      value: 500,
      by: 'Mara',
      why: '',
    } as const;
    const model = modelOf([typed]);
    const { lines } = funnelTable(model, [], span(model), 'year');
    assert.closeTo(find(lines, 'units', TYPED_OVER)?.total ?? 0, 500 - 120 * 0.5 * 0.9, 1e-9);
    const plain = funnelTable(modelOf(), [], span(model), 'year');
    assert.equal(
      find(lines, 'units', 'Visits')?.total,
      find(plain.lines, 'units', 'Visits')?.total,
    );
  });

  it('has nothing where there is no funnel, and no value where an input is missing', () => {
    const model = modelOf();
    const [, , third] = COMBINATIONS;
    assert.equal(funnelTable(model, third?.members ?? [], span(model), 'month').streams, 0);
    const closed = { from: model.first, to: model.first + 5 };
    assert.isEmpty(funnelTable(model, [], closed, 'month').periods);
    const broken = evaluate(
      compile({
        ...smallPlan([assume('listPrice', [], 1)], {
          drivers: [...DRIVERS, own({ code: 'visits', kind: 'count' })],
        }),
        streams: [
          {
            id: 1,
            combination: COMBINATIONS[0]?.id ?? 0,
            method: 'funnel',
            settings: {
              funnel: {
                sources: [{ name: 'Visits', kind: 'typed', drivers: ['visits'], enters: 0 }],
                steps: [],
              },
            },
          },
        ],
      }),
    );
    const { lines } = funnelTable(broken, [], span(broken), 'year');
    assert.isNull(find(lines, 'source', 'Visits')?.total);
  });
});
