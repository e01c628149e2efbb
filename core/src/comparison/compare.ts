import type { Span } from '../calendar/period.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { Figures } from '../tables/figures.ts';
import { inAll } from './coverage.ts';
import { MEASURES, type MeasureCode } from '../measures/catalogue.ts';
import { rollUp, type TableCell, type TableRow } from '../tables/roll-up.ts';
import { varianceOf, type Variance } from './variance.ts';

export interface ComparisonQuery {
  readonly measure: MeasureCode;
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

/**
 * Compares two sources by the same rows over the months of a window that both have.
 * @param planned what is held against, laid out over the same plan, so combinations match by place
 * @param covered the months that both have; undefined for none
 */
export function compare(
  actual: Figures,
  planned: Figures,
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
  const table = { ...query, span, columns: 'time', grain: 'year' } as const;
  const side = (figures: Figures): Map<string, TableRow> => {
    const { rows, total } = rollUp(figures, tree, table, 1);
    return new Map([...rows, total].map((row) => [row.key, row]));
  };
  const actualRows = side(actual);
  const plannedRows = side(planned);
  const { sense, nature } = MEASURES[query.measure];
  const absent: TableCell = {
    value: nature === 'ratio' ? null : 0,
    incomplete: false,
  };
  const toRow = ({ key, label, level, scope, parent }: TableRow): ComparisonRow => {
    const a = actualRows.get(key)?.total ?? absent;
    const p = plannedRows.get(key)?.total ?? absent;
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
  const frame = rollUp(both, tree, table, 1);
  return { span, cut, rows: frame.rows.map(toRow), total: toRow(frame.total) };
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
