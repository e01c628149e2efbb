/** What would move a number most: the drivers it depends on, by the effect of one percent. */
import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { compile, evaluate, planOf, streamsIn, type Model } from '../forecast/model.ts';

/** A driver and what one percent more of it does. */
export interface Mover {
  readonly driver: string;
  readonly name: string;
  /** What the number changes by when the driver is one percent higher in all open months. */
  readonly effect: number;
}

/** One percent. */
const STEP = 1.01;

function totalOf(
  model: Model,
  measure: 'units' | 'revenue',
  indexes: readonly number[],
  { from, to }: Span,
): number {
  let sum = 0;
  for (const index of indexes) {
    for (let month = Math.max(from, model.first); month <= to; month += 1) {
      const t = month - model.first;
      if (t >= model.count) break;
      // What is missing takes no part on either side.
      sum += model[measure][index * model.count + t] || 0;
    }
  }
  return sum;
}

/** The drivers that streams depend on: those they read, those that formulas read, and so on. */
function driversBelow(model: Model, indexes: readonly number[]): string[] {
  const found = new Set(indexes.flatMap((index) => model.streams[index]?.codes ?? []));
  for (const code of found) {
    for (const name of model.drivers.formulas.get(code)?.names ?? []) found.add(name);
  }
  // Other streams that these read depend on drivers of their own.
  const reached = new Set(indexes);
  for (const index of reached) {
    for (const other of model.streams[index]?.others ?? []) {
      if (other < 0 || reached.has(other)) continue;
      reached.add(other);
      for (const code of driversBelow(model, [other])) found.add(code);
    }
  }
  return [...found];
}

/**
 * Ranks the drivers of a number by what one percent more of each would do to it, the strongest
 * first; those without effect are left out. Drivers that a formula gives are not tried: what the
 * formula reads is.
 */
export function movers(
  model: Model,
  { measure, scope, span }: { measure: 'units' | 'revenue'; scope: Scope; span: Span },
): Mover[] {
  const plan = planOf(model);
  const indexes = streamsIn(model, scope);
  const base = totalOf(model, measure, indexes, span);
  return driversBelow(model, indexes)
    .filter((code) => model.drivers.holdings.has(code) && !model.drivers.formulas.has(code))
    .map((driver) => {
      const tried = evaluate(compile(plan, { driver, factor: STEP }));
      const name = plan.drivers.find(({ code }) => code === driver)?.name ?? driver;
      return { driver, name, effect: totalOf(tried, measure, indexes, span) - base };
    })
    .filter(({ effect }) => Math.abs(effect) > Math.abs(base) * 1e-12)
    .sort((a, b) => Math.abs(b.effect) - Math.abs(a.effect));
}
