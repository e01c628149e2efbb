import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { driverTable } from '../driver-table/driver-table.ts';
import { change } from '../forecast/change.ts';
import { compile, evaluate, type Model } from '../forecast/run.ts';
import { typeValues } from '../drivers/typing.ts';
import {
  ACTUAL,
  FORECAST,
  targetSource,
  versionSource,
  yearBeforeSource,
  type Source,
} from '../sources/source.ts';
import { Sources } from '../sources/sources.ts';
import type { Figures } from '../tables/figures.ts';
import type { MeasureCode } from '../measures/catalogue.ts';
import { rollUp } from '../tables/roll-up.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { explain, explainFully } from './explain.ts';
import { evaluateTrace, type TraceNode, type TraceQuestion } from './trace.ts';

const CLOSED = monthFrom('2025-12');
const LAST = monthFrom('2026-12');

function close(a: number | null, b: number | null, message: string): void {
  if (a === null || b === null) assert.equal(a, b, message);
  else assert.isAtMost(Math.abs(a - b), 1e-9 * Math.max(1, Math.abs(a), Math.abs(b)), message);
}

function leaves(node: TraceNode): TraceNode[] {
  return node.parts.length === 0 ? [node] : node.parts.flatMap(leaves);
}

/** A model with sales, assumptions at several scopes, and a version; and where its numbers come from. */
function modelOf(seeds: readonly number[]): {
  model: Model;
  figuresOf: (source: Source) => Figures;
} {
  const at = (i: number): number => seeds[i % seeds.length] ?? 1;
  const months = ['2025-11', '2025-12'];
  const rows = COMBINATIONS.flatMap(({ id }, c) => months.map((month, m) => ({ id, month, c, m })));
  const plan = smallPlan(
    [
      assume('grossUnits', [], at(0)),
      assume('grossUnits', [M.web, M.carafe], at(1)),
      assume('grossUnits', [M.stores, M.tap, M.north], {
        kind: 'months',
        values: { '2026-03': at(2), '2026-04': at(3) },
      }),
      // The taps of one channel have no price: their numbers are missing.
      assume('listPrice', [M.carafe], 10 + at(4)),
      assume('listPrice', [M.web, M.tap], 20 + at(5)),
      assume('discount', [M.web], (at(6) % 50) / 100),
      assume('returnRate', [M.north], (at(7) % 30) / 100),
    ],
    {
      actuals: {
        combination: rows.map(({ id }) => id),
        month: rows.map(({ month }) => month),
        units: rows.map(({ c, m }) => at(c + m) - 20),
        revenue: rows.map(({ c, m }) => at(c * 3 + m) * 100 - 700),
        cost: rows.map(({ c }) => at(c)),
      },
    },
  );
  const model = evaluate(compile(plan));
  const sources = new Sources(model, () => ({
    combination: rows.map(({ id }) => id),
    month: rows.map(({ month }) => month),
    units: rows.map(({ c }) => at(c)),
    revenue: rows.map(({ c }) => at(c) * 90),
    cost: rows.map(() => null),
  }));
  const figuresOf = (source: Source): Figures => {
    // A change of the run is seen at once.
    if (source.kind === 'forecast') sources.forgetRun();
    return sources.figures(source);
  };
  return { model, figuresOf };
}

const SOURCES: readonly Source[] = [
  ACTUAL,
  FORECAST,
  versionSource(7),
  yearBeforeSource(FORECAST),
  yearBeforeSource(versionSource(7)),
  targetSource({ fiscalYear: 2026, objective: 90_000 }),
  yearBeforeSource(targetSource({ fiscalYear: 2025, objective: 500 })),
];
const seeds = fc.array(fc.integer({ min: 0, max: 400 }), { minLength: 9, maxLength: 9 });
const scopes = fc.constantFrom(
  [],
  [M.web],
  [M.hardware],
  [M.stores, M.tap],
  [M.web, M.stores, M.north],
  [M.web, M.carafe, M.coast],
  [M.plans],
);
const spans = fc
  .tuple(fc.integer({ min: -2, max: 12 }), fc.integer({ min: 0, max: 12 }))
  .map(([start, length]) => ({
    from: CLOSED + start,
    to: Math.min(LAST, CLOSED + start + length),
  }));
const measures = fc.constantFrom<MeasureCode>('revenue', 'units', 'averagePrice', 'cost');

