import {
  FORECAST,
  MEASURE_CODES,
  monthFrom,
  sourceKey,
  versionSource,
  yearBeforeSource,
  type MeasureCode,
  type MeasuredQuery,
  type MeasuredTable,
  type Month,
  type Source,
  type Table,
  type TableQuery,
} from '@dravex/core';
import { computed, type Ref } from 'vue';
import { unpackTable } from '../computation/packed-table.ts';
import { useRowOrder } from '../grid/use-order.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { loadWeeks } from './load-weeks.ts';
import { type useArrangement } from './use-arrangement.ts';

/** The forecast's totals with what they were asked for, so that heading and numbers belong together. */
export interface ForecastTotals {
  readonly query: TableQuery;
  readonly table: Table;
  /** A year before, over the same columns; null where there is no history for it. */
  readonly lastYear: Table | null;
  /** The version in force over the same columns; null where none is. */
  readonly plan: { readonly name: string; readonly table: Table } | null;
}

/** The totals of the forecast beside those of last year and of the version in force. */
export function useForecastTotals() {
  const plan = usePlan();
  const { span, scope, grainOfWeeks, measure, columns, version, calendar, books, counted } =
    useFrame();
  return useAnswer(
    [span, scope, grainOfWeeks, measure, columns, version, books, () => plan.tick],
    async (): Promise<ForecastTotals> => {
      const query: TableQuery = {
        measure: measure.value,
        rows: [],
        columns: columns.value,
        scope: scope.value,
        span: span.value,
        grain: grainOfWeeks.value,
      };
      await loadWeeks(plan, query, books.value);
      const worker = plan.compute();
      const line = counted(FORECAST);
      const table = await worker.table(line, query);
      if (query.columns !== 'time') return { query, table, lastYear: null, plan: null };
      const known = query.span.from - 12 >= monthFrom(calendar.value.first);
      const lastYear = known ? await worker.table(yearBeforeSource(line), query) : null;
      const kept = version.value;
      if (!kept) return { query, table, lastYear, plan: null };
      await plan.loadVersion(kept.id);
      const planned = await worker.table(versionSource(kept.id), query);
      return { query, table, lastYear, plan: { name: kept.name, table: planned } };
    },
  );
}

/** A table of figures with what it was asked for. */
export interface AnsweredFigures {
  readonly source: Source;
  readonly query: MeasuredQuery;
  readonly table: MeasuredTable;
}

/**
 * The table that the frame asks for, from the worker.
 * @param source where the numbers come from
 * @param layout how it is laid out where that is not one measure on rows, and time not whole months
 * @param until the last month there can be numbers for; the table ends there
 */
export function useFigures(
  source: () => Source | undefined,
  layout?: Pick<ReturnType<typeof useArrangement>, 'measures' | 'across' | 'empty'>,
  until?: () => Month,
) {
  const plan = usePlan();
  const { span, scope, grain, grainOfWeeks, measure, rows, columns, books } = useFrame();
  const { order } = useRowOrder();
  const query = computed<MeasuredQuery>(() => ({
    measures: layout ? [...layout.measures.value] : [measure.value],
    rows: [...rows.value],
    columns: layout?.across.value ? 'measures' : columns.value,
    scope: [...scope.value],
    span: { from: span.value.from, to: Math.min(span.value.to, until?.() ?? span.value.to) },
    grain: layout ? grainOfWeeks.value : grain.value,
    empty: layout?.empty.value,
    order: order.value && { ...order.value },
  }));
  return useAnswer(
    [query, () => sourceKey(source()), () => plan.tick],
    async (): Promise<AnsweredFigures | undefined> => {
      const from = source();
      if (from === undefined) return undefined;
      const asked = query.value;
      await plan.loadSource(from);
      await loadWeeks(plan, asked, books.value);
      return {
        source: from,
        query: asked,
        table: unpackTable(await plan.compute().measured(from, asked)),
      };
    },
  );
}

/** A query for one measure as tables without measures of their own are asked. */
export function alone(query: MeasuredQuery, measure: MeasureCode): TableQuery {
  const { rows, columns, scope, span, grain } = query;
  return { measure, rows, columns: columns === 'measures' ? 'time' : columns, scope, span, grain };
}

/** The first measure of a table that can be asked for by itself. */
export function measureOf(query: MeasuredQuery | undefined): MeasureCode {
  return MEASURE_CODES.find((code) => query?.measures.includes(code)) ?? 'revenue';
}

/**
 * Which numbers of a table of sales were entered by hand only. Nothing where only the books count.
 * @param figures the table in sight
 */
export function useByHand(figures: Ref<AnsweredFigures | undefined>) {
  const plan = usePlan();
  const { books } = useFrame();
  return useAnswer([figures, books], async () => {
    const answer = figures.value;
    // Which lines of a week were entered by hand is not known here.
    if (!answer || books.value || answer.query.grain === 'week') return undefined;
    return plan.compute().byHandTable(alone(answer.query, 'units'));
  });
}
