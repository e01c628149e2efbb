import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { Model } from '../forecast/model.ts';
import { inScope, rowTree } from '../tables/row-tree.ts';
import { MISSING, type HeldSeries } from './holding.ts';
import { scopeKey } from './scope-key.ts';

/** A row of a driver's table without its numbers. */
export interface DriverFrame {
  readonly key: string;
  readonly label: string;
  readonly level: number;
  /** The scope an assumption typed here gets. */
  readonly scope: Scope;
  readonly parent: boolean;
  /** How many streams lie below; 1 for a stream itself. */
  readonly streams: number;
  /** Whether the row is one stream, pinned in every dimension. */
  readonly leaf: boolean;
}

export interface DriverRow extends DriverFrame {
  /**
   * By month: the value that holds, the sum of a count, or the volume-weighted mean where values
   * differ; NaN when missing.
   */
  readonly values: Float64Array;
  /** By month: the assumption that holds in every stream of the row; 0 when they differ or none does. */
  readonly holders: Int32Array;
  /** By month: 1 where the value is a mean of different values below. */
  readonly mixed: Uint8Array;
  /** By month: 1 where the assumption that holds is set at exactly this row's scope. */
  readonly own: Uint8Array;
}

/** What a driver's table shows. */
export interface DriverQuery {
  readonly driver: string;
  /** Dimensions the rows are grouped by; the streams themselves come below. */
  readonly rows: readonly string[];
  readonly scope: Scope;
  /** Open months only; others are left out. */
  readonly span: Span;
}

/** Drivers of which the streams of a row add up; the rest are means weighted by volume. */
const ADDING: ReadonlySet<string> = new Set(['grossUnits', 'amount']);

/** What weighs a stream in a mean; list value for a discount, gross units for the rest. */
const WEIGHTS: Readonly<Record<string, readonly string[]>> = {
  listPrice: ['grossUnits'],
  returnRate: ['grossUnits'],
  discount: ['grossUnits', 'listPrice'],
};

/** Whether a driver's numbers add over streams, so that a total can be typed and is spread. */
export function addsOverStreams(driver: string): boolean {
  return ADDING.has(driver);
}

/** The drivers whose product weighs a stream in the mean of a driver. */
export function weightsOf(driver: string): readonly string[] {
  return WEIGHTS[driver] ?? [];
}

/** The rows of a driver's table, and which streams lie below each. An edit does not change them. */
export interface DriverFrames {
  readonly query: DriverQuery;
  readonly frames: readonly DriverFrame[];
  /** The places of streams below each row. */
  readonly parts: readonly (readonly number[])[];
  /** The first month of the columns, as an index from the plan's first one, and how many there are. */
  readonly from: number;
  readonly months: number;
}

/** The numbers of a driver's table, all rows one after the other, months innermost; see `DriverRow`. */
export interface DriverNumbers {
  readonly months: number;
  readonly values: Float64Array;
  readonly holders: Int32Array;
  readonly mixed: Uint8Array;
  readonly own: Uint8Array;
}

/**
 * The rows of a driver's table: scopes down to the single stream.
 * @param model compiled; results are not needed
 */
