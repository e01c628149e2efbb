/** What must hold of every plan, whatever its methods: edits, explanations, problems. */
import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { DRIVER_STEPS, driverBridgeOf } from '../comparison/by-driver.ts';
import { driverNumbers, driverRowHeads, driverTable } from '../driver-table/driver-table.ts';
import { typeValues } from '../drivers/typing.ts';
import { ACTUAL, FORECAST, versionSource } from '../sources/source.ts';
import { subscriberFigures } from '../subscriptions/figures.ts';
import { actualFigures, figuresFromRows, forecastFigures } from '../tables/figures.ts';
import { explainFully } from '../trace/explain.ts';
import { evaluateTrace, type TraceNode, type TraceQuestion } from '../trace/trace.ts';
import { FORECAST_RESULTS, MEASURE_CODES, RESULTS } from '../measures/catalogue.ts';
import { allResults } from '../testing/results.ts';
import { COMBINATIONS, M } from '../testing/small-plan.ts';
import { someAdjustments, somePlan } from '../testing/rich-plan.ts';
import { checkPlan } from '../checking/check-plan.ts';
import { change } from './change.ts';
import type { OverrideCell } from './plan.ts';
import { compile, evaluate, planOf, runUnder, type Model } from './run.ts';

function alike(a: readonly number[], b: readonly number[], what: string): void {
  a.forEach((value, at) => {
    const other = b[at] ?? Number.NaN;
    if (Number.isNaN(value) && Number.isNaN(other)) return;
    const allowed = 1e-9 * Math.max(1, Math.abs(value), Math.abs(other));
    assert.isAtMost(Math.abs(value - other), allowed, `${what} at ${at}`);
  });
}

/** The kinds of leaves there may be: what somebody typed, what was sold, what is missing. */
const LEAVES: ReadonlySet<string> = new Set([
  'assumption',
  'default',
  'missing',
  'sales',
  'override',
  'adjustment',
  'written',
  'setting',
  'nothing',
  'cohorts',
  'calendar',
]);

function leaves(node: TraceNode): TraceNode[] {
  return node.parts.length === 0 ? [node] : node.parts.flatMap(leaves);
}

const edit = fc.record({
  driver: fc.constantFrom(
    'grossUnits',
    'listPrice',
    'spend',
    'visitCost',
    'conversion',
    'growth',
    'amount',
  ),
  scope: fc.constantFrom([], [M.web], [M.hardware, M.north], [M.stores, M.tap, M.coast]),
  month: fc.constantFrom('2026-01', '2026-06', '2026-11'),
  value: fc.option(fc.integer({ min: 0, max: 1 }), { nil: null }),
});

/** Whether two models have the same results. */
function sameResults(a: Model, b: Model): void {
  for (const code of RESULTS) alike(allResults(a)[code], allResults(b)[code], code);
}

const cellOf = ({ combination, month, measure }: OverrideCell): string =>
  `${combination} ${month} ${measure}`;

