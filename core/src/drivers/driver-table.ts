import type { Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { Model } from '../forecast/model.ts';
import { METHODS } from '../forecast/methods/index.ts';
import { inScope, rowTree } from '../tables/row-tree.ts';
import type { Assumption } from './assumption.ts';
import { MISSING, scopeKey } from './holding.ts';

/** A month of a driver at a row. */
export interface DriverCell {
  /** The value that holds, the sum of a count, or the volume-weighted mean where values differ; null when missing. */
  readonly value: number | null;
  /** The assumption that holds in every stream of the row; null when they differ or none does. */
  readonly holder: number | null;
  /** Whether the value is a mean of different values below. */
  readonly mixed: boolean;
  /** Whether that assumption is set at exactly this row's scope. */
  readonly own: boolean;
}

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
  readonly cells: readonly DriverCell[];
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

const FOLDS: Readonly<Record<string, Fold>> = { grossUnits: 'add' };

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

/**
 * A driver by rows of scopes down to the single stream, over the open months of a span, with the
 * assumption that holds in each cell.
 * @param model compiled; results are not needed
 */
export function driverTable(model: Model, query: DriverQuery): DriverRow[] {
  const using = model.streams.filter(({ stream }) =>
    METHODS[stream.method].inputs.includes(query.driver),
  );
  const combinations = using.map(({ combination }) => combination);
  const held = inScope(model.tree, combinations, query.scope);
  const rest = model.tree.dimensions
    .map(({ code }) => code)
    .filter((code) => !query.rows.includes(code));
  const grouped = rowTree(model.tree, combinations, query.rows, (index) => held.has(index));

  const from = Math.max(model.open, query.span.from - model.first);
  const to = Math.min(model.count - 1, query.span.to - model.first);
  const byId = new Map(model.plan.assumptions.map((a) => [a.id, a]));
  const rows: DriverRow[] = [];
  const push = (row: Omit<DriverRow, 'cells' | 'streams'>, parts: readonly number[]): void => {
    const cells: DriverCell[] = [];
    for (let t = from; t <= to; t += 1) {
      cells.push(cellOf(using, byId, query.driver, parts, t, row.scope));
    }
    rows.push({ ...row, streams: parts.length, cells });
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

function cellOf(
  streams: Model['streams'],
  byId: ReadonlyMap<number, Assumption>,
  driver: string,
  parts: readonly number[],
  t: number,
  scope: Scope,
): DriverCell {
  const read = (part: number, code: string): number => {
    const compiled = streams[part];
    const position = compiled ? METHODS[compiled.stream.method].inputs.indexOf(code) : -1;
    return compiled?.inputs[position]?.values[t] ?? Number.NaN;
  };
  let sum = 0;
  let weighted = 0;
  let weight = 0;
  let known = 0;
  let first: number | undefined;
  let holder: number | undefined;
  let sameValue = true;
  let sameHolder = true;
  for (const part of parts) {
    const value = read(part, driver);
    if (Number.isNaN(value)) {
      sameHolder = false;
      continue;
    }
    known += 1;
    sum += value;
    const heavy = (WEIGHTS[driver] ?? []).reduce((w, code) => w * (read(part, code) || 0), 1);
    weighted += heavy * value;
    weight += heavy;
    const compiled = streams[part];
    const position = compiled ? METHODS[compiled.stream.method].inputs.indexOf(driver) : -1;
    const own = compiled?.inputs[position]?.holders[t] ?? MISSING;
    if (first === undefined) {
      first = value;
      holder = own;
    }
    if (value !== first) sameValue = false;
    if (own !== holder) sameHolder = false;
  }
  if (known === 0 || first === undefined)
    return { value: null, holder: null, mixed: false, own: false };
  const mean = sameValue ? first : weight > 0 ? weighted / weight : null;
  const common = sameHolder && holder !== undefined && holder > 0 ? holder : null;
  const assumption = common === null ? undefined : byId.get(common);
  return {
    value: addsOverStreams(driver) ? sum : mean,
    holder: common,
    mixed: !sameValue && !addsOverStreams(driver),
    own: assumption !== undefined && scopeKey(assumption.scope) === scopeKey(scope),
  };
}
