/** What a plan is whatever its numbers: its streams, what they read, and in which order. */
import { componentsOf, type Component } from '../calculation/components.ts';
import { monthFrom, type Month } from '../calendar/month.ts';
import type { Combination, Scope } from '../dimensions/dimension.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import { COST_DRIVERS } from '../drivers/catalogue.ts';
import type { Driver } from '../drivers/driver.ts';
import { streamAnew } from './anew.ts';
import { METHODS } from './methods/index.ts';
import type { Prepared, StreamReading } from './methods/method.ts';
import type { StablePlan, Stream } from './plan.ts';

/** Months of a stream that are forecast anew, laid out. */
export interface CompiledAnew {
  /** The first of them and one past the last, counted from the plan's first month. */
  readonly from: number;
  readonly to: number;
  /** The stream as it is forecast there, and the drivers that this reads. */
  readonly stream: Stream;
  readonly codes: readonly string[];
  prepared: Prepared | undefined;
}

/** A stream with what it reads. */
export interface CompiledStream {
  readonly stream: Stream;
  readonly combination: Combination;
  /**
   * The drivers it reads: those of its method in their order, then those of cost of sales, then what
   * only months forecast anew read.
   */
  readonly codes: readonly string[];
  /** How many of `codes` its method reads; without any of these it cannot be computed. */
  readonly needed: number;
  /** The places of the streams it reads; -1 for one that is not there. */
  readonly others: readonly number[];
  /** The places of the streams that feed it. */
  readonly givers: readonly number[];
  /** Why it cannot be computed as it is set; empty when it can. */
  readonly mistakes: readonly string[];
  /** What its method found out from its history; made when it is asked for at first. */
  prepared: Prepared | undefined;
  /** The months in which a baseline stands in place of its method. */
  readonly anew: readonly CompiledAnew[];
}

/** The months forecast anew among which a month is; undefined where the method forecasts it. */
export function anewAt({ anew }: CompiledStream, t: number): CompiledAnew | undefined {
  for (const one of anew) if (t >= one.from && t < one.to) return one;
  return undefined;
}

/** Whether a stream is computed in a month from the driver at a place among its codes. */
export function readsIn(compiled: CompiledStream, input: number, t: number): boolean {
  const anew = anewAt(compiled, t);
  return anew ? anew.codes.includes(compiled.codes[input] ?? '') : input < compiled.needed;
}

/** A plan laid out: the same for every run of it. */
export interface Structure {
  readonly plan: StablePlan;
  readonly tree: MemberTree;
  readonly first: Month;
  /** Months in all, from the first with history to the end of the horizon. */
  readonly count: number;
  /** The first open month, counted from `first`. */
  readonly open: number;
  readonly streams: readonly CompiledStream[];
  /** The place of each combination's stream. */
  readonly placeOf: ReadonlyMap<number, number>;
  /** Which streams lie below a member, by index. */
  readonly streamsBelow: ReadonlyMap<number, readonly number[]>;
  /** Streams in an order in which they can be computed; those that read each other together. */
  readonly components: readonly Component[];
  /** The component of each stream, and the streams that read each one. */
  readonly componentOf: Int32Array;
  readonly readers: ReadonlyMap<number, readonly number[]>;
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
        const streamsBelow = below.get(member);
        if (streamsBelow) streamsBelow.push(index);
        else below.set(member, [index]);
      }
    }
  });
  return below;
}

const NOBODY: readonly number[] = [];

/** Compiles streams one by one; thousands of them read the same drivers and share one list. */
function streamCompiler(
  drivers: readonly Driver[],
  combinations: ReadonlyMap<number, Combination>,
  placeOf: ReadonlyMap<number, number>,
  { first, count, open }: Pick<Structure, 'first' | 'count' | 'open'>,
): (stream: Stream) => CompiledStream {
  const lists = new Map<string, readonly string[]>();
  const there = new Set(drivers.map(({ code }) => code));
  const costs = COST_DRIVERS.filter((code) => there.has(code));
  return (stream) => {
    const method = METHODS[stream.method];
    const methodInputs = method.inputs(stream);
    const anew = (stream.settings?.anew ?? []).flatMap((one): CompiledAnew[] => {
      const from = Math.max(monthFrom(one.from) - first, open);
      const to = Math.min(monthFrom(one.to) - first + 1, count);
      const forecastAs = streamAnew(stream, one);
      const { inputs } = METHODS[forecastAs.method];
      const laidOut = { from, to, stream: forecastAs, codes: inputs(forecastAs) };
      return from < to ? [{ ...laidOut, prepared: undefined }] : [];
    });
    const ofMethod = [...methodInputs, ...costs];
    const others = anew.flatMap(({ codes }) => codes).filter((code) => !ofMethod.includes(code));
    const all = [...ofMethod, ...new Set(others)];
    const key = all.join();
    const codes = lists.get(key) ?? all;
    lists.set(key, codes);
    const reads = method.reads?.(stream) ?? [];
    return {
      stream,
      combination: combinations.get(stream.combination) ?? { id: -1, members: [] },
      codes,
      needed: methodInputs.length,
      others:
        reads.length > 0 ? reads.map(({ combination }) => placeOf.get(combination) ?? -1) : NOBODY,
      givers: NOBODY,
      mistakes: method.mistakes?.(stream, drivers, count) ?? [],
      prepared: undefined,
      anew,
    };
  };
}

