/** A driver by rows of scopes and months: what holds, and where it is set. */
import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { inScope, rowTree } from '../dimensions/row-tree.ts';
import { inBoth } from '../dimensions/scopes.ts';
import type { Driver } from '../drivers/driver.ts';
import type { HeldSeries } from '../drivers/held-series.ts';
import { scopeKey } from '../drivers/scope-key.ts';
import type { Model } from '../forecast/run.ts';
import { DriverRollUp, streamsOfDriver } from './rolled.ts';

/** A row of a driver's table without its numbers. */
export interface DriverRowHead {
  readonly key: string;
  readonly label: string;
  readonly level: number;
  /** What of the row lies in the scope of the table: nothing typed here reaches beyond it. */
  readonly scope: Scope;
  readonly parent: boolean;
  /** How many streams lie below; 1 for a stream itself. */
  readonly streams: number;
  /** Whether the row is one stream, pinned in every dimension. */
  readonly leaf: boolean;
}

export interface DriverRow extends DriverRowHead {
  /** By month: what holds, rolled up by the driver's nature; NaN when missing. */
  readonly values: Float64Array;
  /** The same over all months of the table. */
  readonly total: number;
  /** By month: the assumption that holds in every stream of the row; 0 when they differ or none does. */
  readonly holders: Int32Array;
  /** By month: 1 where the value is a mean of different values below. */
  readonly mixed: Uint8Array;
  /** By month: 1 where what holds is set, or adjusted, at exactly this row's scope. */
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

/** The rows of a driver's table, and which streams lie below each. An edit does not change them. */
export interface DriverRowHeads {
  readonly query: DriverQuery;
  readonly heads: readonly DriverRowHead[];
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
  /** One a row. */
  readonly totals: Float64Array;
  readonly holders: Int32Array;
  readonly mixed: Uint8Array;
  readonly own: Uint8Array;
}

/**
 * The rows of a driver's table: scopes down to the single stream.
 * @param model compiled; results are not needed
 */
export function driverRowHeads(model: Model, query: DriverQuery): DriverRowHeads {
  const places = streamsOfDriver(model, query.driver);
  const combinations = places.map(
    (place) => model.streams[place]?.combination ?? { id: -1, members: [] },
  );
  const held = inScope(model.tree, combinations, query.scope);
  const rest = model.tree.dimensions
    .map(({ code }) => code)
    .filter((code) => !query.rows.includes(code));
  const grouped = rowTree(model.tree, combinations, query.rows, (index) => held.has(index));
  const heads: DriverRowHead[] = [];
  const parts: (readonly number[])[] = [];
  const push = (head: Omit<DriverRowHead, 'streams'>, own: readonly number[]): void => {
    heads.push({ ...head, streams: own.length });
    parts.push(own.map((part) => places[part] ?? -1));
  };
  const all = { key: 'all', label: 'Everything', level: 0, scope: query.scope };
  push({ ...all, parent: true, leaf: false }, [...held]);
  for (const { key, label, level, scope, parent, parts: own } of grouped) {
    const inSight = inBoth(model.tree, scope, query.scope);
    push({ key, label, level: level + 1, scope: inSight, parent: true, leaf: false }, own);
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
  return { query, heads, parts, from, months: Math.max(0, to - from + 1) };
}

/** @throws RangeError for a driver that is not there */
export function driverNamed(model: Model, code: string): Driver {
  const driver = model.plan.drivers.find((candidate) => candidate.code === code);
  if (!driver) throw new RangeError(`There is no driver "${code}"`);
  return driver;
}

/** Numbers of a driver's table with the series they were made from, for the next time. */
export interface MadeNumbers {
  readonly numbers: DriverNumbers;
  /** By stream; an edit puts other series in place of those that it changes. */
  readonly series: readonly (HeldSeries | null)[];
}

/**
 * The rows of a table whose numbers are no longer what they were: those with a stream that has
 * another series now. Means above several streams are also weighted anew.
 */
function rowsToMake(
  rolled: DriverRollUp,
  { heads, parts }: DriverRowHeads,
  series: readonly (HeldSeries | null)[],
  before: MadeNumbers | undefined,
): boolean[] {
  const weighted = rolled.nature !== 'flow' && rolled.nature !== 'stock';
  return heads.map((_, row) => {
    const streams = parts[row] ?? [];
    if (!before || (weighted && streams.length > 1)) return true;
    return streams.some((index) => series[index] !== before.series[index]);
  });
}

/**
 * Fills the rows of a driver's table with what holds now, and the assumptions it rests on.
 * @param model evaluated: means are weighted by what is computed
 * @param before of the same rows: what an edit did not touch is taken from there
 */
export function driverNumbers(
  model: Model,
  made: DriverRowHeads,
  before?: MadeNumbers,
): MadeNumbers {
  const { query, heads, parts, from, months } = made;
  const size = heads.length * months;
  const old = before?.numbers;
  const numbers = {
    months,
    values: old?.values.slice() ?? new Float64Array(size),
    totals: old?.totals.slice() ?? new Float64Array(heads.length),
    holders: old?.holders.slice() ?? new Int32Array(size),
    mixed: old?.mixed.slice() ?? new Uint8Array(size),
    own: old?.own.slice() ?? new Uint8Array(size),
  };
  const rolled = new DriverRollUp(model, driverNamed(model, query.driver));
  const series: (HeldSeries | null)[] = [];
  for (const index of new Set(parts.flat())) series[index] = rolled.series(index);
  const anew = rowsToMake(rolled, made, series, before);
  const scopes = new Map<number, string>();
  const scopeOf = (holder: number): string => {
    const placeBefore = scopes.get(holder);
    if (placeBefore !== undefined) return placeBefore;
    const assumption = model.assumptions.get(holder);
    const key = assumption ? scopeKey(assumption.scope) : '';
    scopes.set(holder, key);
    return key;
  };
  const { adjustments } = model.drivers;
  const adjusted = adjustments.has(query.driver);
  heads.forEach(({ scope }, row) => {
    const streams = parts[row] ?? [];
    const ownKey = scopeKey(scope);
    // The mean of all months is weighted by what the plan computes, also where no value changed.
    if (anew[row] || rolled.nature === 'ratio') {
      numbers.totals[row] =
        months > 0 ? rolled.over(streams, from, from + months - 1).value : Number.NaN;
    }
    if (!anew[row]) return;
    for (let month = 0; month < months; month += 1) {
      const at = row * months + month;
      const t = from + month;
      const { value, differs } = rolled.over(streams, t, t);
      numbers.values[at] = value;
      numbers.mixed[at] = differs ? 1 : 0;
      const holder = commonHolder(rolled, streams, t);
      numbers.holders[at] = holder;
      const typed = adjusted && adjustments.at(query.driver, scope, model.first + t).length > 0;
      numbers.own[at] = typed || (holder > 0 && scopeOf(holder) === ownKey) ? 1 : 0;
    }
  });
  return { numbers, series };
}

/** The assumption that holds for all of some streams in a month; 0 where they differ or none does. */
function commonHolder(rolled: DriverRollUp, streams: readonly number[], t: number): number {
  let common = -1;
  for (const index of streams) {
    const holder = rolled.series(index)?.holders[t] ?? 0;
    if (holder <= 0 || (common !== -1 && holder !== common)) return 0;
    common = holder;
  }
  return Math.max(0, common);
}

/** Rows with their numbers, as views of the whole. */
export function driverRows(
  heads: readonly DriverRowHead[],
  { months, values, totals, holders, mixed, own }: DriverNumbers,
): DriverRow[] {
  return heads.map((head, row) => {
    const [from, to] = [row * months, (row + 1) * months];
    return {
      ...head,
      values: values.subarray(from, to),
      total: totals[row] ?? Number.NaN,
      holders: holders.subarray(from, to),
      mixed: mixed.subarray(from, to),
      own: own.subarray(from, to),
    };
  });
}

/**
 * A driver by rows of scopes down to the single stream, over the open months of a span, with the
 * assumption that holds in each cell.
 * @param model evaluated
 */
export function driverTable(model: Model, query: DriverQuery): DriverRow[] {
  const heads = driverRowHeads(model, query);
  return driverRows(heads.heads, driverNumbers(model, heads).numbers);
}
