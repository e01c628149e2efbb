import { monthFrom, type Month } from '../calendar/month.ts';
import type { BudgetCell } from '../budgets/cell.ts';
import type { Combination } from '../dimensions/dimension.ts';
import type { Model } from '../forecast/model.ts';
import type { PlanFrame } from '../forecast/plan.ts';
import { actualRows } from './actual-rows.ts';
import type { BaseMeasure } from './measure.ts';

/**
 * Numbers by combination and month, one array a measure, months innermost; what every table is
 * made from. NaN is "missing": totals show the rest and are marked incomplete.
 */
export interface Facts {
  readonly combinations: readonly Combination[];
  readonly first: Month;
  readonly count: number;
  readonly measures: Readonly<Record<BaseMeasure, Float64Array>>;
}

function emptyFacts(combinations: readonly Combination[], first: Month, count: number): Facts {
  const block = (): Float64Array => new Float64Array(combinations.length * count);
  return {
    combinations,
    first,
    count,
    measures: { units: block(), revenue: block(), cost: block() },
  };
}

/** The months of a plan as a first month and a count. */
function monthsOf(plan: PlanFrame): { first: Month; count: number } {
  const first = monthFrom(plan.calendar.first);
  return { first, count: monthFrom(plan.calendar.last) - first + 1 };
}

/**
 * Lays kept rows out as facts over the months of a plan; rows outside them are left out.
 * Months without a row are 0.
 */
export function factsFromRows(plan: PlanFrame, rows: Iterable<BudgetCell>): Facts {
  const { first, count } = monthsOf(plan);
  const facts = emptyFacts(plan.combinations, first, count);
  const position = new Map(plan.combinations.map((c, index) => [c.id, index]));
  const minor = 10 ** plan.currency.minorDigits;
  for (const row of rows) {
    const index = position.get(row.combination);
    const t = row.month - first;
    if (index === undefined || t < 0 || t >= count) continue;
    const at = index * count + t;
    const { units, revenue, cost } = facts.measures;
    units[at] = (units[at] ?? 0) + row.units;
    revenue[at] = (revenue[at] ?? 0) + row.revenue / minor;
    cost[at] = (cost[at] ?? 0) + (row.cost ?? Number.NaN) / minor;
  }
  return facts;
}

/** Actual sales over the months of a plan, with what open months have so far. */
export function actualFacts(plan: PlanFrame): Facts {
  return factsFromRows(plan, actualRows(plan));
}

/**
 * One line of actuals and forecast: closed months are the actuals, open months the forecast, and
 * sales lines of an open month never enter it. Combinations without a stream have actuals only.
 * @param model evaluated
 * @param actual the plan's `actualFacts`, where they are at hand already
 */
export function forecastFacts(model: Model, actual = actualFacts(model.plan)): Facts {
  const facts = {
    ...actual,
    measures: {
      units: actual.measures.units.slice(),
      revenue: actual.measures.revenue.slice(),
      cost: actual.measures.cost.slice(),
    },
  };
  const { units, revenue, cost } = facts.measures;
  const position = new Map(facts.combinations.map((c, index) => [c.id, index]));
  for (let index = 0; index < facts.combinations.length; index += 1) {
    const open = index * facts.count + model.open;
    const end = (index + 1) * facts.count;
    for (const block of [units, revenue, cost]) block.fill(0, open, end);
    cost.fill(Number.NaN, open, end);
  }
  model.streams.forEach(({ combination }, stream) => {
    const to = (position.get(combination.id) ?? 0) * facts.count + model.open;
    const from = stream * model.count + model.open;
    const end = (stream + 1) * model.count;
    units.set(model.units.subarray(from, end), to);
    revenue.set(model.revenue.subarray(from, end), to);
  });
  return facts;
}