describe('explain', () => {
  it('makes a tree that evaluates to the number the table shows, whatever the plan', () => {
    fc.assert(
      fc.property(
        seeds,
        scopes,
        spans,
        measures,
        fc.constantFrom(...SOURCES),
        (numbers, scope, span, measure, source) => {
          const { model, figuresOf } = modelOf(numbers);
          const question: TraceQuestion = { kind: 'table', source, measure, scope, span };
          const tree = explainFully(model, question, figuresOf);
          const query = { measure, rows: ['channel'], columns: 'time', scope, span } as const;
          const table = rollUp(figuresOf(source), model.tree, { ...query, grain: 'year' }, 1);
          close(tree.value, table.total.total.value, 'the number itself');
          close(evaluateTrace(tree), tree.value, 'worked out again from its leaves');
          assert.equal(tree.incomplete, table.total.total.incomplete);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('ends at assumptions, defaults, sales lines or kept cells, and nowhere else', () => {
    const { model, figuresOf } = modelOf([3, 5, 8, 13, 21, 34, 55, 89, 144]);
    for (const source of SOURCES) {
      const question = {
        kind: 'table',
        source,
        measure: 'revenue',
        scope: [],
        span: { from: CLOSED, to: LAST },
      } as const;
      for (const leaf of leaves(explainFully(model, question, figuresOf))) {
        assert.include(
          ['assumption', 'default', 'missing', 'sales', 'kept', 'objective', 'nothing'],
          leaf.source?.kind,
          JSON.stringify(leaf),
        );
      }
    }
  });

  it('goes down to months that cancel each other, and to a first price', () => {
    const [first] = COMBINATIONS;
    const plan = smallPlan(
      [
        assume('newSubscribers', [], 3),
        assume('churnRate', [], 0.1),
        assume('listPrice', [], { kind: 'steps', steps: [{ from: '2026-02', value: 10 }] }),
      ],
      {
        streams: [
          {
            id: 1,
            combination: first?.id ?? 0,
            method: 'subscription',
            settings: {
              subscription: {
                ...{ churn: 'constant', pricePolicy: 'current', billing: 'monthly' },
                opening: [20],
              },
            },
          },
        ],
        actuals: {
          combination: [first?.id ?? 0, first?.id ?? 0],
          month: ['2025-07', '2025-08'],
          units: [5, -5],
          revenue: [900, -900],
          cost: [0, 0],
        },
      },
    );
    const model = evaluate(compile(plan));
    const sources = new Sources(model, () => plan.actuals);
    for (const span of [
      { from: CLOSED - 8, to: CLOSED },
      { from: CLOSED + 2, to: CLOSED + 2 },
    ]) {
      const question = {
        ...({ kind: 'table', source: FORECAST, measure: 'revenue', span } as const),
        scope: first?.members ?? [],
      };
      const tree = explainFully(model, question, (source) => sources.figures(source));
      assert.isNotNull(tree.value);
      close(evaluateTrace(tree), tree.value, 'worked out again from its leaves');
      for (const leaf of leaves(tree)) assert.isDefined(leaf.source, leaf.label);
    }
  });

  it('names the assumption that holds, and follows it when it is typed over', () => {
    const { model, figuresOf } = modelOf([100]);
    const question = {
      kind: 'table',
      source: FORECAST,
      measure: 'revenue',
      scope: [M.web, M.carafe, M.north],
      span: { from: CLOSED + 3, to: CLOSED + 3 },
    } as const;
    const units = (): TraceNode | undefined =>
      leaves(explain(model, question, figuresOf)).find(({ label }) => label === 'Gross units');
    const before = units();
    change(
      model,
      typeValues('grossUnits', model.assumptions, [
        { scope: [M.web, M.carafe, M.north], month: '2026-03', value: 7 },
      ]),
    );
    assert.equal(before?.value, 100);
    assert.equal(units()?.value, 7);
    assert.notDeepEqual(units()?.source, before?.source);
  });

  it('explains a difference by its two sides', () => {
    const { model, figuresOf } = modelOf([50, 60]);
    const span = { from: CLOSED - 1, to: CLOSED };
    const tree = explainFully(
      model,
      { kind: 'variance', against: versionSource(7), measure: 'revenue', scope: [M.web], span },
      figuresOf,
    );
    assert.deepEqual(
      tree.parts.map(({ label }) => label),
      ['Actual', 'Plan'],
    );
    close(evaluateTrace(tree), tree.value, 'the difference');
  });

  it('explains every number of a driver’s table', () => {
    fc.assert(
      fc.property(seeds, (numbers) => {
        const { model, figuresOf } = modelOf(numbers);
        for (const { code } of model.plan.drivers) {
          const rows = driverTable(model, {
            driver: code,
            rows: ['channel', 'product'],
            scope: [],
            span: { from: CLOSED + 3, to: CLOSED + 3 },
          });
          for (const { scope, values } of rows) {
            const question = { kind: 'driver', driver: code, scope, month: '2026-03' } as const;
            const tree = explainFully(model, question, figuresOf);
            const shown = values[0] ?? Number.NaN;
            close(tree.value, Number.isNaN(shown) ? null : shown, `${code} ${scope.join()}`);
            close(evaluateTrace(tree), tree.value, `${code} ${scope.join()} again`);
          }
        }
      }),
      { numRuns: 60 },
    );
  });
});
