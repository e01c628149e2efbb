/** Two sources side by side in several columns: month by month, or measure by measure. */
import { periodsOf, type Grain, type Period, type Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { MEASURES, type VersionMeasure } from '../measures/catalogue.ts';
import { compare, type BesideSide, type Comparison, type HeldAgainst } from './compare.ts';
import { inAll } from './coverage.ts';
import type { TableCell } from '../tables/roll-up.ts';

/** What is compared, by the same rows in all columns. */
export interface AcrossQuery {
  readonly rows: readonly string[];
  readonly scope: Scope;
  readonly span: Span;
  /** The columns: each of them, over all months; of several months the first one. */
  readonly measures: readonly [VersionMeasure, ...VersionMeasure[]];
  /** Months, quarters or years across, behind all of them together; none for measures. */
  readonly grain?: Exclude<Grain, 'day' | 'week'> | undefined;
}

/** A measure over some months, of both sides. */
export interface AcrossColumn {
  /** `total`, that of a period, or a measure's code. */
  readonly key: string;
  readonly measure: VersionMeasure;
  /** Null of all months. */
  readonly period: Period | null;
  /** The months that are compared; null where one side has none of them. */
  readonly span: Span | null;
}

/** Both sides of a row in one column; null where they are not compared. */
export type AcrossCell = (HeldAgainst & Pick<Comparison['rows'][0], 'actual' | 'actualOf'>) | null;

export interface AcrossRow {
  readonly key: string;
  readonly label: string;
  readonly level: number;
  readonly scope: Scope;
  readonly parent: boolean;
  /** One a column. */
  readonly cells: readonly AcrossCell[];
}

/** A comparison with several columns of both sides. */
export interface ComparedAcross extends Pick<Comparison, 'span' | 'cut'> {
  readonly columns: readonly AcrossColumn[];
  readonly rows: readonly AcrossRow[];
  readonly total: AcrossRow | null;
}

/**
 * Compares two sides in several columns. Each column is a comparison of its own; what one side does
 * not cover is no number in any of them.
 * @param covered the months that both have; undefined for none
 * @throws RangeError where no side is a source
 */
export function compareAcross(
  actual: BesideSide,
  planned: BesideSide,
  tree: MemberTree,
  { rows, scope, span, measures, grain }: AcrossQuery,
  covered: Span | undefined,
  fiscalStart: number,
): ComparedAcross {
  const over = (measure: VersionMeasure, months: Span): Comparison =>
    compare(actual, planned, tree, { measure, rows, scope, span: months }, covered);
  const [first] = measures;
  // The rows are those of sales where one of the measures is of sales: subscriptions are among them.
  const framed = measures.find((code) => MEASURES[code].making.kind !== 'subscription') ?? first;
  const whole = over(framed, span);
  const { total } = whole;
  const columns = (
    grain === undefined
      ? measures.map((measure) => ({ key: measure, measure, period: null, months: span }))
      : [
          { key: 'total', measure: first, period: null, months: span },
          ...periodsOf(span, grain, fiscalStart).map((period) => ({
            ...{ key: period.key, measure: first, period, months: period },
          })),
        ]
  ).map(({ months, ...column }) => {
    const both = inAll([months, whole.span ?? undefined]);
    const found = both && over(column.measure, both);
    return { ...column, span: found?.span ?? null, found };
  });
  if (!total || columns.length === 0) {
    return { span: null, cut: whole.cut, columns: [], rows: [], total: null };
  }
  const cellsOf = columns.map(({ measure, found }) => {
    if (!found?.total) return () => null;
    const byKey = new Map([...found.rows, found.total].map((row) => [row.key, row]));
    const { nature, making } = MEASURES[measure];
    // Nothing sold in a month is 0; of what is no sum, and of who is there, nothing is known.
    const value = nature === 'ratio' || making.kind === 'subscription' ? null : 0;
    const absent: TableCell = { value, incomplete: false };
    const even = { amount: 0, percent: null, judgement: 'even' } as const;
    return (key: string): AcrossCell => {
      const row = byKey.get(key);
      if (!row) return { actual: absent, plan: absent, variance: value === null ? null : even };
      const { actual, actualOf, plan, of, variance } = row;
      return {
        ...{ actual, plan, variance },
        ...(actualOf ? { actualOf } : {}),
        ...(of ? { of } : {}),
      };
    };
  });
  const across = ({ key, label, level, scope: own, parent }: Comparison['rows'][0]): AcrossRow => ({
    ...{ key, label, level, scope: own, parent },
    cells: cellsOf.map((cellOf) => cellOf(key)),
  });
  return {
    ...{ span: whole.span, cut: whole.cut },
    columns: columns.map(({ key, measure, period, span: months }) => ({
      ...{ key, measure, period, span: months },
    })),
    rows: whole.rows.map(across),
    total: across(total),
  };
}
