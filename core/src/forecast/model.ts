import { monthFrom, monthText, type Month } from '../calendar/month.ts';
import type { Combination, Scope } from '../dimensions/dimension.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import type { Assumption } from '../drivers/assumption.ts';
import { AssumptionSet } from '../drivers/assumption-set.ts';
import { Holdings, MISSING, type HeldSeries } from '../drivers/holding.ts';
import type { AssumptionChange } from '../drivers/typing.ts';
import type { Problem } from '../problem.ts';
import { METHODS } from './methods/index.ts';
import type { Plan, PlanFrame, Stream } from './plan.ts';

/** A stream with its inputs resolved. */
export interface CompiledStream {
  readonly stream: Stream;
  readonly combination: Combination;
  /** In the order of its method's inputs. */
  readonly inputs: HeldSeries[];
  /** The months of each input. */
  readonly series: Float64Array[];
}

/** A plan made ready to compute, and its results. Results are columnar, months innermost. */
export interface Model {
  /** The plan without its assumptions, which change; see `assumptions`. */
  readonly plan: PlanFrame;
  readonly assumptions: AssumptionSet;
  readonly tree: MemberTree;
  readonly first: Month;
  /** Months in all, from the first with history to the end of the horizon. */
  readonly count: number;
  /** The first open month, counted from `first`. */
  readonly open: number;
  readonly streams: readonly CompiledStream[];
  /** Which streams lie below a member, by index. */
  readonly streamsBelow: ReadonlyMap<number, readonly number[]>;
  readonly holdings: ReadonlyMap<string, Holdings>;
  /** Net units by stream and month; open months only, 0 before. NaN where an input is missing. */
  readonly units: Float64Array;
  /** Revenue in currency units by stream and month; as `units`. */
  readonly revenue: Float64Array;
}

/** Which streams lie below each member. */
function streamsByMember(
  streams: readonly { combination: Combination }[],
  tree: MemberTree,
): Map<number, number[]> {
  const below = new Map<number, number[]>();
  streams.forEach(({ combination }, index) => {
    for (const leaf of combination.members) {
      for (const member of tree.path(leaf)) {
        const known = below.get(member);
        if (known) known.push(index);
        else below.set(member, [index]);
      }
    }
  });
  return below;
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
  const { assumptions, ...rest } = plan;
  const byDriver = new Map<string, Assumption[]>();
  for (const assumption of assumptions) {
    const own = byDriver.get(assumption.driver);
    if (own) own.push(assumption);
    else byDriver.set(assumption.driver, [assumption]);
  }
  const holdings = new Map(
    plan.drivers.map((driver) => [
      driver.code,
      new Holdings(driver, byDriver.get(driver.code) ?? [], tree, first, count),
    ]),
  );
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
    const compiled: CompiledStream = { stream, combination, inputs: [], series: [] };
    METHODS[stream.method].inputs.forEach((driver, place) =>
      resolve(holdings, compiled, driver, place),
    );
    return compiled;
  });
  return {
    plan: rest,
    assumptions: new AssumptionSet(assumptions),
    tree,
    first,
    count,
    open: monthFrom(plan.calendar.closedThrough) - first + 1,
    streams,
    streamsBelow: streamsByMember(streams, tree),
    holdings,
    units: new Float64Array(streams.length * count),
    revenue: new Float64Array(streams.length * count),
  };
}

/** The plan a model stands for now, with every edit it has taken in. */
export function planOf(model: Model): Plan {
  return { ...model.plan, assumptions: [...model.assumptions] };
}

function resolve(
  holdings: Model['holdings'],
  { combination, inputs, series }: CompiledStream,
  driver: string,
  place: number,
): void {
  const held = holdings.get(driver)?.series(combination.members);
  if (!held) throw new RangeError(`There is no driver "${driver}"`);
  inputs[place] = held;
  series[place] = held.values;
}

function computeStream(model: Model, index: number): void {
  const compiled = model.streams[index];
  if (!compiled) return;
  METHODS[compiled.stream.method].compute({
    inputs: compiled.series,
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

/** The indexes of the streams that a scope holds, found through its rarest member. */
export function streamsIn(model: Model, scope: Scope): number[] {
  const lists = scope.map((member) => model.streamsBelow.get(member) ?? []);
  const { tree, streams } = model;
  const dimensions = new Set(scope.map((member) => tree.dimensionOf(member)));
  if (scope.length === 0) return streams.map((_, index) => index);
  const shortest =
    dimensions.size === scope.length
      ? lists.reduce((best, list) => (list.length < best.length ? list : best))
      : streams.map((_, index) => index);
  return shortest.filter((index) => tree.covers(scope, streams[index]?.combination.members ?? []));
}

/**
 * Takes in changed assumptions and recomputes the streams they cover, and only those: what an edit
 * does not touch costs nothing.
 * @returns the indexes of the streams that were computed anew
 */
export function change(model: Model, edit: AssumptionChange): number[] {
  const before = [...edit.drop, ...edit.put.map(({ id }) => id)].flatMap(
    (id) => model.assumptions.get(id) ?? [],
  );
  const concerned: readonly Assumption[] = [...before, ...edit.put];
  for (const assumption of before) model.holdings.get(assumption.driver)?.remove(assumption);
  model.assumptions.apply(edit);
  for (const assumption of edit.put) {
    const holdings = model.holdings.get(assumption.driver);
    if (!holdings) throw new RangeError(`There is no driver "${assumption.driver}"`);
    holdings.add(assumption);
  }
  const touched = new Map<number, Set<string>>();
  for (const { scope, driver } of concerned) {
    for (const index of streamsIn(model, scope)) {
      const drivers = touched.get(index);
      if (drivers) drivers.add(driver);
      else touched.set(index, new Set([driver]));
    }
  }
  const recomputed: number[] = [];
  for (const [index, drivers] of touched) {
    const compiled = model.streams[index];
    if (!compiled) continue;
    METHODS[compiled.stream.method].inputs.forEach((driver, place) => {
      if (drivers.has(driver)) resolve(model.holdings, compiled, driver, place);
    });
    computeStream(model, index);
    recomputed.push(index);
  }
  return recomputed.sort((a, b) => a - b);
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
