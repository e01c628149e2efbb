import {
  budgetTotal,
  inScope,
  rowOfCells,
  rowsOfCells,
  type Scope,
  type Span,
  type Table,
  type TableQuery,
  type TypedMeasure,
} from '@dravex/core';
import type { Session } from './session.ts';

/** Kept versions and the entries in them. */
export function budgetAnswers(session: Session) {
  return {
    /** How many cells with entries lie below each number of a version's table. */
    entriesTable(id: number, query: TableQuery): Table {
      const cells = session.cellsOf(id);
      return session.counted(
        (cells.touched ?? []).map((at) => rowOfCells(cells, at)),
        query,
      );
    },

    /** What a version's cells come to, as a person who types over them sees it; money in minor units. */
    budgetNow(id: number, scope: Scope, span: Span, measure: TypedMeasure): number | null {
      const { plan, tree } = session.model;
      const held = new Set(
        [...inScope(tree, plan.combinations, scope)].map((index) => plan.combinations[index]?.id),
      );
      const cells = [...rowsOfCells(session.cellsOf(id))].filter(
        ({ combination, month }) => held.has(combination) && month >= span.from && month <= span.to,
      );
      return budgetTotal(cells, measure);
    },
  };
}
