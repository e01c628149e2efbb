/** What would move a number most: the drivers it depends on, by the effect of one percent. */
import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { runUnder, totalOf, type Model } from '../forecast/run.ts';
import { streamsIn } from '../forecast/structure.ts';
import type { ResultCode } from '../measures/catalogue.ts';

/** A driver and what one percent more of it does. */
export interface Mover {
  readonly driver: string;
  readonly name: string;
  /** What the number changes by when the driver is one percent higher in all open months. */
  readonly effect: number;
}

/** One percent. */
const STEP = 1.01;

/** The drivers that streams depend on: those they read, those that formulas read, and so on. */
function driversBelow(model: Model, indexes: readonly number[]): string[] {
  const reached = new Set(indexes);
  const driversReached = new Set<string>();
  for (const index of reached) {
    const { codes = [], others = [], givers = [] } = model.streams[index] ?? {};
    for (const code of codes) driversReached.add(code);
    // Other streams that these read, or that feed them, depend on drivers of their own.
    for (const other of [...others, ...givers]) if (other >= 0) reached.add(other);
  }
  for (const code of driversReached) {
    for (const name of model.drivers.formulas.get(code)?.names ?? []) driversReached.add(name);
  }
  return [...driversReached];
}

/**
 * Ranks the drivers of a number by what one percent more of each would do to it, the strongest
 * first; those without effect are left out. Drivers that a formula gives are not tried: what the
 * formula reads is.
 * @param model evaluated
 */
export function movers(
  model: Model,
  { measure, scope, span }: { measure: ResultCode; scope: Scope; span: Span },
): Mover[] {
  const indexes = streamsIn(model, scope);
  const base = totalOf(model, measure, indexes, span);
  return driversBelow(model, indexes)
    .filter((code) => model.drivers.holdings.has(code) && !model.drivers.formulas.has(code))
    .map((driver) => {
      const more = { id: 0, driver, scope: [], from: null, to: null, note: '' } as const;
      const tried = runUnder(model, {
        adjustments: [{ ...more, kind: 'times', value: STEP, tried: true }],
      });
      const name = model.plan.drivers.find(({ code }) => code === driver)?.name ?? driver;
      return { driver, name, effect: totalOf(tried, measure, indexes, span) - base };
    })
    .filter(({ effect }) => Math.abs(effect) > Math.abs(base) * 1e-12)
    .sort((a, b) => Math.abs(b.effect) - Math.abs(a.effect));
}
