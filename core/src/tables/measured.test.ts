import { assert } from 'chai';
import { MEASURED_CODES, type MeasuredCode } from '../measures/catalogue.ts';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { compile, evaluate, type Model } from '../forecast/run.ts';
import { FORECAST } from '../sources/source.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { explainFully } from '../trace/explain.ts';
import { evaluateTrace } from '../trace/trace.ts';
import { forecastFigures } from './figures.ts';
import { marketOf } from './market.ts';
import { grownOn, measuredTable, type MeasuredQuery } from './measured.ts';
import { rollUp } from './roll-up.ts';

const START = monthFrom('2025-01');

/** Eight streams: units and prices of their own, a market of carafes in the north and in the coast. */
function modelOf(seed: readonly number[]): Model {
  const at = (place: number): number => seed[place % seed.length] ?? 1;
  const months = Array.from({ length: 12 }, (_, t) => START + t);
  const text = (month: number): string =>
    `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}`;
  const rows = COMBINATIONS.flatMap(({ id }, place) =>
    months.map((month, t) => ({ id, month: text(month), units: at(place + t) })),
  );
  const plan = smallPlan(
    [
      ...COMBINATIONS.map(({ members }, place) => assume('grossUnits', members, at(place) + 1)),
      assume('listPrice', [], 10),
      assume('listPrice', [M.tap], 25),
      assume('marketSize', [M.carafe, M.north], 5000),
      assume('marketSize', [M.carafe, M.coast], 3000),
    ],
    {
      actuals: {
        combination: rows.map(({ id }) => id),
        month: rows.map(({ month }) => month),
        units: rows.map(({ units }) => units),
        revenue: rows.map(({ units }) => units * 900),
        cost: rows.map(() => 0),
      },
    },
  );
  return evaluate(compile(plan));
}

const query: MeasuredQuery = {
  measures: ['revenue'],
  rows: ['channel', 'product'],
  columns: 'time',
  scope: [],
  span: { from: START + 12, to: START + 23 },
  grain: 'quarter',
};
const make = (model: Model, change: Partial<MeasuredQuery>) =>
  measuredTable(forecastFigures(model), marketOf(model), model.tree, { ...query, ...change }, 1);
const valueOf = (model: Model, change: Partial<MeasuredQuery>): number | null =>
  make(model, change).totals[0]?.total.value ?? null;

