import { monthFrom, monthText, type Month } from '../calendar/month.ts';
import type { Combination, Scope } from '../dimensions/dimension.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import type { Assumption } from '../drivers/assumption.ts';
import { AssumptionSet } from '../drivers/assumption-set.ts';
import { MISSING, type HeldSeries } from '../drivers/holding.ts';
import { DriverInputs, type Scaled } from '../drivers/inputs.ts';
import { observedIn, type Closed } from '../drivers/observed.ts';
import { HeldFacts } from '../facts/held-facts.ts';
import type { AssumptionChange } from '../drivers/typing.ts';
import type { Problem } from '../problem.ts';
import { actualRows } from '../tables/actual-rows.ts';
import { componentsOf, type Component } from './components.ts';
import { METHODS } from './methods/index.ts';
import type { Prepared, Stretch } from './methods/method.ts';
import { applyOverride, overridesByStream, type OverridesOf } from './overrides.ts';
import type { Override, Plan, PlanFrame, Stream } from './plan.ts';

/** A stream with its inputs resolved. */
export interface CompiledStream {
  readonly stream: Stream;
  readonly combination: Combination;
  /** The drivers it reads, in the order in which its method reads them. */
  readonly codes: readonly string[];
  /** In the order of `codes`. */
  readonly inputs: HeldSeries[];
  /** The places of the streams it reads; -1 for one that is not there. */
  readonly others: readonly number[];
  /** What its method found out from its history. */
  prepared: Prepared | undefined;
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
  readonly drivers: DriverInputs;
  /** The closed months, as drivers hear what they say. */
  readonly closed: Closed;
  /** Streams in an order in which they can be computed; those that read each other together. */
  readonly components: readonly Component[];
  /** The component of each stream, and the streams that read each one. */
  readonly componentOf: Int32Array;
  readonly readers: ReadonlyMap<number, readonly number[]>;
  /** What is typed over the computed values, by stream and month. */
  readonly overrides: ReadonlyMap<number, OverridesOf>;
  /** What was computed where something is typed over it, by place in the results. */
  readonly instead: Map<number, { readonly units: number; readonly revenue: number }>;
  /** Net units by stream and month: actuals in closed months. NaN where an input is missing. */
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

/** Puts the actuals of closed months where every reader finds them. */
function fillClosed(
  plan: PlanFrame,
  placeOf: ReadonlyMap<number, number>,
  {
    first,
    count,
    open,
    units,
    revenue,
  }: Pick<Model, 'first' | 'count' | 'open' | 'units' | 'revenue'>,
): void {
  const minor = 10 ** plan.currency.minorDigits;
  // Money is added up in whole minor units first, so that the order of lines does not matter.
  for (const row of actualRows(plan)) {
    const place = placeOf.get(row.combination);
    const t = row.month - first;
    if (place === undefined || t < 0 || t >= open) continue;
    const at = place * count + t;
    units[at] = (units[at] ?? 0) + row.units;
    revenue[at] = (revenue[at] ?? 0) + row.revenue / minor;
  }
}

/** Units that came back by stream and closed month; null where the plan does not tell. */
function returnedIn(
  { actuals }: PlanFrame,
  placeOf: ReadonlyMap<number, number>,
  { first, open }: { first: Month; open: number },
): Float64Array | null {
  const { returned, combination, month } = actuals;
  if (!returned) return null;
  const sums = new Float64Array(placeOf.size * open);
  returned.forEach((units, i) => {
    if (units === 0) return;
    const place = placeOf.get(combination[i] ?? -1);
    const t = monthFrom(month[i] ?? '') - first;
    if (place !== undefined && t >= 0 && t < open) {
      sums[place * open + t] = (sums[place * open + t] ?? 0) + units;
    }
  });
  return sums;
}

const NOBODY: readonly number[] = [];

function placesOf(
  reads: readonly { readonly combination: number }[],
  placeOf: ReadonlyMap<number, number>,
): readonly number[] {
  if (reads.length === 0) return NOBODY;
  return reads.map(({ combination }) => placeOf.get(combination) ?? -1);
}

const NO_SERIES = (count: number): HeldSeries => ({
  values: new Float64Array(count).fill(Number.NaN),
  holders: new Int32Array(count).fill(MISSING),
});

/**
 * Resolves scopes and inputs, and puts streams in order. Nothing is computed yet; see `evaluate`.
 * @param scaled a driver that is tried at another height
 * @throws RangeError when streams overlap or name a combination that is not there
 */
export function compile(plan: Plan, scaled?: Scaled): Model {
  const tree = new MemberTree(plan.dimensions);
  const first = monthFrom(plan.calendar.first);
  const count = monthFrom(plan.calendar.last) - first + 1;
  const open = monthFrom(plan.calendar.closedThrough) - first + 1;
  const combinations = new Map(plan.combinations.map((c) => [c.id, c]));
  const { assumptions, ...rest } = plan;
  const byDriver = new Map<string, Assumption[]>();
  for (const assumption of assumptions) {
    const own = byDriver.get(assumption.driver);
    if (own) own.push(assumption);
    else byDriver.set(assumption.driver, [assumption]);
  }
  const placeOf = new Map<number, number>();
  plan.streams.forEach((stream, place) => {
    const combination = combinations.get(stream.combination);
    if (!combination) {
      throw new RangeError(
        `Stream ${stream.id} names combination ${stream.combination}, which is not there`,
      );
    }
    if (placeOf.has(combination.id)) {
      throw new RangeError(
        `Two streams forecast ${tree.label(combination.members)}; streams never overlap`,
      );
    }
    placeOf.set(combination.id, place);
  });
  const units = new Float64Array(plan.streams.length * count);
  const revenue = new Float64Array(plan.streams.length * count);
  fillClosed(rest, placeOf, { first, count, open, units, revenue });

  const months = { first, count, open };
  const closed: Closed = {
    count,
    open,
    units,
    revenue,
    returned: returnedIn(rest, placeOf, months),
    facts: new HeldFacts(plan.facts ?? [], tree, first, open),
    drivers: plan.drivers,
    members: (stream) => streams[stream]?.combination.members ?? NOBODY,
    listPrice: (stream) =>
      drivers.holdings.get('listPrice')?.series(streams[stream]?.combination.members ?? NOBODY)
        .values,
  };
  const drivers: DriverInputs = new DriverInputs(
    plan.drivers,
    byDriver,
    tree,
    months,
    observedIn(closed),
    scaled,
  );
  // Thousands of streams read the same drivers: they share one list.
  const lists = new Map<string, readonly string[]>();
  const sameCodes = (codes: readonly string[]): readonly string[] => {
    const key = codes.join();
    const known = lists.get(key) ?? codes;
    lists.set(key, known);
    return known;
  };
  const streams: CompiledStream[] = [];
  plan.streams.forEach((stream, place) => {
    const method = METHODS[stream.method];
    const combination = combinations.get(stream.combination) ?? { id: -1, members: [] };
    const codes = sameCodes(method.inputs(stream));
    const compiled: CompiledStream = {
      stream,
      combination,
      codes,
      inputs: [],
      others: placesOf(method.reads?.(stream) ?? [], placeOf),
      prepared: undefined,
    };
    // What actuals say of it is asked for by its members.
    streams.push(compiled);
    codes.forEach((_, input) => resolve(drivers, compiled, place, input, count));
  });
  const readings = plan.streams.map((stream) =>
    (METHODS[stream.method].reads?.(stream) ?? []).flatMap(({ combination, lag }) => {
      const of = placeOf.get(combination);
      return of === undefined ? [] : [{ of, lag }];
    }),
  );
  const components = componentsOf(readings);
  const componentOf = new Int32Array(streams.length);
  components.forEach(({ parts }, place) => {
    for (const part of parts) componentOf[part] = place;
  });
  const readers = new Map<number, number[]>();
  readings.forEach((list, reader) => {
    for (const { of } of list) {
      const known = readers.get(of);
      if (known) known.push(reader);
      else readers.set(of, [reader]);
    }
  });
  const model: Model = {
    plan: rest,
    assumptions: new AssumptionSet(assumptions),
    tree,
    first,
    count,
    open,
    streams,
    streamsBelow: streamsByMember(streams, tree),
    drivers,
    closed,
    components,
    componentOf,
    readers,
    overrides: overridesByStream(plan.overrides ?? [], placeOf, months),
    instead: new Map(),
    units,
    revenue,
  };
  for (const holdings of drivers.holdings.values()) holdings.settle();
  return model;
}

/** The plan a model stands for now, with every edit it has taken in. */
export function planOf(model: Model): Plan {
  return { ...model.plan, assumptions: [...model.assumptions] };
}

function resolve(
  drivers: DriverInputs,
  { combination, codes, inputs }: CompiledStream,
  place: number,
  input: number,
  count: number,
): void {
  const code = codes[input] ?? '';
  // A driver that is not there is told by `checkPlan`; the rest of the plan still computes.
  const held = drivers.holdings.has(code)
    ? drivers.series(code, combination.members, place)
    : NO_SERIES(count);
  inputs[input] = held;
}

/**
 * What a stream's method found out from its history; made when it is asked for at first: whoever
 * only compiles a plan, to take an edit in, does not wait for it.
 */
function preparedOf(model: Model, index: number): Prepared | undefined {
  const compiled = model.streams[index];
  const { prepare } = METHODS[compiled?.stream.method ?? 'amount'];
  if (!compiled || !prepare) return undefined;
  compiled.prepared ??= prepare(stretchOf(model, index));
  return compiled.prepared;
}

/** What a stream's method reads and writes, over some of its months. */
export function stretchOf(
  model: Model,
  index: number,
  from = model.open,
  to = model.count,
): Stretch {
  const compiled = model.streams[index];
  if (!compiled) throw new RangeError(`There is no stream at ${index}`);
  const { count, open, units, revenue, first } = model;
  return {
    stream: compiled.stream,
    inputs: compiled.inputs.map(({ values }) => values),
    units,
    revenue,
    offset: index * count,
    others: compiled.others.map((other) => (other < 0 ? -1 : other * count)),
    from,
    to,
    open,
    count,
    first,
    fiscalStart: model.plan.calendar.fiscalStart,
    get prepared() {
      return preparedOf(model, index);
    },
  };
}

/** Computes some months of a stream; what is typed over them is put in its place at once. */
function computeMonths(model: Model, index: number, from: number, to: number): void {
  const compiled = model.streams[index];
  if (!compiled) return;
  const method = METHODS[compiled.stream.method];
  const typed = model.overrides.get(index);
  if (!typed) {
    method.compute(stretchOf(model, index, from, to));
    return;
  }
  // What comes later may read the typed month, so the stretch ends there and another one begins.
  let start = from;
  for (const t of [...typed.keys()].sort((a, b) => a - b)) {
    if (t < start || t >= to) continue;
    method.compute(stretchOf(model, index, start, t + 1));
    applyOverride(model, index * model.count + t, typed.get(t) ?? {});
    start = t + 1;
  }
  if (start < to) method.compute(stretchOf(model, index, start, to));
}

function computeComponent(model: Model, { parts, together, circle }: Component): void {
  const { open, count, units, revenue } = model;
  if (circle) {
    for (const part of parts) {
      units.fill(Number.NaN, part * count + open, (part + 1) * count);
      revenue.fill(Number.NaN, part * count + open, (part + 1) * count);
    }
    return;
  }
  if (!together) {
    for (const part of parts) computeMonths(model, part, open, count);
    return;
  }
  for (let t = open; t < count; t += 1) {
    for (const part of parts) computeMonths(model, part, t, t + 1);
  }
}

/** Fills the result arrays of every stream. */
export function evaluate(model: Model): Model {
  for (const component of model.components) computeComponent(model, component);
  return model;
}

/** Computes streams anew, and whatever reads them. @returns their indexes in order */
function computeAnew(model: Model, touched: Iterable<number>): number[] {
  const streams = new Set(touched);
  // A set is walked in the order of adding: readers of readers are found on the way.
  for (const index of streams)
    for (const reader of model.readers.get(index) ?? []) streams.add(reader);
  const components = [...new Set([...streams].map((index) => model.componentOf[index] ?? 0))];
  const computed: number[] = [];
  for (const place of components.sort((a, b) => a - b)) {
    const component = model.components[place];
    if (!component) continue;
    computeComponent(model, component);
    computed.push(...component.parts);
  }
  return computed.sort((a, b) => a - b);
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
  for (const assumption of before) {
    model.drivers.holdings.get(assumption.driver)?.remove(assumption);
  }
  model.assumptions.apply(edit);
  for (const assumption of edit.put) {
    const holdings = model.drivers.holdings.get(assumption.driver);
    if (!holdings) throw new RangeError(`There is no driver "${assumption.driver}"`);
    holdings.add(assumption);
  }
  const touched = new Map<number, Set<string>>();
  for (const { scope, driver } of concerned) {
    const codes = model.drivers.withReaders(driver);
    for (const index of streamsIn(model, scope)) {
      const drivers = touched.get(index) ?? new Set<string>();
      touched.set(index, drivers);
      for (const code of codes) drivers.add(code);
    }
  }
  const using: number[] = [];
  for (const [index, drivers] of touched) {
    const compiled = model.streams[index];
    if (!compiled) continue;
    let any = false;
    compiled.codes.forEach((code, input) => {
      if (!drivers.has(code)) return;
      any = true;
      resolve(model.drivers, compiled, index, input, model.count);
    });
    if (any) using.push(index);
  }
  return computeAnew(model, using);
}

/**
 * Puts other overrides in place of those there are, and computes anew what they touch.
 * @returns the model with its overrides, and the indexes of the streams that were computed anew
 */
export function withOverrides(
  model: Model,
  overrides: readonly Override[],
): { readonly model: Model; readonly computed: readonly number[] } {
  const placeOf = new Map(model.streams.map(({ combination }, place) => [combination.id, place]));
  const next = overridesByStream(overrides, placeOf, model);
  const touched = new Set([...model.overrides.keys(), ...next.keys()]);
  const changed: Model = { ...model, plan: { ...model.plan, overrides }, overrides: next };
  for (const index of touched) {
    for (let t = model.open; t < model.count; t += 1) model.instead.delete(index * model.count + t);
  }
  return { model: changed, computed: computeAnew(changed, touched) };
}

/** Every open month in which a stream lacks an input, as problems that name driver, stream and month. */
export function missingInputs(model: Model): Problem[] {
  const problems: Problem[] = [];
  model.streams.forEach(({ stream, combination, codes, inputs }, index) => {
    codes.forEach((driver, input) => {
      const held = inputs[input];
      const known = model.plan.drivers.find(({ code }) => code === driver);
      if (!held || !known) return;
      const at = held.values.findIndex((value, t) => t >= model.open && Number.isNaN(value));
      if (at < 0) return;
      const month = monthText(model.first + at);
      const holder = held.holders[at] ?? MISSING;
      // A value that the driver forbids is told where it is set, once.
      if (holder > 0 && !model.drivers.holdings.get(driver)?.byLastYear(holder)) return;
      const where = { driver, stream: stream.id, month };
      const label = model.tree.label(combination.members);
      problems.push(
        holder === MISSING
          ? {
              code: 'missing-input',
              message: `${known.name} is missing for ${label} from ${month}; set it there or for a wider scope`,
              where,
            }
          : {
              code: 'no-value',
              message: model.drivers.whyNone(driver, combination.members, index, at),
              where,
            },
      );
    });
  });
  return problems;
}
