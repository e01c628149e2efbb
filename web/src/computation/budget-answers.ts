import {
  budgetTotal,
  inScope,
  isSubscriberMeasure,
  monthFrom,
  monthText,
  movementRows,
  rowOfCells,
  rowsOfCells,
  rowsTyped,
  subscribersTotal,
  type Scope,
  type Span,
  type Table,
  type TableQuery,
  type VersionMeasure,
} from '@dravex/core';
import type { TypedEntry } from '@dravex/contract';
import type { Session } from './session.ts';

/** Kept versions and the entries in them. */
export function budgetAnswers(session: Session) {
  return {
    /**
     * How many cells with entries lie below each number of a version's table; of new subscribers
     * into how many months some were typed.
     */
    entriesTable(id: number, query: TableQuery, measure: VersionMeasure): Table {
      const cells = session.cellsOf({ id });
      const { subscribers, typedSubscribers = [] } = cells;
      if (measure === 'newSubscribers' && subscribers) {
        const rows = typedSubscribers.map((place) => ({
          combination: subscribers.combination[place] ?? 0,
          month: monthFrom(subscribers.month[place] ?? ''),
          ...{ units: 0, revenue: 0, cost: null },
        }));
        return session.counted(rows, query);
      }
      return session.counted(
        (cells.touched ?? []).map((at) => rowOfCells(cells, at)),
        query,
      );
    },

    /** What a version's cells come to, as a person who types over them sees it; money in minor units. */
    budgetNow(id: number, scope: Scope, span: Span, measure: TypedEntry['measure']): number | null {
      const { plan, tree } = session.model;
      const held = new Set(
        [...inScope(tree, plan.combinations, scope)].map((index) => plan.combinations[index]?.id),
      );
      const { subscribers } = session.cellsOf({ id });
      if (isSubscriberMeasure(measure)) {
        if (!subscribers) return null;
        const rows = movementRows(subscribers).filter(({ combination }) => held.has(combination));
        const months = { from: monthText(span.from), to: monthText(span.to) };
        const minor = 10 ** plan.currency.minorDigits;
        return subscribersTotal(rowsTyped(rows, measure, months), measure, minor);
      }
      const cells = [...rowsOfCells(session.cellsOf({ id }))].filter(
        ({ combination, month }) => held.has(combination) && month >= span.from && month <= span.to,
      );
      return budgetTotal(cells, measure);
    },
  };
}
