/** Runs of a plan: its structure under assumptions, adjustments and overrides, computed. */
import type { Component } from '../calculation/components.ts';
import { AssumptionSet } from '../drivers/assumption-set.ts';
import type { Adjustment } from '../drivers/adjustment.ts';
import type { Assumption } from '../drivers/assumption.ts';
import type { HeldSeries } from '../drivers/held-series.ts';
import { MISSING } from '../drivers/holding.ts';
import { DriverInputs } from '../drivers/inputs.ts';
import { observedIn, type ClosedMonths } from '../drivers/observed.ts';
import { FORECAST_RESULTS, RESULTS, type ResultCode } from '../measures/catalogue.ts';
import type { Results } from './actual-rows.ts';
import { annualShares } from './annual-shares.ts';
import { closedMonthsOf } from './closed-months.ts';
import { costOf } from './cost.ts';
import { COST_DRIVERS } from '../drivers/catalogue.ts';
import { METHODS } from './methods/index.ts';
import { at, type Prepared, type StreamResults, type Stretch } from './methods/method.ts';
import {
  applyOverride,
  overridesByStream,
  type BeforeOverride,
  type OverridesOf,
} from './overrides.ts';
import type { Override, Plan, StablePlan, Stream } from './plan.ts';
import {
  streamsIn,
  structureOf,
  withStreams,
  type CompiledAnew,
  type Structure,
} from './structure.ts';

/**
 * A plan ready to compute, and its results. Runs of one structure share what they do not change.
 * Results are columnar, one series a stream and result.
 */
export interface Model extends Structure {
  /** Another one when overrides are edited; see `change`. */
  plan: StablePlan;
  readonly assumptions: AssumptionSet;
  readonly drivers: DriverInputs;
  /** The closed months, as drivers hear what they say. */
  readonly closed: ClosedMonths;
  /** By stream, in the order of its `codes`. */
  readonly inputs: (readonly HeldSeries[])[];
  /** What is typed over the computed values, by stream and month. */
  readonly overrides: Map<number, OverridesOf>;
  /** What was computed where something is typed over it, by stream and month. */
  readonly beforeOverride: Map<number, Map<number, BeforeOverride>>;
  /**
   * By result, a series a stream: net units, revenue and cost of sales in currency units. Actuals in
   * closed months; NaN where an input is missing.
   */
  readonly results: Results;
}

/** What is laid over a run; see `runUnder`. */
export interface Layers {
  /** Over whatever drivers are, later ones over earlier ones. */
  readonly adjustments?: readonly Adjustment[];
  /** In place of the overrides there are. */
  readonly overrides?: readonly Override[];
  /** Streams set otherwise, in place of those of the same combinations. */
  readonly streams?: readonly Stream[];
}

/**
 * Resolves scopes and inputs, and puts streams in order. Nothing is computed yet; see `evaluate`.
 * @throws RangeError when streams overlap or name a combination that is not there
 */
export function compile(plan: Plan): Model {
  const { assumptions, adjustments = [], ...stable } = plan;
  const structure = structureOf(stable);
  const byDriver = new Map<string, Assumption[]>();
  for (const assumption of assumptions) {
    const ofDriver = byDriver.get(assumption.driver);
    if (ofDriver) ofDriver.push(assumption);
    else byDriver.set(assumption.driver, [assumption]);
  }
  const { results, closed } = closedMonthsOf(structure, (driver, members) =>
    drivers.holdings.get(driver)?.given(members),
  );
  const drivers: DriverInputs = DriverInputs.of(
    stable.drivers,
    byDriver,
    adjustments,
    structure.tree,
    structure,
    observedIn(closed),
    annualShares(structure, closed, (code) => drivers.withReaders(code)),
  );
  const model: Model = {
    ...structure,
    assumptions: new AssumptionSet(assumptions),
    drivers,
    closed,
    inputs: structure.streams.map((_, place) => inputsOf(structure, drivers, place)),
    overrides: overridesByStream(stable.overrides ?? [], structure),
    beforeOverride: new Map(),
    results,
  };
  for (const holdings of drivers.holdings.values()) holdings.standAlone();
  return model;
}

