/** What must hold of every plan, whatever its methods: edits, explanations, problems. */
import { assert } from 'chai';
import fc from 'fast-check';
import { typeValues } from '../drivers/typing.ts';
import { forecastFacts } from '../tables/facts.ts';
import { explainFully } from '../trace/explain.ts';
import { evaluateTrace, type TraceNode, type TraceQuestion } from '../trace/trace.ts';
import { COMBINATIONS, M } from '../testing/small-plan.ts';
import { somePlan } from '../testing/rich-plan.ts';
import { checkPlan } from './check-plan.ts';
import { change, compile, evaluate, planOf, withOverrides, type Model } from './model.ts';

function alike(a: Float64Array, b: Float64Array, what: string): void {
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
  'written',
  'setting',
  'nothing',
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

describe('any plan', () => {
  it('computes after an edit what it computes anew', () => {
    fc.assert(
      fc.property(somePlan, fc.array(edit, { minLength: 1, maxLength: 5 }), (plan, edits) => {
        const model = evaluate(compile(plan));
        for (const { driver, ...typed } of edits) {
          change(model, typeValues(driver, model.assumptions, [typed]));
        }
        const anew = evaluate(compile(planOf(model)));
        alike(model.units, anew.units, 'units');
        alike(model.revenue, anew.revenue, 'revenue');
      }),
      { numRuns: 250 },
    );
  });

  it('computes without its overrides what it computes where nobody typed any', () => {
    fc.assert(
      fc.property(somePlan, (plan) => {
        const model = evaluate(compile(plan));
        const typed = [model.units.slice(), model.revenue.slice()] as const;
        const without = withOverrides(model, []).model;
        const anew = evaluate(compile({ ...plan, overrides: [] }));
        alike(without.revenue, anew.revenue, 'revenue');
        const again = withOverrides(without, plan.overrides ?? []).model;
        alike(again.units, typed[0], 'units');
        alike(again.revenue, typed[1], 'revenue');
      }),
      { numRuns: 150 },
    );
  });

  it('explains every number by a tree that evaluates to it, down to what was typed or sold', () => {
    const question = fc.record({
      measure: fc.constantFrom('revenue' as const, 'units' as const, 'averagePrice' as const),
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
        const facts = forecastFacts(model);
        const start = model.first + from;
        const asked: TraceQuestion = {
          kind: 'table',
          source: 'forecast',
          measure,
          scope,
          span: { from: start, to: Math.min(start + length - 1, model.first + 23) },
        };
        const tree = explainFully(model, asked, () => facts);
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

  it('tells of every missing number why it is missing, and never throws', () => {
    fc.assert(
      fc.property(somePlan, (plan) => {
        const problems = checkPlan(plan);
        const model = evaluate(compile(plan));
        for (const { message } of problems) assert.isNotEmpty(message);
        const missing = model.revenue.some(
          (value, at) => at % model.count >= model.open && Number.isNaN(value),
        );
        if (missing) assert.isNotEmpty(problems);
      }),
      { numRuns: 200 },
    );
  });
});
