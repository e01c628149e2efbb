import type { Span } from '../calendar/period.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { inBoth } from '../dimensions/scopes.ts';
import type { Figures } from '../tables/figures.ts';
import { inAll } from './coverage.ts';
import { MEASURES, type MeasureCode, type VersionMeasure } from '../measures/catalogue.ts';
import type { SubscriberFigures } from '../subscriptions/figures.ts';
import type { Source } from '../sources/source.ts';
import type { TargetOfScope, TargetParts, TargetScopes } from '../targets/target-of-scope.ts';
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

/** Sources as one, each with combinations of its own: a table of it has the rows of all. */
function together(sides: readonly [ComparedSide, ...ComparedSide[]]): Figures {
  const all = (of: 'units' | 'revenue' | 'cost'): Float64Array => {
    const parts = sides.map(({ measures }) => measures[of]);
    const joined = new Float64Array(parts.reduce((sum, { length }) => sum + length, 0));
    let at = 0;
    for (const part of parts) {
      joined.set(part, at);
      at += part.length;
    }
    return joined;
  };
  return {
    ...sides[0],
    combinations: sides.flatMap(({ combinations }) => combinations),
    measures: { units: all('units'), revenue: all('revenue'), cost: all('cost') },
  };
}

/**
 * Compares sources by the same rows over the months of a window that all have.
 * @param planned what is held against; sources are laid out over the same plan, so that combinations
 *   match by place
 * @param covered the months that all have; undefined for none
 * @param beside what else it is held against
 * @throws RangeError where no side is a source: a target alone has no rows
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

  const { rows, scope, measure } = query;
  const table = { rows, scope, span, columns: 'time', grain: 'year' } as const;
  const { sense, nature, making } = MEASURES[measure];
  const ofSubscriptions = making.kind === 'subscription';
  // Who is there and who is new is unknown where nobody says it; nothing sold is 0.
  const absent: TableCell = {
    value: nature === 'ratio' || ofSubscriptions ? null : 0,
    incomplete: false,
  };
  type Answer = Pick<HeldAgainst, 'plan' | 'of'>;
  /** Answers for the rows of a side. */
  const answersOf = (side: BesideSide): ((row: TableRow) => Answer) => {
    if (isTarget(side)) {
      return (row) => {
        const found = side.of(inBoth(tree, row.scope, scope), span);
        const plan = { value: found?.value ?? null, incomplete: false };
        return found ? { plan, of: found.of } : { plan };
      };
    }
    const totals = new Map(
      rowsOf(side, tree, table, measure).map(({ key, total }) => [key, total] as const),
    );
    return ({ key }) => ({ plan: totals.get(key) ?? absent });
  };
  const held = [planned, ...beside].map(answersOf);
  const actualOf = answersOf(actual);
  const toRow = (row: TableRow): ComparisonRow => {
    const { key, label, level, scope: ofRow, parent } = row;
    const { plan: cell, of: nodes } = actualOf(row);
    const [first, ...others] = held.map((answerOf): HeldAgainst => {
      const { plan, ...behind } = answerOf(row);
      const known = cell.value !== null && plan.value !== null;
      const whole = !cell.incomplete && !plan.incomplete;
      const variance = known && whole ? varianceOf(cell.value, plan.value, sense) : null;
      return { plan, variance, ...behind };
    });
    if (!first) throw new Error('A comparison has two sides');
    const own = { key, label, level, scope: ofRow, parent, actual: cell };
    return { ...own, ...(nodes ? { actualOf: nodes } : {}), ...first, beside: others };
  };

  const [source, ...sourcesBeside] = [actual, planned, ...beside].filter((side) => !isTarget(side));
  if (!source) throw new RangeError('One side of a comparison has to be a source');
  const sources = [source, ...sourcesBeside] as const;
  const count = source.combinations.length;
  const places = sources.map(({ subscribers }) =>
    ofSubscriptions ? subscribers?.()?.places : undefined,
  );
  const included = ofSubscriptions
    ? (index: number) => places[Math.floor(index / count)]?.has(index % count) ?? false
    : undefined;
  const framed = ofSubscriptions ? 'units' : (measure as MeasureCode);
  const all = together(sources);
  const frame = rollUp(all, tree, { ...table, measure: framed }, 1, included);
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
    beside: row.beside.map((held) => ({ ...held, variance: null })),
  });
  const { rows, total } = comparison;
  return { ...comparison, rows: rows.map(without), total: total && without(total) };
}