/** The plan a model stands for now, with every edit it has taken in. */
export function planOf(model: Model): Plan {
  const adjustments = [...model.drivers.adjustments];
  return {
    ...model.plan,
    assumptions: [...model.assumptions],
    ...(adjustments.length > 0 ? { adjustments } : {}),
  };
}

const noSeries = (count: number): HeldSeries => ({
  values: new Float64Array(count).fill(Number.NaN),
  holders: new Int32Array(count).fill(MISSING),
});

/** The series of one driver for a stream, as its method reads it. */
function inputOf(
  { streams, count }: Structure,
  drivers: DriverInputs,
  place: number,
  code: string,
): HeldSeries {
  const compiled = streams[place];
  // A driver that is not there is told by `checkPlan`; the rest of the plan still computes.
  if (!compiled || !drivers.holdings.has(code)) return noSeries(count);
  const { members } = compiled.combination;
  return METHODS[compiled.stream.method].readsClosedMonths
    ? drivers.seriesAsRead(code, members, place)
    : drivers.series(code, members, place);
}

function inputsOf(structure: Structure, drivers: DriverInputs, place: number): HeldSeries[] {
  const codes = structure.streams[place]?.codes ?? [];
  return codes.map((code) => inputOf(structure, drivers, place, code));
}

/**
 * What a stream's method found out from its history; made when it is asked for at first: whoever
 * only compiles a plan, to take an edit in, does not wait for it.
 */
function preparedOf(model: Model, index: number): Prepared | undefined {
  const compiled = model.streams[index];
  const { prepare } = METHODS[compiled?.stream.method ?? 'amount'];
  if (!compiled || !prepare) return undefined;
  compiled.prepared ??= prepare(stretchWith(undefined, model, index, model.open, model.count));
  return compiled.prepared;
}

/** What months forecast anew read and write, over some of them. */
export function stretchAnew(
  model: Model,
  index: number,
  anew: CompiledAnew,
  from = anew.from,
  to = anew.to,
): Stretch {
  const whole = stretchWith(undefined, model, index, from, to);
  const inputs = anew.codes.map((code) => seriesOfDriver(model, index, code)?.values ?? NO_MONTHS);
  const stretch = { ...whole, stream: anew.stream, inputs, others: [], givers: () => [] };
  if (!anew.prepared) {
    const prepared = METHODS[anew.stream.method].prepare?.(stretch);
    anew.prepared = prepared && { ...prepared, words: `Reforecast: ${prepared.words}` };
  }
  return { ...stretch, prepared: anew.prepared };
}

/** The results of one stream. */
export function resultsOf({ results }: Pick<Model, 'results'>, index: number): StreamResults {
  const { units, revenue, cost } = results;
  return {
    units: units[index] ?? NO_MONTHS,
    revenue: revenue[index] ?? NO_MONTHS,
    cost: cost[index] ?? NO_MONTHS,
  };
}
const NO_MONTHS = new Float64Array();

/** What a stream's method reads and writes, over some of its months. */
export function stretchOf(
  model: Model,
  index: number,
  from = model.open,
  to = model.count,
): Stretch {
  return stretchWith(preparedOf(model, index), model, index, from, to);
}

function stretchWith(
  prepared: Prepared | undefined,
  model: Model,
  index: number,
  from: number,
  to: number,
): Stretch {
  const compiled = model.streams[index];
  if (!compiled) throw new RangeError(`There is no stream at ${index}`);
  const inputs = model.inputs[index] ?? [];
  const arraysOfStream: Float64Array[] = [];
  for (let place = 0; place < compiled.needed; place += 1) {
    arraysOfStream.push(inputs[place]?.values ?? NO_MONTHS);
  }
  return {
    stream: compiled.stream,
    inputs: arraysOfStream,
    results: resultsOf(model, index),
    others: compiled.others.map((other) => (other < 0 ? undefined : resultsOf(model, other))),
    givers: () => compiled.givers.map((giver) => stretchOf(model, giver)),
    from,
    to,
    open: model.open,
    count: model.count,
    first: model.first,
    fiscalStart: model.plan.calendar.fiscalStart,
    prepared,
  };
}

