/** Two sources side by side in several columns: month by month, or measure by measure. */
import { periodsOf, type Grain, type Period, type Span } from '../calendar/period.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { MEASURES, type VersionMeasure } from '../measures/catalogue.ts';
import {
  heldAgainst,
  tablesOf,
  type BesideSide,
  type Comparison,
  type HeldAgainst,
  type SideTables,
} from './compare.ts';
import { inAll } from './coverage.ts';
import type { TableRow } from '../tables/roll-up.ts';

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
export type AcrossCell =
  (HeldAgainst & Pick<Comparison['rows'][0], 'actual' | 'actualOf' | 'beside'>) | null;

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
 * @param covered the months that all have; undefined for none
 * @param beside what else the first side is held against, in each column
 * @throws RangeError where no side is a source
 */
export function compareAcross(
  actual: BesideSide,
  planned: BesideSide,
  tree: MemberTree,
  { rows, scope, span, measures, grain }: AcrossQuery,
  covered: Span | undefined,
  fiscalStart: number,
  beside: readonly BesideSide[] = [],
): ComparedAcross {
  const all = inAll([span, covered]);
  if (!all) return { span: null, cut: true, columns: [], rows: [], total: null };
  const cut = all.from > span.from || all.to < span.to;
  const [first] = measures;
  // The rows are those of sales where one of the measures is of sales: subscriptions are among them.
  const framed = measures.find((code) => MEASURES[code].making.kind !== 'subscription') ?? first;
  const laidOut = new Map<VersionMeasure, SideTables>();
  const tables = (measure: VersionMeasure): SideTables => {
    const query = { measure, rows, scope, span: all };
    const known = laidOut.get(measure);
    const made = known ?? tablesOf([actual, planned, ...beside], tree, query, grain, fiscalStart);
    laidOut.set(measure, made);
    return made;
  };
  const frame = tables(framed);
  const cellsIn = (measure: VersionMeasure, column: number | undefined) => {
    const { answers } = tables(measure);
    const { sense } = MEASURES[measure];
    return (row: TableRow): AcrossCell => {
      const [own, ...others] = answers.map((answer) => answer(row, column));
      if (!own) return null;
      const [first, ...more] = others.map((other) => heldAgainst(own.plan, other, sense));
      if (!first) return null;
      const nodes = own.of ? { actualOf: own.of } : {};
      return { actual: own.plan, ...nodes, ...first, beside: more };
    };
  };
  const whole = { period: null, span: all };
  const columns: (AcrossColumn & { readonly cellOf: (row: TableRow) => AcrossCell })[] =
    grain === undefined
      ? measures.map((measure) => ({
          ...{ key: measure, measure, ...whole },
          cellOf: cellsIn(measure, undefined),
        }))
      : [
          { key: 'total', measure: first, ...whole, cellOf: cellsIn(first, undefined) },
          ...periodsOf(span, grain, fiscalStart).map((period) => {
            const column = frame.periods.findIndex(({ key }) => key === period.key);
            const both = inAll([period, all]);
            return {
              ...{ key: period.key, measure: first, period },
              span: both ?? null,
              cellOf: both ? cellsIn(first, column) : () => null,
            };
          }),
        ];
  const across = (row: TableRow): AcrossRow => {
    const { key, label, level, scope: own, parent } = row;
    const cells = columns.map(({ cellOf }) => cellOf(row));
    return { key, label, level, scope: own, parent, cells };
  };
  return {
    ...{ span: all, cut },
    columns: columns.map(({ cellOf: _, ...column }) => column),
    rows: frame.rows.map(across),
    total: across({ ...frame.total, label: MEASURES[framed].name }),
  };
}
