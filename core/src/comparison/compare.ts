import type { Grain, Period, Span } from '../calendar/period.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { inBoth } from '../dimensions/scopes.ts';
import { inScope } from '../dimensions/row-tree.ts';
import { seriesOf, type Figures } from '../tables/figures.ts';
import { inAll } from './coverage.ts';
import {
  addingPartsOf,
  MEASURES,
  type AddingCode,
  type MeasureCode,
  type Sense,
  type VersionMeasure,
} from '../measures/catalogue.ts';
import type { SubscriberFigures } from '../subscriptions/figures.ts';
import type { Source } from '../sources/source.ts';
import type { TargetOfScope, TargetParts, TargetScopes } from '../targets/target-of-scope.ts';
import { NO_MARKET } from '../tables/market.ts';
import { measuredTable } from '../tables/measured.ts';
import { rollUp, type TableCell, type TableRow } from '../tables/roll-up.ts';
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
  /** Where the first side is a target: the nodes of the tree that it is made of. */
  readonly actualOf?: TargetOfScope['of'] | undefined;
  readonly plan: TableCell;
  /** Null when a side has no value or is incomplete: part of a number is not compared. */
  readonly variance: Variance | null;
  /** Where it is held against a target: the nodes of the tree that it is made of. */
  readonly of?: TargetOfScope['of'] | undefined;
  /** What else it is held against, in the order asked. */
  readonly beside: readonly HeldAgainst[];
}