/** The series of a driver for a stream, also where its method does not read it itself. */
export function seriesOfDriver(model: Model, index: number, code: string): HeldSeries | undefined {
  const compiled = model.streams[index];
  if (!compiled || !model.drivers.holdings.has(code)) return undefined;
  const place = compiled.codes.indexOf(code);
  return (
    model.inputs[index]?.[place] ?? model.drivers.series(code, compiled.combination.members, index)
  );
}

/** Cost of sales over some months, by what stands in the results. */
function computeCost(model: Model, index: number, from: number, to: number): void {
  const { codes = [], needed = 0 } = model.streams[index] ?? {};
  const inputs = model.inputs[index] ?? [];
  const unitCost = inputs[codes.indexOf('unitCost', needed)]?.values ?? NO_MONTHS;
  const share = inputs[codes.indexOf('costShare', needed)]?.values ?? NO_MONTHS;
  const units = model.results.units[index] ?? NO_MONTHS;
  const revenue = model.results.revenue[index] ?? NO_MONTHS;
  const cost = model.results.cost[index] ?? NO_MONTHS;
  if (COST_DRIVERS.every((code) => model.drivers.hasNone(code))) {
    cost.fill(Number.NaN, from, to);
    return;
  }
  for (let t = from; t < to; t += 1) {
    cost[t] = costOf(at(units, t), at(revenue, t), at(unitCost, t), at(share, t));
  }
}

/** Computes some months of a stream; what is typed over them is put in its place at once. */
function computeMonths(model: Model, index: number, from: number, to: number): void {
  const compiled = model.streams[index];
  if (!compiled) return;
  if (compiled.mistakes.length > 0) {
    for (const code of FORECAST_RESULTS) model.results[code][index]?.fill(Number.NaN, from, to);
  }
  const method = METHODS[compiled.stream.method];
  const byMethod = (start: number, end: number): void => {
    if (compiled.mistakes.length > 0 || start >= end) return;
    method.compute(stretchOf(model, index, start, end));
  };
  const compute = (start: number, end: number): void => {
    let next = start;
    for (const anew of compiled.anew) {
      const [begin, stop] = [Math.max(anew.from, next), Math.min(anew.to, end)];
      if (begin >= stop) continue;
      byMethod(next, begin);
      METHODS[anew.stream.method].compute(stretchAnew(model, index, anew, begin, stop));
      next = stop;
    }
    byMethod(next, end);
  };
  const typed = model.overrides.get(index);
  let start = from;
  if (typed) {
    // What comes later may read the typed month, so the stretch ends there and another one begins.
    for (const t of [...typed.keys()].sort((a, b) => a - b)) {
      if (t < start || t >= to) continue;
      compute(start, t + 1);
      const before = applyOverride(resultsOf(model, index), t, typed.get(t) ?? {});
      const ofStream = model.beforeOverride.get(index) ?? new Map<number, BeforeOverride>();
      model.beforeOverride.set(index, ofStream.set(t, before));
      start = t + 1;
    }
  }
  if (start < to) compute(start, to);
  computeCost(model, index, from, to);
}