describe('any plan', () => {
  it('computes after an edit what it computes anew', () => {
    fc.assert(
      fc.property(somePlan, fc.array(edit, { minLength: 1, maxLength: 5 }), (plan, edits) => {
        const model = evaluate(compile(plan));
        for (const { driver, ...typed } of edits) {
          change(model, typeValues(driver, model.assumptions, [typed]));
        }
        const anew = evaluate(compile(planOf(model)));
        sameResults(model, anew);
      }),
      { numRuns: 250 },
    );
  });

  it('fills a driver’s table after an edit as it fills it anew', () => {
    const shown = fc.constantFrom('grossUnits', 'listPrice', 'conversion', 'visits', 'marketSize');
    fc.assert(
      fc.property(
        somePlan,
        shown,
        fc.array(edit, { minLength: 1, maxLength: 4 }),
        someAdjustments,
        (plan, driver, edits, adjustments) => {
          const model = evaluate(compile({ ...plan, adjustments: [] }));
          const rows = driverRowHeads(model, {
            driver,
            rows: ['channel', 'product'],
            scope: [],
            span: { from: model.first, to: model.first + model.count - 1 },
          });
          let made = driverNumbers(model, rows);
          const steps = [
            ...edits.map(
              ({ driver: of, ...typed }) =>
                () =>
                  typeValues(of, model.assumptions, [typed]),
            ),
            ...adjustments.map((one, at) => () => ({
              put: [],
              drop: [],
              adjustments: { put: [{ ...one, id: at + 1 }], drop: at % 2 === 1 ? [at] : [] },
            })),
          ];
          for (const step of steps) {
            change(model, step());
            made = driverNumbers(model, rows, made);
            const anew = driverNumbers(model, rows);
            assert.deepEqual(made.numbers, anew.numbers);
          }
        },
      ),
      { numRuns: 150 },
    );
  });

  it('computes adjusted, and adjusted no more, what it computes anew', () => {
    fc.assert(
      fc.property(somePlan, someAdjustments, (plan, rows) => {
        const model = evaluate(compile(plan));
        const before = allResults(model);
        const put = rows.map((row, at) => ({ ...row, id: 1000 + at }));
        const none = { put: [], drop: [] };
        change(model, { ...none, adjustments: { put, drop: [] } });
        sameResults(model, evaluate(compile(planOf(model))));
        change(model, { ...none, adjustments: { put: [], drop: put.map(({ id }) => id) } });
        for (const code of RESULTS) alike(allResults(model)[code], before[code], code);
      }),
      { numRuns: 200 },
    );
  });

  it('runs under layers beside another run, which stays as it was', () => {
    fc.assert(
      fc.property(somePlan, somePlan, someAdjustments, (plan, other, rows) => {
        const model = evaluate(compile(plan));
        const before = allResults(model);
        const adjustments = rows.map((row, at) => ({ ...row, id: 1000 + at }));
        const streams = other.streams.slice(0, 3);
        const run = runUnder(model, { adjustments, streams, overrides: other.overrides ?? [] });
        const wanted = {
          ...plan,
          adjustments: [...(plan.adjustments ?? []), ...adjustments],
          streams: [...streams, ...plan.streams.slice(3)],
          overrides: other.overrides,
        };
        sameResults(run, evaluate(compile(wanted)));
        for (const code of RESULTS) alike(allResults(model)[code], before[code], code);
      }),
      { numRuns: 200 },
    );
  });

  it('explains every driver by a tree that evaluates to what the table shows', () => {
    const asked = fc.record({
      driver: fc.constantFrom(
        ...'grossUnits listPrice discount growth marketShare marketSize visits conversion campaign unitCost attachRate'.split(
          ' ',
        ),
      ),
      scope: fc.constantFrom<readonly number[]>(
        [],
        [M.web],
        [M.hardware, M.north],
        COMBINATIONS[5]?.members ?? [],
      ),
      month: fc.constantFrom('2026-01', '2026-07', '2026-12'),
    });
    fc.assert(
      fc.property(somePlan, asked, (plan, { driver, scope, month }) => {
        const model = evaluate(compile(plan));
        const tree = explainFully(model, { kind: 'driver', driver, scope, month }, () =>
          forecastFigures(model),
        );
        const span = { from: monthFrom(month), to: monthFrom(month) };
        const [row] = driverTable(model, { driver, rows: ['channel'], scope, span });
        const shown = row?.values[0] ?? Number.NaN;
        alike([tree.value ?? Number.NaN], [shown], 'the table');
        if (driver !== 'marketSize' && driver !== 'campaign') {
          alike([evaluateTrace(tree) ?? Number.NaN], [shown], 'the tree');
        }
      }),
      { numRuns: 300 },
    );
  });

  it('computes under changed overrides what it computes where they were typed at first', () => {
    fc.assert(
      fc.property(somePlan, somePlan, fc.nat(), (plan, other, seed) => {
        const was = plan.overrides ?? [];
        const kept = was.filter((_, place) => (seed >> (place % 20)) % 2 === 0);
        const drop = was.filter((override) => !kept.includes(override));
        const put = other.overrides ?? [];
        const model = evaluate(compile(plan));
        change(model, { put: [], drop: [], overrides: { put, drop } });
        sameResults(model, evaluate(compile(planOf(model))));
        const cells = new Set(put.map(cellOf));
        const after = [...kept.filter((one) => !cells.has(cellOf(one))), ...put];
        assert.sameDeepMembers([...(planOf(model).overrides ?? [])], after);
        sameResults(model, runUnder(evaluate(compile(plan)), { overrides: after }));
        // And back again.
        change(model, { put: [], drop: [], overrides: { put: was, drop: put } });
        sameResults(model, evaluate(compile(plan)));
      }),
      { numRuns: 150 },
    );
  });

  it('explains every number by a tree that evaluates to it, down to what was typed or sold', () => {
    const question = fc.record({
      measure: fc.constantFrom(...MEASURE_CODES),
      scope: fc.constantFrom<readonly number[]>(
        [],
        [M.stores],
        ...COMBINATIONS.map(({ members }) => members),
      ),
      from: fc.integer({ min: 10, max: 23 }),
      length: fc.constantFrom(1, 1, 1, 3),
    });
    fc.assert(
      fc.property(somePlan, question, (plan, { measure, scope, from, length }) => {
        const model: Model = evaluate(compile(plan));
        const figures = forecastFigures(model);
        const start = model.first + from;
        const asked: TraceQuestion = {
          kind: 'table',
          source: FORECAST,
          measure,
          scope,
          span: { from: start, to: Math.min(start + length - 1, model.first + 23) },
        };
        const tree = explainFully(model, asked, () => figures);
        const again = evaluateTrace(tree);
        if (tree.value === null || again === null) assert.equal(again, tree.value);
        else {
          const allowed = 1e-9 * Math.max(1, Math.abs(again), Math.abs(tree.value));
          assert.isAtMost(Math.abs(again - tree.value), allowed);
        }
        for (const leaf of leaves(tree)) {
          assert.isDefined(leaf.source, `${leaf.label} rests on something`);
          assert.isTrue(LEAVES.has(leaf.source?.kind ?? ''), leaf.source?.kind);
        }
      }),
      { numRuns: 300 },
    );
  });

  it('says by driver why sales differ, in steps that add up, whatever the methods', () => {
    fc.assert(
      fc.property(somePlan, fc.array(fc.nat(40), { minLength: 8, maxLength: 8 }), (plan, units) => {
        const model = evaluate(compile(plan));
        const rows = COMBINATIONS.flatMap(({ id }, place) =>
          [3, 7].map((t) => ({
            ...{ combination: id, month: model.first + t, units: units[place] ?? 0, cost: null },
            revenue: (units[place] ?? 0) * 250 + place,
          })),
        );
        const subscribers = () => subscriberFigures(model);
        const now = { source: ACTUAL, figures: { ...actualFigures(plan), subscribers } };
        const was = {
          ...{ source: versionSource(1) },
          figures: { ...figuresFromRows(plan, rows), subscribers },
        };
        const span = { from: model.first, to: model.first + 11 };
        const found = driverBridgeOf(model, now, was, { scope: [], span });
        if (!found) return;
        const sum = DRIVER_STEPS.reduce((all, step) => all + found[step], 0);
        alike([found.plan + sum], [found.actual], 'the steps');
      }),
      { numRuns: 200 },
    );
  });

  it('tells of every missing number why it is missing, and never throws', () => {
    fc.assert(
      fc.property(somePlan, (plan) => {
        const problems = checkPlan(plan);
        const model = evaluate(compile(plan));
        for (const { message } of problems) assert.isNotEmpty(message);
        const told = new Set(problems.map(({ where }) => Number(where['stream'])));
        model.streams.forEach(({ stream }, index) => {
          for (const code of FORECAST_RESULTS) {
            const series = model.results[code][index];
            const missing = series?.some((value, t) => t >= model.open && Number.isNaN(value));
            if (missing) assert.isTrue(told.has(stream.id), `${code} of stream ${stream.id}`);
          }
        });
      }),
      { numRuns: 200 },
    );
  });
});