/** A further number that a row is held against, and how far off it is. */
export interface HeldAgainst {
  readonly plan: TableCell;
  readonly variance: Variance | null;
  /** Of a target: the nodes of the tree that it is made of. */
  readonly of?: TargetOfScope['of'] | undefined;
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

/** A side of a comparison: a source, or what a target tree gives to each row's scope. */
export type BesideSide = ComparedSide | TargetScopes;
/** The same as plain data: it can be carried to where the numbers are. */
export type Comparable = Source | TargetParts;
export const isTarget = (side: BesideSide): side is TargetScopes => !('measures' in side);

/** What a side gives to a row: of all months, or of one of the columns of time. */
export type AnswerOf = (row: TableRow, column?: number) => Pick<HeldAgainst, 'plan' | 'of'>;

/** Sides laid out over the same rows. */
export interface SideTables {
  /** The rows that any of the sources has, and the total of all. */
  readonly rows: readonly TableRow[];
  readonly total: TableRow;
  /** The columns of time. */
  readonly periods: readonly Period[];
  readonly answers: readonly AnswerOf[];
}

/** Whether anything of a combination is there, or missing, in some months. */
function hasAny(side: Figures, codes: readonly AddingCode[], index: number, span: Span): boolean {
  const from = Math.max(0, span.from - side.first);
  const to = Math.min(side.count - 1, span.to - side.first);
  return codes.some((code) => {
    const series = seriesOf(side, code);
    for (let t = from; t <= to; t += 1) if (series[index * side.count + t] !== 0) return true;
    return false;
  });
}

/**
 * Lays sides out over the rows that any of the sources has.
 * @throws RangeError where no side is a source: a target alone has no rows
 */
export function tablesOf(
  sides: readonly BesideSide[],
  tree: MemberTree,
  { measure, rows, scope, span }: ComparisonQuery,
  grain: Grain = 'year',
  fiscalStart = 1,
): SideTables {
  const table = { rows, scope, span, columns: 'time', grain } as const;
  const { nature, making } = MEASURES[measure];
  const ofSubscriptions = making.kind === 'subscription';
  const sources = sides.filter((side) => !isTarget(side));
  const [first] = sources;
  if (!first) throw new RangeError('One side of a comparison has to be a source');
  const codes = ofSubscriptions ? [] : addingPartsOf(measure as MeasureCode);
  const places = sources.map(({ subscribers }) =>
    ofSubscriptions ? subscribers?.()?.places : undefined,
  );
  const held = [...inScope(tree, first.combinations, scope)];
  const any = new Set(
    held.filter((index) =>
      ofSubscriptions
        ? places.some((of) => of?.has(index))
        : sources.some((side) => hasAny(side, codes, index, span)),
    ),
  );
  const rolled = (side: ComparedSide, code: MeasureCode) =>
    rollUp(side, tree, { ...table, measure: code }, fiscalStart, (index) => any.has(index));
  const frame = rolled(first, ofSubscriptions ? 'units' : (measure as MeasureCode));
  const periods = frame.columns.flatMap(({ period }) => period ?? []);
  // Who is there and who is new is unknown where nobody says it; nothing sold is 0.
  const value = nature === 'ratio' || ofSubscriptions ? null : 0;
  const absent: TableCell = { value, incomplete: false };
  const answerOf = (side: BesideSide): AnswerOf => {
    if (isTarget(side)) {
      return (row, column) => {
        const months = column === undefined ? span : periods[column];
        const found = months && side.of(inBoth(tree, row.scope, scope), months);
        const plan = { value: found?.value ?? null, incomplete: false };
        return found ? { plan, of: found.of } : { plan };
      };
    }
    const found = ofSubscriptions
      ? measuredTable(
          ...([side, NO_MARKET, tree, { ...table, measures: [measure] }] as const),
          ...([fiscalStart, side.subscribers] as const),
        )
      : undefined;
    const { rows: own, total } = found
      ? { rows: found.rows, total: found.totals[0] }
      : rolledOf(side);
    const byKey = new Map([...own, ...(total ? [total] : [])].map((row) => [row.key, row]));
    return ({ key }, column) => {
      const row = byKey.get(key);
      const cell = column === undefined ? row?.total : row?.cells[column];
      return { plan: cell ?? absent };
    };
  };
  const rolledOf = (side: ComparedSide) =>
    side === first ? frame : rolled(side, measure as MeasureCode);
  return { rows: frame.rows, total: frame.total, periods, answers: sides.map(answerOf) };
}

/** How far a number is off what it is held against; null where part of a number is not compared. */
export function heldAgainst(
  cell: TableCell,
  { plan, of }: Pick<HeldAgainst, 'plan' | 'of'>,
  sense: Sense,
): HeldAgainst {
  const known = cell.value !== null && plan.value !== null;
  const whole = !cell.incomplete && !plan.incomplete;
  const variance = known && whole ? varianceOf(cell.value, plan.value, sense) : null;
  return { plan, variance, ...(of ? { of } : {}) };
}

/**
 * Compares sources by the same rows over the months of a window that all have.
 * @param planned what is held against; sources are laid out over the same plan, so that combinations
 *   match by place
 * @param covered the months that all have; undefined for none
 * @param beside what else it is held against
 * @throws RangeError where no side is a source
 */
export function compare(
  actual: BesideSide,
  planned: BesideSide,
  tree: MemberTree,
  query: ComparisonQuery,
  covered: Span | undefined,
  beside: readonly BesideSide[] = [],
): Comparison {
  const { from, to } = query.span;
  const span = inAll([{ from, to }, covered]);
  if (!span) return { span: null, cut: true, rows: [], total: null };
  const cut = span.from > from || span.to < to;

  const { measure } = query;
  const { sense, name } = MEASURES[measure];
  const tables = tablesOf([actual, planned, ...beside], tree, { ...query, span });
  const [actualOf, ...others] = tables.answers;
  const toRow = (row: TableRow): ComparisonRow => {
    const { key, label, level, scope, parent } = row;
    const { plan: cell, of: nodes } = actualOf?.(row) ?? { plan: NOTHING };
    const [first, ...more] = others.map((answer) => heldAgainst(cell, answer(row), sense));
    if (!first) throw new Error('A comparison has two sides');
    const own = { key, label, level, scope, parent, actual: cell };
    return { ...own, ...(nodes ? { actualOf: nodes } : {}), ...first, beside: more };
  };
  return {
    span,
    cut,
    rows: tables.rows.map(toRow),
    total: toRow({ ...tables.total, label: name }),
  };
}
const NOTHING: TableCell = { value: null, incomplete: false };

/** The same comparison of a stretch in which nothing has happened yet: no 0 that could be read as sold. */
export function notBegun(comparison: Comparison): Comparison {
  const without = (row: ComparisonRow): ComparisonRow => ({
    ...row,
    actual: { value: null, incomplete: false },
    variance: null,
    beside: row.beside.map((held) => ({ ...held, variance: null })),
  });
  const { rows, total } = comparison;
  return { ...comparison, rows: rows.map(without), total: total && without(total) };
}
