import {
  FORECAST,
  KEPT_FORECAST,
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
import { loadKnown } from './load-known.ts';
import { type useArrangement } from './use-arrangement.ts';

/** The forecast's totals with what they were asked for, so that heading and numbers belong together. */
export interface ForecastTotals {
  readonly query: TableQuery;
  readonly table: Table;
  /** A year before, over the same columns; null where there is no history for it. */
  readonly lastYear: Table | null;
  /** The version in force over the same columns; null where none is. */
  readonly plan: { readonly name: string; readonly table: Table } | null;
  /** With what was forecast of closed months when they were closed, where that stands beside them. */
  readonly kept: Table | null;
}

/** The forecast line as the workspace shows it in closed months. */
export function useForecastLine() {
  const plan = usePlan();
  const { counted } = useFrame();
  return computed(() =>
    counted(plan.workspace?.closedMonths === 'instead' ? KEPT_FORECAST : FORECAST),
  );
}

/** The totals of the forecast beside those of last year and of the version in force. */
export function useForecastTotals() {
  const plan = usePlan();
  const { span, scope, grainOfWeeks, measure, columns, version, calendar, books, counted } =
    useFrame();
  const shown = useForecastLine();
  const keptBeside = async (query: TableQuery): Promise<Table | null> => {
    if (plan.workspace?.closedMonths !== 'beside') return null;
    await loadKnown(plan, counted(KEPT_FORECAST), query, books.value);
    return plan.compute().table(counted(KEPT_FORECAST), query);
  };
  return useAnswer(
    [span, scope, grainOfWeeks, measure, columns, version, shown, () => plan.tick],
    async (): Promise<ForecastTotals> => {
      const query: TableQuery = {
        measure: measure.value,
        rows: [],
        columns: columns.value,
        scope: scope.value,
        span: span.value,
        grain: grainOfWeeks.value,
      };
      const worker = plan.compute();
      const line = shown.value;
      await loadKnown(plan, line, query, books.value);
      const table = await worker.table(line, query);
      if (query.columns !== 'time') return { query, table, lastYear: null, plan: null, kept: null };
      const kept = await keptBeside(query);
      const known = query.span.from - 12 >= monthFrom(calendar.value.first);
      const lastYear = known
        ? await worker.table(yearBeforeSource(counted(FORECAST)), query)
        : null;
      const against = version.value;
      if (!against) return { query, table, lastYear, plan: null, kept };
      await plan.loadVersion(against.id);
      const planned = await worker.table(versionSource(against.id), query);
      return { query, table, lastYear, plan: { name: against.name, table: planned }, kept };
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
 * @param layout what is laid out where that is not the frame's measure on rows; time may be weeks
 *   where measures may stand across, or days where it says so
 * @param until the last month there can be numbers for; the table ends there
 */
export function useFigures(
  source: () => Source | undefined,
  layout?: Partial<Pick<ReturnType<typeof useArrangement>, 'across' | 'empty'>> &
    Pick<ReturnType<typeof useArrangement>, 'measures'> & { readonly days?: true },
  until?: () => Month,
) {
  const plan = usePlan();
  const { span, scope, grain, grainOfWeeks, grainOfDays, measure, rows, columns, books } =
    useFrame();
  const finest = computed(() => {
    if (layout?.days) return grainOfDays.value;
    return layout?.across ? grainOfWeeks.value : grain.value;
  });
  const { order } = useRowOrder();
  const query = computed<MeasuredQuery>(() => ({
    measures: layout ? [...layout.measures.value] : [measure.value],
    rows: [...rows.value],
    columns: layout?.across?.value ? 'measures' : columns.value,
    scope: [...scope.value],
    span: { from: span.value.from, to: Math.min(span.value.to, until?.() ?? span.value.to) },
    grain: finest.value,
    empty: layout?.empty?.value,
    order: order.value && { ...order.value },
  }));
  return useAnswer(
    [query, () => sourceKey(source()), () => plan.tick],
    async (): Promise<AnsweredFigures | undefined> => {
      const from = source();
      if (from === undefined) return undefined;
      const asked = query.value;
      await loadKnown(plan, from, asked, books.value);
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
    if (answer.source.kind === 'forecast' && answer.source.kept) return undefined;
    return plan.compute().byHandTable(alone(answer.query, 'units'));
  });
}
