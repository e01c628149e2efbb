import {
  cellsByOrigin,
  compareAcross,
  compareAndExplain,
  FORECAST,
  type AcrossQuery,
  type BesideSide,
  type Comparable,
  type ComparedAcross,
  planWarnings,
  type PlanWarnings,
  type WarningsQuery,
  TargetScopes,
  type ComparedSide,
  type TargetParts,
  explain,
  funnelTable,
  measuredTable,
  monthFrom,
  movers,
  partsOf,
  rollUp,
  stillToGo,
  inScope,
  periodsOf,
  subscriptionBridge,
  subscriptionTable,
  type ExplainedComparison,
  type ComparisonQuery,
  type ForecastResult,
  type FunnelTable,
  type Grain,
  type MeasuredQuery,
  type Mover,
  type Parts,
  type PartsQuery,
  type Scope,
  type Source,
  type StillToGo,
  type Span,
  type SubscriptionBridge,
  type SubscriptionTable,
  type Table,
  type TableCell,
  type TableQuery,
  type TableRow,
  type TraceNode,
  subscriberFigures,
  type TraceQuestion,
} from '@dravex/core';
import { transfer } from 'comlink';
import { packTable, type PackedTable } from './packed-table.ts';
import type { Session } from './session.ts';

/** Tables of any source, charts, comparisons, and how a number came about. */
export function tableAnswers(session: Session) {
  const sourceSide = (source: Source): ComparedSide => ({
    ...session.figures(source),
    subscribers: () => session.subscribersOf(source),
  });
  const targetScopes = (parts: TargetParts): TargetScopes => {
    const { tree, plan } = session.model;
    const { fiscalStart } = plan.calendar;
    const { minorDigits } = plan.currency;
    return new TargetScopes(parts, tree, plan.combinations, { fiscalStart, minorDigits });
  };
  const sideOf = (side: Comparable): BesideSide =>
    'nodes' in side ? targetScopes(side) : sourceSide(side);
  return {
    /** What a source comes to by rows and columns. */
    table(source: Source, query: TableQuery): Table {
      const { model } = session;
      return rollUp(session.figures(source), model.tree, query, model.plan.calendar.fiscalStart);
    },

    /** A table of one or several measures of a source. */
    measured(source: Source, query: MeasuredQuery): PackedTable {
      const { model } = session;
      const { fiscalStart } = model.plan.calendar;
      const figures = session.figures(source);
      const subscribers = () => session.subscribersOf(source);
      const { market } = session;
      const table = measuredTable(figures, market, model.tree, query, fiscalStart, subscribers);
      const packed = packTable(table);
      return transfer(packed, [packed.values.buffer, packed.incomplete.buffer]);
    },

    /** What the forecast falls apart into, for charts. */
    parts(source: Source, query: PartsQuery): Parts {
      const { tree, plan } = session.model;
      return partsOf(session.figures(source), tree, query, plan.calendar.fiscalStart);
    },

    /** The funnels of a scope: what enters, passes, costs and brings. */
    funnels(scope: Scope, span: Span, grain: Grain): FunnelTable {
      return funnelTable(session.model, scope, span, grain);
    },

    /** The subscriptions of a scope: movements, cohorts, and where they lead. */
    subscriptions(scope: Scope, span: Span, grain: Grain): SubscriptionTable {
      return subscriptionTable(session.model, scope, span, grain);
    },

    /** Why recurring revenue is another one than a version has; undefined where it kept none. */
    subscriptionBridge(
      version: number,
      scope: Scope,
      span: Span,
      grain: Grain,
    ): SubscriptionBridge | undefined {
      const { model } = session;
      const kept = session.keptSubscribers({ id: version });
      const from = Math.max(span.from, model.first + model.open);
      if (!kept || from > span.to) return undefined;
      const periods = periodsOf({ from, to: span.to }, grain, model.plan.calendar.fiscalStart);
      const held = inScope(model.tree, model.plan.combinations, scope);
      const now = subscriberFigures(model);
      return subscriptionBridge(kept, now, held, periods, from, model.first);
    },

    /** Which numbers of a table of sales were entered by hand only: 1 where they were; nothing where none were. */
    byHandTable(query: TableQuery): Table | undefined {
      const { plan } = session.model;
      if (!plan.actuals.byHand) return undefined;
      const { byHand, books } = cellsByOrigin(plan);
      const table = session.counted(byHand, query);
      const keyed = new Map(
        session.counted(books, query).rows.map((row) => [row.key, row] as const),
      );
      const rowOf = (row: TableRow): TableRow => {
        const other = keyed.get(row.key);
        const only = (cell: TableCell, beside: TableCell | undefined): TableCell => ({
          value: (cell.value ?? 0) > 0 && (beside?.value ?? 0) === 0 ? 1 : 0,
          incomplete: false,
        });
        return {
          ...row,
          cells: row.cells.map((cell, place) => only(cell, other?.cells[place])),
          total: only(row.total, other?.total),
        };
      };
      return { ...table, rows: table.rows.map(rowOf) };
    },

    /**
     * A side held against others, and why revenue of the first two differs.
     * @param covered the months that all have; undefined for none
     */
    compare(
      actual: Comparable,
      against: Comparable,
      query: ComparisonQuery,
      covered: Span | undefined,
      beside: readonly Comparable[] = [],
    ): ExplainedComparison {
      const named = (side: Comparable) =>
        'nodes' in side
          ? { figures: targetScopes(side) }
          : { source: side, figures: sourceSide(side) };
      const sides = [named(actual), named(against)] as const;
      return compareAndExplain(session.model, ...sides, query, covered, beside.map(sideOf));
    },

    /** Two sides in several columns, by month or by measure. */
    compareAcross(
      actual: Comparable,
      against: Comparable,
      query: AcrossQuery,
      covered: Span | undefined,
      beside: readonly Comparable[] = [],
    ): ComparedAcross {
      const { tree, plan } = session.model;
      const { fiscalStart } = plan.calendar;
      const sides = [sideOf(actual), sideOf(against)] as const;
      return compareAcross(...sides, tree, query, covered, fiscalStart, beside.map(sideOf));
    },

    /** What deserves a second look in a version, by the lowest rows of a table. */
    planWarnings(version: Source, query: WarningsQuery): PlanWarnings {
      const planned = session.figures(version);
      return planWarnings(planned, session.figures(FORECAST), session.model.tree, query);
    },

    /** What is left of the plan of a year; null where that says nothing. */
    stillToGo(
      actual: Source,
      against: Source,
      query: Omit<ComparisonQuery, 'span'>,
      year: Span,
    ): StillToGo | null {
      const { tree, plan } = session.model;
      const closed = monthFrom(plan.calendar.closedThrough);
      const [sold, planned] = [session.figures(actual), session.figures(against)];
      return stillToGo(sold, planned, tree, query, year, closed);
    },

    /** How a number came about, one level down. */
    explain(question: TraceQuestion): TraceNode {
      return explain(
        session.model,
        question,
        (source) => session.figures(source),
        (source) => session.subscribersOf(source),
      );
    },

    /** What would move a number of the forecast most. */
    movers(question: { measure: ForecastResult; scope: Scope; span: Span }): Mover[] {
      return movers(session.model, question);
    },
  };
}