export function driverFrames(model: Model, query: DriverQuery): DriverFrames {
  const places = model.streams.flatMap(({ codes }, place) =>
    codes.includes(query.driver) ? [place] : [],
  );
  const combinations = places.map(
    (place) => model.streams[place]?.combination ?? { id: -1, members: [] },
  );
  const held = inScope(model.tree, combinations, query.scope);
  const rest = model.tree.dimensions
    .map(({ code }) => code)
    .filter((code) => !query.rows.includes(code));
  const grouped = rowTree(model.tree, combinations, query.rows, (index) => held.has(index));
  const frames: DriverFrame[] = [];
  const parts: (readonly number[])[] = [];
  const push = (frame: Omit<DriverFrame, 'streams'>, own: readonly number[]): void => {
    frames.push({ ...frame, streams: own.length });
    parts.push(own.map((part) => places[part] ?? -1));
  };
  push({ key: 'all', label: 'Everything', level: 0, scope: [], parent: true, leaf: false }, [
    ...held,
  ]);
  for (const { key, label, level, scope, parent, parts: own } of grouped) {
    push({ key, label, level: level + 1, scope, parent: true, leaf: false }, own);
    if (parent) continue;
    for (const part of own) {
      const members = combinations[part]?.members ?? [];
      const others = members.filter((_, position) =>
        rest.includes(model.tree.dimensions[position]?.code ?? ''),
      );
      const name = others.length > 0 ? model.tree.label(others) : label;
      const id = model.streams[places[part] ?? -1]?.stream.id ?? part;
      const below = { key: `${key}#${id}`, label: name, level: level + 2, scope: members };
      push({ ...below, parent: false, leaf: true }, [part]);
    }
  }
  const from = Math.max(model.open, query.span.from - model.first);
  const to = Math.min(model.count - 1, query.span.to - model.first);
  return { query, frames, parts, from, months: Math.max(0, to - from + 1) };
}

/** Fills the rows of a driver's table with what holds now, and the assumptions it rests on. */
export function driverNumbers(
  model: Model,
  { query, frames, parts, from, months }: DriverFrames,
): DriverNumbers {
  const size = frames.length * months;
  const numbers = {
    months,
    values: new Float64Array(size),
    holders: new Int32Array(size),
    mixed: new Uint8Array(size),
    own: new Uint8Array(size),
  };
  const adds = addsOverStreams(query.driver);
  const sources = new Map<number, Source>();
  const sourceAt = (place: number): Source | undefined => {
    const known = sources.get(place);
    if (known) return known;
    const compiled = model.streams[place];
    if (!compiled) return undefined;
    const made = sourceOf(compiled, query.driver);
    sources.set(place, made);
    return made;
  };
  const folding = new Folding(months);
  const scopes = new Map<number, string>();
  const scopeOf = (holder: number): string => {
    const known = scopes.get(holder);
    if (known !== undefined) return known;
    const assumption = model.assumptions.get(holder);
    const key = assumption ? scopeKey(assumption.scope) : '';
    scopes.set(holder, key);
    return key;
  };
  frames.forEach(({ scope }, row) => {
    folding.clear();
    for (const place of parts[row] ?? []) {
      const source = sourceAt(place);
      if (source) folding.take(source, from, !adds);
      else folding.lack();
    }
    const offset = row * months;
    folding.give(numbers, offset, adds);
    const ownKey = scopeKey(scope);
    // The same assumption holds month after month: whether it is set here is asked once.
    let holder = 0;
    let own = 0;
    for (let month = 0; month < months; month += 1) {
      const now = numbers.holders[offset + month] ?? 0;
      if (now !== holder) {
        holder = now;
        own = holder > 0 && scopeOf(holder) === ownKey ? 1 : 0;
      }
      numbers.own[offset + month] = own;
    }
  });
  return numbers;
}

/** Rows with their numbers, as views of the whole. */
export function driverRows(
  frames: readonly DriverFrame[],
  { months, values, holders, mixed, own }: DriverNumbers,
): DriverRow[] {
  return frames.map((frame, row) => {
    const [from, to] = [row * months, (row + 1) * months];
    return {
      ...frame,
      values: values.subarray(from, to),
      holders: holders.subarray(from, to),
      mixed: mixed.subarray(from, to),
      own: own.subarray(from, to),
    };
  });
}

/**
 * A driver by rows of scopes down to the single stream, over the open months of a span, with the
 * assumption that holds in each cell.
 * @param model compiled; results are not needed
 */
export function driverTable(model: Model, query: DriverQuery): DriverRow[] {
  const frames = driverFrames(model, query);
  return driverRows(frames.frames, driverNumbers(model, frames));
}

