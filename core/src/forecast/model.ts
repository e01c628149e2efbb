import { monthFrom, monthText, type Month } from '../calendar/month.ts';
import type { Combination } from '../dimensions/dimension.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import type { Assumption } from '../drivers/assumption.ts';
import { Holdings, MISSING, type HeldSeries } from '../drivers/holding.ts';
import type { AssumptionChange } from '../drivers/typing.ts';
import type { Problem } from '../problem.ts';
import { METHODS } from './methods/index.ts';
import type { Plan, Stream } from './plan.ts';

/** A stream with its inputs resolved. */
interface CompiledStream {
  readonly stream: Stream;
  readonly combination: Combination;
  /** In the order of its method's inputs. */
  inputs: HeldSeries[];
}

/** A plan made ready to compute, and its results. Results are columnar, months innermost. */
export interface Model {
  plan: Plan;
  readonly tree: MemberTree;
  readonly first: Month;
  /** Months in all, from the first with history to the end of the horizon. */
  readonly count: number;
  /** The first open month, counted from `first`. */
  readonly open: number;
  readonly streams: readonly CompiledStream[];
  readonly holdings: Map<string, Holdings>;
  /** Net units by stream and month; open months only, 0 before. NaN where an input is missing. */
  readonly units: Float64Array;
  /** Revenue in currency units by stream and month; as `units`. */
  readonly revenue: Float64Array;
}

/**
 * Resolves scopes and inputs. Nothing is computed yet; see `evaluate`.
 * @throws RangeError when streams overlap or name a combination that is not there
 */
export function compile(plan: Plan): Model {
  const tree = new MemberTree(plan.dimensions);
  const first = monthFrom(plan.calendar.first);
  const count = monthFrom(plan.calendar.last) - first + 1;
  const combinations = new Map(plan.combinations.map((c) => [c.id, c]));
  const taken = new Set<number>();
  const streams = plan.streams.map((stream) => {
    const combination = combinations.get(stream.combination);
    if (!combination) {
      throw new RangeError(
        `Stream ${stream.id} names combination ${stream.combination}, which is not there`,
      );
    }
    if (taken.has(combination.id)) {
      throw new RangeError(
        `Two streams forecast ${tree.label(combination.members)}; streams never overlap`,
      );
    }
    taken.add(combination.id);
    return { stream, combination, inputs: [] };
  });
  const model: Model = {
    plan,
    tree,
    first,
    count,
    open: monthFrom(plan.calendar.closedThrough) - first + 1,
    streams,
    holdings: new Map(),
    units: new Float64Array(streams.length * count),
    revenue: new Float64Array(streams.length * count),
  };
  for (const driver of plan.drivers) holdAnew(model, driver.code);
  for (const stream of streams) resolve(model, stream);
  return model;
}

function holdAnew(model: Model, driverCode: string): void {
  const driver = model.plan.drivers.find(({ code }) => code === driverCode);
  if (!driver) throw new RangeError(`There is no driver "${driverCode}"`);
  const own = model.plan.assumptions.filter((a) => a.driver === driverCode);
  model.holdings.set(driverCode, new Holdings(driver, own, model.tree, model.first, model.count));
}

function resolve(model: Model, compiled: CompiledStream): void {
  compiled.inputs = METHODS[compiled.stream.method].inputs.map((code) => {
    const holdings = model.holdings.get(code);
    if (!holdings) throw new RangeError(`There is no driver "${code}"`);
    return holdings.series(compiled.combination.members);
  });
}

function computeStream(model: Model, index: number): void {
  const compiled = model.streams[index];
  if (!compiled) return;
  METHODS[compiled.stream.method].compute({
    inputs: compiled.inputs.map(({ values }) => values),
    units: model.units,
    revenue: model.revenue,
    offset: index * model.count,
    from: model.open,
    to: model.count,
  });
}

/** Fills the result arrays of every stream. */
export function evaluate(model: Model): Model {
  for (let index = 0; index < model.streams.length; index += 1) computeStream(model, index);
  return model;
}

/**
 * Takes in changed assumptions and recomputes the streams they cover, and only those.
 * @returns the indexes of the streams that were computed anew
 */
export function change(model: Model, edit: AssumptionChange): number[] {
  const touched = new Set([...edit.drop, ...edit.put.map(({ id }) => id)]);
  const before = model.plan.assumptions.filter(({ id }) => touched.has(id));
  const concerned: readonly Assumption[] = [...before, ...edit.put];
  model.plan = {
    ...model.plan,
    assumptions: [...model.plan.assumptions.filter(({ id }) => !touched.has(id)), ...edit.put],
  };
  for (const driver of new Set(concerned.map((a) => a.driver))) holdAnew(model, driver);
  const scopes = concerned.map(({ scope }) => scope);
  const recomputed: number[] = [];
  model.streams.forEach((compiled, index) => {
    const members = compiled.combination.members;
    if (!scopes.some((scope) => model.tree.covers(scope, members))) return;
    resolve(model, compiled);
    computeStream(model, index);
    recomputed.push(index);
  });
  return recomputed;
}

/** Every open month in which a stream lacks an input, as problems that name driver, stream and month. */
export function missingInputs(model: Model): Problem[] {
  const problems: Problem[] = [];
  for (const { stream, combination, inputs } of model.streams) {
    METHODS[stream.method].inputs.forEach((driver, position) => {
      const holders = inputs[position]?.holders;
      const at = holders ? holders.indexOf(MISSING, model.open) : -1;
      if (at < 0) return;
      const name = model.plan.drivers.find(({ code }) => code === driver)?.name ?? driver;
      const month = monthText(model.first + at);
      problems.push({
        code: 'missing-input',
        message: `${name} is missing for ${model.tree.label(combination.members)} from ${month}; set it there or for a wider scope`,
        where: { driver, stream: stream.id, month },
      });
    });
  }
  return problems;
}
