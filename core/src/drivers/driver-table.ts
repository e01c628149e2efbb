import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { Model } from '../forecast/model.ts';
import { inScope, rowTree } from '../tables/row-tree.ts';
import { MISSING, type HeldSeries } from './holding.ts';
import { scopeKey } from './scope-key.ts';

export interface DriverRow {
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

/** How the streams of a row come to one number: counts add, the rest are means weighted by volume. */
type Fold = 'add' | 'mean';

const FOLDS: Readonly<Record<string, Fold>> = { grossUnits: 'add', amount: 'add' };

/** What weighs a stream in a mean; list value for a discount, gross units for the rest. */
const WEIGHTS: Readonly<Record<string, readonly string[]>> = {
  listPrice: ['grossUnits'],
  returnRate: ['grossUnits'],
  discount: ['grossUnits', 'listPrice'],
};

/** Whether a driver's numbers add over streams, so that a total can be typed and is spread. */
export function addsOverStreams(driver: string): boolean {
  return FOLDS[driver] === 'add';
}

/** The drivers whose product weighs a stream in the mean of a driver. */
export function weightsOf(driver: string): readonly string[] {
  return WEIGHTS[driver] ?? [];
}

/**
 * A driver by rows of scopes down to the single stream, over the open months of a span, with the
 * assumption that holds in each cell.
 * @param model compiled; results are not needed
 */
export function driverTable(model: Model, query: DriverQuery): DriverRow[] {
  const using = model.streams.filter(({ codes }) => codes.includes(query.driver));
  const combinations = using.map(({ combination }) => combination);
  const held = inScope(model.tree, combinations, query.scope);
  const rest = model.tree.dimensions
    .map(({ code }) => code)
    .filter((code) => !query.rows.includes(code));
  const grouped = rowTree(model.tree, combinations, query.rows, (index) => held.has(index));

  const from = Math.max(model.open, query.span.from - model.first);
  const to = Math.min(model.count - 1, query.span.to - model.first);
  const sources = using.map((compiled) => sourceOf(compiled, query.driver));
  const fold: Fold = addsOverStreams(query.driver) ? 'add' : 'mean';
  const rows: DriverRow[] = [];
  type Frame = Omit<DriverRow, 'streams' | 'values' | 'holders' | 'mixed' | 'own'>;
  const push = (frame: Frame, parts: readonly number[]): void => {
    const months = Math.max(0, to - from + 1);
    const row = {
      ...frame,
      streams: parts.length,
      values: new Float64Array(months),
      holders: new Int32Array(months),
      mixed: new Uint8Array(months),
      own: new Uint8Array(months),
    };
    const ownKey = scopeKey(frame.scope);
    // The same assumption holds month after month: whether it is set here is asked once.
    let holder = 0;
    let own = 0;
    for (let month = 0; month < months; month += 1) {
      const cell = cellOf(parts, sources, from + month, fold);
      if (cell.holder !== holder) {
        holder = cell.holder;
        const assumption = model.assumptions.get(holder);
        own = assumption && scopeKey(assumption.scope) === ownKey ? 1 : 0;
      }
      row.values[month] = cell.value;
      row.holders[month] = cell.holder;
      row.mixed[month] = cell.mixed ? 1 : 0;
      row.own[month] = own;
    }
    rows.push(row);
  };
  push({ key: 'all', label: 'Everything', level: 0, scope: [], parent: true, leaf: false }, [
    ...held,
  ]);
  for (const node of grouped) {
    const deepest = !node.parent;
    const level = node.level + 1;
    push({ ...node, level, parent: true, leaf: false }, node.parts);
    if (!deepest) continue;
    for (const part of node.parts) {
      const members = combinations[part]?.members ?? [];
      const others = members.filter((_, position) =>
        rest.includes(model.tree.dimensions[position]?.code ?? ''),
      );
      const label = others.length > 0 ? model.tree.label(others) : node.label;
      const key = `${node.key}#${using[part]?.stream.id ?? part}`;
      push({ key, label, level: level + 1, scope: members, parent: false, leaf: true }, [part]);
    }
  }
  return rows;
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

function cellOf(
  parts: readonly number[],
  sources: readonly Source[],
  t: number,
  fold: Fold,
): { value: number; holder: number; mixed: boolean } {
  let sum = 0;
  let weighted = 0;
  let weight = 0;
  let known = 0;
  let firstValue = Number.NaN;
  let firstHolder = 0;
  let sameValue = true;
  let sameHolder = true;
  for (const part of parts) {
    const source = sources[part];
    const value = source?.values[t] ?? Number.NaN;
    const holder = source?.holders[t] ?? MISSING;
    if (!source || Number.isNaN(value)) {
      sameHolder = false;
      continue;
    }
    let heavy = 1;
    for (const series of source.weights) heavy *= series[t] || 0;
    sum += value;
    weighted += heavy * value;
    weight += heavy;
    if (known === 0) {
      firstValue = value;
      firstHolder = holder;
    }
    known += 1;
    if (value !== firstValue) sameValue = false;
    if (holder !== firstHolder) sameHolder = false;
  }
  const mean = sameValue ? firstValue : weighted / weight;
  return {
    value: fold === 'add' && known > 0 ? sum : mean,
    holder: sameHolder && firstHolder > 0 ? firstHolder : 0,
    mixed: !sameValue && fold === 'mean',
  };
}
