/** A small plan's drivers as a grid shows them, for tests of rows that stand above several values. */
import { monthFrom } from '../calendar/month.ts';
import { driverTable } from '../driver-table/driver-table.ts';
import { typeInto, type TypedInput } from '../driver-table/type-into.ts';
import type { Assumption } from '../drivers/assumption.ts';
import { change } from '../forecast/change.ts';
import type { Plan } from '../forecast/plan.ts';
import { compile, evaluate, seriesOfDriver, type Model } from '../forecast/run.ts';
import { forecastFigures } from '../tables/figures.ts';
import { explainFully } from '../trace/explain.ts';
import type { TraceNode } from '../trace/trace.ts';
import { assume, M, smallPlan } from './small-plan.ts';

export const JANUARY = '2026-01';
export const AT = monthFrom(JANUARY);
export const NOTHING: TypedInput = { values: [], totals: [], changes: [] };

/** An evaluated small plan of some assumptions. */
export const modelOf = (assumptions: Assumption[], part: Partial<Plan> = {}): Model =>
  evaluate(compile(smallPlan(assumptions, part)));
/** Types into a driver's grid. */
export const typeIn = (model: Model, driver: string, input: Partial<TypedInput>): void => {
  change(model, typeInto(model, driver, { ...NOTHING, ...input }));
};
/** The number of the topmost row of a driver's table in January, and over the window. */
export function shown(model: Model, driver: string, to = JANUARY, scope: readonly number[] = []) {
  const span = { from: AT, to: monthFrom(to) };
  const [row] = driverTable(model, { driver, rows: ['channel'], scope, span });
  return { month: row?.values[0] ?? Number.NaN, total: row?.total ?? Number.NaN };
}
/** A stream's value of a driver in a month. */
export const value = (model: Model, driver: string, place: number, month = JANUARY): number =>
  seriesOfDriver(model, place, driver)?.values[monthFrom(month) - model.first] ?? Number.NaN;
/** How a scope's number of a driver in January came about, all the way down. */
export const traced = (model: Model, driver: string, scope: readonly number[]): TraceNode =>
  explainFully(model, { kind: 'driver', driver, scope, month: JANUARY }, () =>
    forecastFigures(model),
  );
/** Prices that differ from product to product. */
export const prices = () => [
  assume('grossUnits', [], 10),
  assume('listPrice', [M.carafe], 100),
  assume('listPrice', [M.tap], 280),
];