function computeComponent(model: Model, { parts, together, circle }: Component): void {
  const { open, count } = model;
  if (circle) {
    for (const part of parts) {
      for (const code of RESULTS) model.results[code][part]?.fill(Number.NaN, open, count);
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

/** Fills the results of every stream. */
export function evaluate(model: Model): Model {
  for (const _ of evaluating(model));
  return model;
}

/** The same, component by component: whoever runs it can do something else in between. */
export function* evaluating(model: Model): Generator<void, void> {
  for (const component of model.components) {
    computeComponent(model, component);
    yield;
  }
}

/** The components of streams and of whatever reads them, in the order of computing. */
function componentsFrom(model: Structure, touched: Iterable<number>): Component[] {
  const streams = new Set(touched);
  // A set is walked in the order of adding: readers of readers are found on the way.
  for (const index of streams)
    for (const reader of model.readers.get(index) ?? []) streams.add(reader);
  const places = new Set([...streams].map((index) => model.componentOf[index] ?? 0));
  return [...places].sort((a, b) => a - b).flatMap((place) => model.components[place] ?? []);
}

/** Computes streams anew, and whatever reads them. @returns their indexes in order */
export function computeAnew(model: Model, touched: Iterable<number>): number[] {
  const components = componentsFrom(model, touched);
  for (const component of components) computeComponent(model, component);
  return components.flatMap(({ parts }) => parts).sort((a, b) => a - b);
}

/** Resolves inputs anew. @returns the streams that read any of the drivers */
export function resolveAnew(
  model: Model,
  touched: ReadonlyMap<number, ReadonlySet<string>>,
): number[] {
  const using: number[] = [];
  for (const [index, drivers] of touched) {
    const compiled = model.streams[index];
    const before = model.inputs[index] ?? [];
    if (!compiled?.codes.some((code) => drivers.has(code))) continue;
    model.inputs[index] = compiled.codes.map((code, place) => {
      const computedBefore = drivers.has(code) ? undefined : before[place];
      return computedBefore ?? inputOf(model, model.drivers, index, code);
    });
    using.push(index);
  }
  return using;
}

/** Which drivers of which streams changes of scopes touch. */
export function touchedBy(
  model: Model,
  changes: Iterable<{ readonly driver: string; readonly scope: readonly number[] }>,
): Map<number, Set<string>> {
  const touched = new Map<number, Set<string>>();
  for (const { scope, driver } of changes) {
    const codes = model.drivers.withReaders(driver);
    for (const index of streamsIn(model, scope)) {
      const drivers = touched.get(index) ?? new Set<string>();
      touched.set(index, drivers);
      for (const code of codes) drivers.add(code);
    }
  }
  return touched;
}

/**
 * A run under further layers, beside the one beneath: what the layers do not touch is shared with
 * it and costs nothing. Changes of the run beneath do not reach what was computed here.
 * @param beneath evaluated
 */
export function runUnder(beneath: Model, layers: Layers): Model {
  const { adjustments = [], overrides, streams } = layers;
  const structure = streams ? withStreams(beneath, streams) : beneath;
  // Streams by another method read other drivers: totals are divided over whoever reads them.
  const divided = streams ? beneath.drivers.divided : [];
  const shares =
    divided.length > 0
      ? annualShares(structure, beneath.closed, (code) => beneath.drivers.withReaders(code))
      : undefined;
  const drivers =
    adjustments.length > 0 || shares ? beneath.drivers.under(adjustments, shares) : beneath.drivers;
  const model: Model = {
    ...beneath,
    ...structure,
    plan: overrides ? { ...structure.plan, overrides } : structure.plan,
    drivers,
    inputs: beneath.inputs.slice(),
    overrides: overrides ? overridesByStream(overrides, structure) : new Map(beneath.overrides),
    beforeOverride: new Map(beneath.beforeOverride),
    results: {
      units: beneath.results.units.slice(),
      revenue: beneath.results.revenue.slice(),
      cost: beneath.results.cost.slice(),
    },
  };
  const changed = (streams ?? []).flatMap(
    ({ combination }) => model.placeOf.get(combination) ?? [],
  );
  for (const place of changed) model.inputs[place] = inputsOf(model, drivers, place);
  const others = divided.map((driver) => ({ driver, scope: [] }));
  const using = resolveAnew(model, touchedBy(model, [...adjustments, ...others]));
  const typed = overrides ? [...beneath.overrides.keys(), ...model.overrides.keys()] : [];
  // Who was fed by a stream that was set otherwise is fed by it no more.
  const fed = changed.flatMap((place) => beneath.readers.get(place) ?? []);
  const components = componentsFrom(model, [...changed, ...fed, ...using, ...typed]);
  for (const part of components.flatMap(({ parts }) => parts)) {
    model.beforeOverride.delete(part);
    for (const code of RESULTS) {
      const resultOfStream = model.results[code][part];
      if (resultOfStream) model.results[code][part] = resultOfStream.slice();
    }
  }
  for (const component of components) computeComponent(model, component);
  return model;
}

/** What a stretch of months of some streams comes to; what is missing takes no part. */
export function totalOf(
  model: Model,
  result: ResultCode,
  indexes: readonly number[],
  { from, to }: { readonly from: number; readonly to: number },
): number {
  let sum = 0;
  for (const index of indexes) {
    const series = model.results[result][index];
    const end = Math.min(to - model.first, model.count - 1);
    for (let t = Math.max(0, from - model.first); t <= end; t += 1) sum += series?.[t] || 0;
  }
  return sum;
}