/** One stream's share in the cells: its values, which assumption gives each, and what weighs it. */
interface Source {
  readonly values: Float64Array;
  readonly holders: Int32Array;
  readonly weights: readonly Float64Array[];
}

function sourceOf({ stream, codes, inputs }: Model['streams'][number], driver: string): Source {
  const series = (code: string): HeldSeries | undefined => inputs[codes.indexOf(code)];
  const held = series(driver);
  if (!held) throw new RangeError(`Stream ${stream.id} does not use "${driver}"`);
  const weights = weightsOf(driver).flatMap((code) => series(code)?.values ?? []);
  return { ...held, weights };
}

/** Brings the streams of a row together month by month; made once and used for every row. */
class Folding {
  readonly #sum: Float64Array;
  readonly #weighted: Float64Array;
  readonly #weight: Float64Array;
  readonly #known: Int32Array;
  readonly #firstValue: Float64Array;
  readonly #firstHolder: Int32Array;
  /** 1 where two streams differ in their value; where in their assumption, or one has none. */
  readonly #otherValue: Uint8Array;
  readonly #otherHolder: Uint8Array;

  constructor(private readonly months: number) {
    this.#sum = new Float64Array(months);
    this.#weighted = new Float64Array(months);
    this.#weight = new Float64Array(months);
    this.#known = new Int32Array(months);
    this.#firstValue = new Float64Array(months);
    this.#firstHolder = new Int32Array(months);
    this.#otherValue = new Uint8Array(months);
    this.#otherHolder = new Uint8Array(months);
  }

  clear(): void {
    this.#sum.fill(0);
    this.#weighted.fill(0);
    this.#weight.fill(0);
    this.#known.fill(0);
    this.#firstValue.fill(Number.NaN);
    this.#firstHolder.fill(0);
    this.#otherValue.fill(0);
    this.#otherHolder.fill(0);
  }

  /** A stream that has nothing at all. */
  lack(): void {
    this.#otherHolder.fill(1);
  }

  take({ values, holders, weights }: Source, from: number, weighs: boolean): void {
    for (let month = 0; month < this.months; month += 1) {
      const t = from + month;
      const value = values[t] ?? Number.NaN;
      if (Number.isNaN(value)) {
        this.#otherHolder[month] = 1;
        continue;
      }
      const holder = holders[t] ?? MISSING;
      this.#sum[month] = (this.#sum[month] ?? 0) + value;
      if (weighs) {
        let heavy = 1;
        for (const series of weights) heavy *= series[t] || 0;
        this.#weighted[month] = (this.#weighted[month] ?? 0) + heavy * value;
        this.#weight[month] = (this.#weight[month] ?? 0) + heavy;
      }
      if (this.#known[month] === 0) {
        this.#firstValue[month] = value;
        this.#firstHolder[month] = holder;
      } else {
        if (value !== this.#firstValue[month]) this.#otherValue[month] = 1;
        if (holder !== this.#firstHolder[month]) this.#otherHolder[month] = 1;
      }
      this.#known[month] = (this.#known[month] ?? 0) + 1;
    }
  }

  give({ values, holders, mixed }: DriverNumbers, offset: number, adds: boolean): void {
    for (let month = 0; month < this.months; month += 1) {
      const at = offset + month;
      const differ = this.#otherValue[month] === 1;
      const first = this.#firstValue[month] ?? Number.NaN;
      const mean = differ ? (this.#weighted[month] ?? 0) / (this.#weight[month] ?? 0) : first;
      const holder = this.#firstHolder[month] ?? 0;
      values[at] = adds && (this.#known[month] ?? 0) > 0 ? (this.#sum[month] ?? 0) : mean;
      holders[at] = this.#otherHolder[month] === 0 && holder > 0 ? holder : 0;
      mixed[at] = differ && !adds ? 1 : 0;
    }
  }
}