describe('a measured table', () => {
  const model = modelOf([3, 8, 21, 55, 2]);

  it('shows the same numbers as the plain table, on rows and on columns', () => {
    const plain = rollUp(
      forecastFigures(model),
      model.tree,
      { ...query, measure: 'averagePrice' },
      1,
    );
    const rows = make(model, { measures: ['revenue', 'averagePrice'] });
    const lines = rows.rows.filter(({ line }) => line);
    assert.deepEqual(
      lines.map(({ cells }) => cells),
      plain.rows.map(({ cells }) => cells),
    );
    assert.equal(rows.rows.length, plain.rows.length * 2);
    const columns = make(model, { measures: ['revenue', 'averagePrice'], columns: 'measures' });
    assert.deepEqual(
      columns.rows.map(({ cells }) => cells[1]),
      plain.rows.map(({ total }) => total),
    );
  });

  it('gives shares that add up to the whole in every column', () => {
    const { rows, totals } = make(model, { measures: ['shareOfUnits'], rows: ['region'] });
    totals[0]?.cells.forEach(({ value }, column) => {
      assert.equal(value, 1);
      const sum = rows.reduce((all, row) => all + (row.cells[column]?.value ?? 0), 0);
      assert.closeTo(sum, 1, 1e-12);
    });
  });

  it('counts a market once, however many streams share it', () => {
    const north = { measures: ['shareOfMarket'] as MeasuredCode[], scope: [M.north] };
    const units = valueOf(model, { ...north, measures: ['units'], scope: [M.carafe, M.north] });
    const share = valueOf(model, north);
    assert.closeTo(share ?? 0, (units ?? 0) / (12 * 5000), 1e-12);
    assert.equal(valueOf(model, { measures: ['marketSize'] }), 12 * 8000);
    assert.isNull(valueOf(model, { measures: ['shareOfMarket'], scope: [M.tap] }));
  });

  it('grows on the year and on the column before, and has no growth before the history', () => {
    const [total] = make(model, { measures: ['unitsOnLastYear'] }).totals;
    const at = (span: MeasuredQuery['span']): number =>
      valueOf(model, { measures: ['units'], span }) ?? Number.NaN;
    const [now, then] = [at(query.span), at({ from: START, to: START + 11 })];
    assert.closeTo(total?.total.value ?? 0, now / then - 1, 1e-12);
    const [quarters] = make(model, { measures: ['unitsOnPeriod'] }).totals;
    const first = at({ from: START + 12, to: START + 14 });
    const before = at({ from: START + 9, to: START + 11 });
    assert.closeTo(quarters?.cells[0]?.value ?? 0, first / before - 1, 1e-12);
    const early = make(model, {
      measures: ['unitsOnPeriod'],
      span: { from: START, to: START + 11 },
    });
    assert.isNull(early.totals[0]?.cells[0]?.value, 'nothing was there before the first quarter');
    assert.isNotNull(early.totals[0]?.cells[1]?.value);
    assert.isNull(early.totals[0]?.total.value);
  });

  it('puts siblings in order and keeps what lies below a row below it', () => {
    const order = { column: 'total', descending: true };
    const { rows } = make(model, { measures: ['units', 'revenue'], order });
    const mains = rows.filter(({ line }) => !line);
    const values = (level: number): number[] =>
      mains.filter((row) => row.level === level).map(({ total }) => total.value ?? 0);
    assert.deepEqual(
      values(0),
      [...values(0)].sort((a, b) => b - a),
    );
    rows.forEach((row, place) => {
      if (row.line) assert.equal(row.key, `${rows[place - 1]?.key ?? ''} revenue`);
      else if (row.level > 0) {
        const above = mains.find(({ key }) => key === row.key.slice(0, row.key.lastIndexOf('/')));
        assert.isBelow(mains.indexOf(above ?? row), mains.indexOf(row));
      }
    });
    assert.deepEqual(
      make(model, { order: { column: 'nowhere', descending: true } }).rows,
      make(model, {}).rows,
    );
  });

  it('shows rows in which there is nothing where it is asked to', () => {
    const quiet = evaluate(compile(smallPlan([])));
    const span = { from: START, to: START + 2 };
    assert.isEmpty(make(quiet, { span }).rows);
    assert.isAbove(make(quiet, { span, empty: true }).rows.length, 4);
  });

  it('explains every number, whatever the plan', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 90 }), { minLength: 5, maxLength: 5 }),
        fc.constantFrom(...MEASURED_CODES),
        fc.constantFrom([], [M.web], [M.carafe], [M.tap, M.north]),
        fc.integer({ min: 0, max: 20 }),
        fc.integer({ min: 0, max: 6 }),
        (seed, measure, scope, start, length) => {
          const modelOfSeed = modelOf(seed);
          const figures = forecastFigures(modelOfSeed);
          const span = { from: START + start, to: Math.min(START + 23, START + start + length) };
          const before = grownOn(measure, span, null, 'month');
          const shown = valueOf(modelOfSeed, { measures: [measure], scope, span, grain: 'month' });
          if (before && before.from < START) return;
          const whole = scope;
          const source = FORECAST;
          const question = {
            kind: 'measured',
            source,
            measure,
            scope,
            span,
            whole,
            before,
          } as const;
          const tree = explainFully(modelOfSeed, question, () => figures);
          const again = evaluateTrace(tree);
          if (shown === null) assert.isTrue(tree.value === null || measure === 'marketSize');
          else {
            assert.closeTo(tree.value ?? Number.NaN, shown, 1e-9 * Math.max(1, Math.abs(shown)));
            assert.closeTo(again ?? Number.NaN, shown, 1e-9 * Math.max(1, Math.abs(shown)));
          }
        },
      ),
      { numRuns: 150 },
    );
  });
});
