import { monthFrom } from '../calendar/month.ts';
import type { BudgetCell } from '../budgets/cell.ts';
import type { PlanFrame } from '../forecast/plan.ts';

/** The rows of a plan's actuals, one after the other. */
export function* actualRows(plan: PlanFrame): Generator<BudgetCell> {
  const { combination, month, units, revenue, cost } = plan.actuals;
  // The same few months stand in thousands of rows; each is read once.
  const months = new Map([...new Set(month)].map((text) => [text, monthFrom(text)]));
  for (let i = 0; i < combination.length; i += 1) {
    yield {
      combination: combination[i] ?? -1,
      month: months.get(month[i] ?? '') ?? -1,
      units: units[i] ?? 0,
      revenue: revenue[i] ?? 0,
      cost: cost[i] ?? 0,
    };
  }
}
