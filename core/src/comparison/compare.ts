import type { Span } from '../calendar/period.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { Figures } from '../tables/figures.ts';
import { inAll } from './coverage.ts';
import { MEASURES, type MeasureCode, type VersionMeasure } from '../measures/catalogue.ts';
import type { SubscriberFigures } from '../subscriptions/figures.ts';
import { NO_MARKET } from '../tables/market.ts';
import { measuredTable } from '../tables/measured.ts';
import { rollUp, type TableCell, type TableQuery, type TableRow } from '../tables/roll-up.ts';
import { varianceOf, type Variance } from './variance.ts';

export interface ComparisonQuery {
  readonly measure: VersionMeasure;
  readonly rows: readonly string[];
  readonly scope: Scope;
  readonly span: Span;
}

/** A row with both sides; a side without sales or plan is 0 for flows and no value for ratios. */
export interface ComparisonRow {
  readonly key: string;
  readonly label: string;
  readonly level: number;
  readonly scope: Scope;
  readonly parent: boolean;
  readonly actual: TableCell;
  readonly plan: TableCell;
  /** Null when a side has no value or is incomplete: part of a number is not compared. */
  readonly variance: Variance | null;
}

export interface Comparison {
  /** The months that are compared; null when both sides have none of the window in common. */
  readonly span: Span | null;
  /** True when months of the window were cut off, on both sides: one of them does not have them. */
  readonly cut: boolean;
  readonly rows: readonly ComparisonRow[];
  readonly total: ComparisonRow | null;
}

/** A source laid out over the plan, with its subscriptions where it has any. */
export type ComparedSide = Figures & {
  readonly subscribers?: (() => SubscriberFigures | undefined) | undefined;
};

/** The rows of one side; of subscriptions those that are forecast as such. */
function rowsOf(
  side: ComparedSide,
  tree: MemberTree,
  table: Omit<TableQuery, 'measure'>,
  measure: VersionMeasure,
): TableRow[] {
  if (MEASURES[measure].making.kind !== 'subscription') {
    const { rows, total } = rollUp(side, tree, { ...table, measure: measure as MeasureCode }, 1);
    return [...rows, total];
  }
  const asked = { ...table, measures: [measure] };
  const { rows, totals } = measuredTable(side, NO_MARKET, tree, asked, 1, side.subscribers);
  return [...rows, ...totals];
}

/**
 * Compares two sources by the same rows over the months of a window that both have.
 * @param planned what is held against, laid out over the same plan, so combinations match by place
 * @param covered the months that both have; undefined for none
 */
export function compare(
  actual: ComparedSide,
  planned: ComparedSide,
  tree: MemberTree,
  query: ComparisonQuery,
  covered: Span | undefined,
): Comparison {
  const { from, to } = query.span;
  const span = inAll([{ from, to }, covered]);
  if (!span) return { span: null, cut: true, rows: [], total: null };
  const cut = span.from > from || span.to < to;

  const both: Figures = {
    ...actual,
    combinations: [...actual.combinations, ...planned.combinations],
    measures: {
      units: joined(actual.measures.units, planned.measures.units),
      revenue: joined(actual.measures.revenue, planned.measures.revenue),
      cost: joined(actual.measures.cost, planned.measures.cost),
    },
  };
  const { rows, scope, measure } = query;
  const table = { rows, scope, span, columns: 'time', grain: 'year' } as const;
  const [actualRows, plannedRows] = [actual, planned].map(
    (side) => new Map(rowsOf(side, tree, table, measure).map((row) => [row.key, row])),
  );
  const { sense, nature, making } = MEASURES[measure];
  const ofSubscriptions = making.kind === 'subscription';
  // Who is there and who is new is unknown where nobody says it; nothing sold is 0.
  const absent: TableCell = {
    value: nature === 'ratio' || ofSubscriptions ? null : 0,
    incomplete: false,
  };
  const toRow = ({ key, label, level, scope, parent }: TableRow): ComparisonRow => {
    const a = actualRows?.get(key)?.total ?? absent;
    const p = plannedRows?.get(key)?.total ?? absent;
    const comparable = a.value !== null && p.value !== null && !a.incomplete && !p.incomplete;
    return {
      key,
      label,
      level,
      scope,
      parent,
      actual: a,
      plan: p,
      variance: comparable ? varianceOf(a.value, p.value, sense) : null,
    };
  };
  const places = [actual, planned].map(({ subscribers }) =>
    ofSubscriptions ? subscribers?.()?.places : undefined,
  );
  const count = actual.combinations.length;
  const included = ofSubscriptions
    ? (index: number) =>
        (index < count ? places[0]?.has(index) : places[1]?.has(index - count)) ?? false
    : undefined;
  const framed = ofSubscriptions ? 'units' : (measure as MeasureCode);
  const frame = rollUp(both, tree, { ...table, measure: framed }, 1, included);
  return {
    span,
    cut,
    rows: frame.rows.map(toRow),
    total: toRow({ ...frame.total, label: MEASURES[measure].name }),
  };
}

/** The same comparison of a stretch in which nothing has happened yet: no 0 that could be read as sold. */
export function notBegun(comparison: Comparison): Comparison {
  const without = (row: ComparisonRow): ComparisonRow => ({
    ...row,
    actual: { value: null, incomplete: false },
    variance: null,
  });
  const { rows, total } = comparison;
  return { ...comparison, rows: rows.map(without), total: total && without(total) };
}

function joined(a: Float64Array, b: Float64Array): Float64Array {
  const all = new Float64Array(a.length + b.length);
  all.set(a);
  all.set(b, a.length);
  return all;
}