/** Streams with those that feed them. */
function withGivers(
  streams: readonly CompiledStream[],
  placeOf: ReadonlyMap<number, number>,
): readonly CompiledStream[] {
  const givers = new Map<number, number[]>();
  streams.forEach(({ stream }, giver) => {
    for (const { combination } of METHODS[stream.method].feeds?.(stream) ?? []) {
      const place = placeOf.get(combination);
      if (place !== undefined) givers.set(place, [...(givers.get(place) ?? []), giver]);
    }
  });
  return streams.map((one, place) => {
    const now = givers.get(place) ?? NOBODY;
    return now.join() === one.givers.join() ? one : { ...one, givers: now };
  });
}

/** The order of streams, and who reads whom. */
function orderOf(
  streams: readonly CompiledStream[],
  placeOf: ReadonlyMap<number, number>,
): Pick<Structure, 'components' | 'componentOf' | 'readers'> {
  const placed = (list: readonly StreamReading[] = []): { of: number; lag: number }[] =>
    list.flatMap(({ combination, lag }) => {
      const of = placeOf.get(combination);
      return of === undefined ? [] : [{ of, lag }];
    });
  const readings = streams.map(({ stream }) => placed(METHODS[stream.method].reads?.(stream)));
  // Who is fed by a stream reads it.
  streams.forEach(({ stream }, giver) => {
    for (const { of, lag } of placed(METHODS[stream.method].feeds?.(stream))) {
      readings[of]?.push({ of: giver, lag });
    }
  });
  const components = componentsOf(readings);
  const componentOf = new Int32Array(streams.length);
  components.forEach(({ parts }, place) => {
    for (const part of parts) componentOf[part] = place;
  });
  const readers = new Map<number, number[]>();
  readings.forEach((list, reader) => {
    for (const { of } of list) {
      const readersOfCode = readers.get(of);
      if (readersOfCode) readersOfCode.push(reader);
      else readers.set(of, [reader]);
    }
  });
  return { components, componentOf, readers };
}

/**
 * Lays a plan out. Nothing is resolved or computed yet.
 * @throws RangeError when streams overlap or name a combination that is not there
 */
export function structureOf(plan: StablePlan): Structure {
  const tree = new MemberTree(plan.dimensions);
  const first = monthFrom(plan.calendar.first);
  const count = monthFrom(plan.calendar.last) - first + 1;
  const open = monthFrom(plan.calendar.closedThrough) - first + 1;
  const combinations = new Map(plan.combinations.map((c) => [c.id, c]));
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
        `${tree.label(combination.members)} has two forecast lines; there can be only one`,
      );
    }
    placeOf.set(combination.id, place);
  });
  const streams = withGivers(
    plan.streams.map(streamCompiler(plan.drivers, combinations, placeOf, { first, count, open })),
    placeOf,
  );
  return {
    plan,
    tree,
    first,
    count,
    open,
    streams,
    placeOf,
    streamsBelow: streamsByMember(streams, tree),
    ...orderOf(streams, placeOf),
  };
}

/**
 * The same plan with some streams set otherwise, by another method or other settings.
 * @param changed streams that are there already, as they shall be
 */
export function withStreams(structure: Structure, changed: readonly Stream[]): Structure {
  const { plan, placeOf } = structure;
  const combinations = new Map(plan.combinations.map((c) => [c.id, c]));
  const compiled = streamCompiler(plan.drivers, combinations, placeOf, structure);
  const replaced = structure.streams.slice();
  const list = plan.streams.slice();
  for (const stream of changed) {
    const place = placeOf.get(stream.combination);
    if (place === undefined) continue;
    replaced[place] = compiled(stream);
    list[place] = stream;
  }
  const streams = withGivers(replaced, placeOf);
  return {
    ...structure,
    plan: { ...plan, streams: list },
    streams,
    ...orderOf(streams, placeOf),
  };
}

/** The indexes of the streams that a scope holds, found through its rarest member. */
export function streamsIn(structure: Structure, scope: Scope): number[] {
  const { tree, streams, streamsBelow } = structure;
  const lists = scope.map((member) => streamsBelow.get(member) ?? []);
  const dimensions = new Set(scope.map((member) => tree.dimensionOf(member)));
  if (scope.length === 0) return streams.map((_, index) => index);
  const shortest =
    dimensions.size === scope.length
      ? lists.reduce((best, list) => (list.length < best.length ? list : best))
      : streams.map((_, index) => index);
  return shortest.filter((index) => tree.covers(scope, streams[index]?.combination.members ?? []));
}
