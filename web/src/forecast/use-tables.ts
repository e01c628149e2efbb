import {
  FORECAST,
  monthFrom,
  sourceKey,
  versionSource,
  yearBeforeSource,
  type MeasuredQuery,
  type MeasuredTable,
  type Month,
  type Source,
  type Table,
  type TableQuery,
} from '@dravex/core';
import { useAnswer } from '../plan/use-answer.ts';
import { unpackTable } from '../computation/packed-table.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useArrangement } from './use-arrangement.ts';

/** A table with what it was asked for, so that heading and numbers always belong together. */
export interface AnsweredTable {
  /** Where its numbers come from. */
  readonly source: Source;
  readonly query: TableQuery;
  readonly table: Table;
  /** A year before, over the same columns; null where there is no history for it. */
  readonly lastYear: Table | null;
  /** The version in force over the same columns; null where none is. */
  readonly plan: { readonly name: string; readonly table: Table } | null;
}

/**
 * The table that the frame asks for, from the worker.
 * @param source where the numbers come from
 * @param beside whether last year and the version in force are wanted too
 * @param until the last month there can be numbers for; the table ends there
 * @param totals whether the rows are left to somebody else, and only the total is wanted
 */
export function useTable(
  source: () => Source | undefined,
  beside: boolean,
  until?: () => Month,
  totals = false,
) {
  const plan = usePlan();
  const { span, scope, grain, measure, rows, columns, version, calendar } = useFrame();
  return useAnswer(
    [
      span,
      scope,
      grain,
      measure,
      rows,
      columns,
      version,
      () => sourceKey(source()),
      () => plan.tick,
    ],
    async (): Promise<AnsweredTable | undefined> => {
      const from = source();
      if (from === undefined) return undefined;
      const query: TableQuery = {
        measure: measure.value,
        rows: totals ? [] : rows.value,
        columns: columns.value,
        scope: scope.value,
        span: { from: span.value.from, to: Math.min(span.value.to, until?.() ?? span.value.to) },
        grain: grain.value,
      };
      const worker = plan.compute();
      await plan.loadSource(from);
      const table = await worker.table(from, query);
      if (!beside || query.columns !== 'time')
        return { source: from, query, table, lastYear: null, plan: null };

      const known = query.span.from - 12 >= monthFrom(calendar.value.first);
      const lastYear = known ? await worker.table(yearBeforeSource(FORECAST), query) : null;
      const kept = version.value;
      if (!kept) return { source: from, query, table, lastYear, plan: null };
      await plan.loadVersion(kept.id);
      const planned = await worker.table(versionSource(kept.id), query);
      return { source: from, query, table, lastYear, plan: { name: kept.name, table: planned } };
    },
  );
}

/** The forecast's table as it is laid out, from the worker. */
export function useMeasured() {
  const plan = usePlan();
  const { span, scope, grain, rows, columns } = useFrame();
  const { measures, across, order, empty } = useArrangement();
  return useAnswer(
    [span, scope, grain, rows, columns, measures, across, order, empty, () => plan.tick],
    async (): Promise<{ query: MeasuredQuery; table: MeasuredTable }> => {
      const query: MeasuredQuery = {
        measures: [...measures.value],
        rows: [...rows.value],
        columns: across.value ? 'measures' : columns.value,
        scope: [...scope.value],
        span: { from: span.value.from, to: span.value.to },
        grain: grain.value,
        empty: empty.value,
        order: order.value && { ...order.value },
      };
      return { query, table: unpackTable(await plan.compute().measured(query)) };
    },
  );
}
