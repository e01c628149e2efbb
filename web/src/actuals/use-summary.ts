import { summaryOperations, type Summary } from '@dravex/contract';
import {
  amongSiblings,
  monthText,
  ratio,
  summaryValue,
  type SalesSums,
  type SummaryMeasure,
  SUMMARY_CODES,
} from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { addressOf } from '../shell/client.ts';
import { useFrame } from '../shell/use-frame.ts';

type Row = Summary['rows'][number];
/** What a cell shows beside the number itself. */
export type Beside = 'none' | 'share' | 'growth';

const isMeasure = (code: string): code is SummaryMeasure =>
  SUMMARY_CODES.some((known) => known === code);

/** How the summary in the address is cut, and its answer. */
export function useSummary() {
  const route = useRoute();
  const plan = usePlan();
  const { rows, span, scope, set } = useFrame();
  const text = (name: string, otherwise: string): string => {
    const value = route.query[name];
    return typeof value === 'string' ? value : otherwise;
  };
  const columns = computed(() => text('by', 'month'));
  const measures = computed<SummaryMeasure[]>(() => {
    const list = text('measures', 'revenue').split(',').filter(isMeasure);
    return list.length > 0 ? list : ['revenue'];
  });
  const axis = computed(() => (text('axis', 'columns') === 'rows' ? 'rows' : 'columns'));
  const compare = computed(() => text('beside', '') === 'year-before');
  const shares = computed(() => text('shares', '') === 'yes');
  const origin = computed((): 'all' | 'books' | 'hand' => {
    const value = text('origin', 'all');
    return value === 'books' || value === 'hand' ? value : 'all';
  });
  const assigned = computed((): 'then' | 'now' =>
    text('assigned', 'then') === 'now' ? 'now' : 'then',
  );
  const sort = computed(() => text('sort', ''));
  const find = computed(() => text('find', ''));
  const ownRows = computed(() => rows.value.filter((code) => code !== columns.value));

  const asked = computed(() => ({
    rows: ownRows.value.join(),
    columns: columns.value,
    from: monthText(span.value.from),
    to: monthText(span.value.to),
    scope: scope.value.join(),
    origin: origin.value,
    compare: compare.value ? ('yearBefore' as const) : ('none' as const),
    assigned: assigned.value,
  }));
  const answer = useAnswer(
    [() => JSON.stringify(asked.value), () => plan.tick, () => plan.savedAt],
    () => plan.ask(summaryOperations.readSummary, asked.value),
  );
  const fileAs = (format: 'csv' | 'xlsx'): string => {
    const inputs = { ...asked.value, format, measures: measures.value.join() };
    return `/api${addressOf(summaryOperations.saveSummary, { ...inputs, workspaceId: plan.workspaceId })}`;
  };

  /** What a row is sorted by: `label`, or a column's place and a measure; minus for the other way. */
  const sorting = computed(() => {
    const [key = '', measure = ''] = sort.value.replace(/^-/, '').split('.');
    return { key, measure, down: !sort.value.startsWith('-') };
  });
  function sortBy(key: string, measure = ''): void {
    const wanted = measure === '' ? key : `${key}.${measure}`;
    const next = sort.value === wanted ? `-${wanted}` : sort.value === `-${wanted}` ? '' : wanted;
    void set({ sort: next === '' ? undefined : next });
  }
  function valueOf(row: Row, key: string, measure: SummaryMeasure): number {
    const sums = key === 'total' ? row.total : row.cells[Number(key)];
    return (sums && summaryValue(sums, measure)) ?? Number.NEGATIVE_INFINITY;
  }

  /** Rows as they are shown: found by what was typed, and sorted among their siblings. */
  const shown = computed<readonly Row[]>(() => {
    const summary = answer.data.value;
    if (!summary) return [];
    const wanted = find.value.trim().toLowerCase();
    const kept = new Set<string>();
    if (wanted !== '') {
      for (const { key, label } of summary.rows) {
        if (!label.toLowerCase().includes(wanted)) continue;
        // With what it lies below, so that it is clear where it belongs.
        key.split('/').forEach((_, place, parts) => kept.add(parts.slice(0, place + 1).join('/')));
      }
    }
    const list = wanted === '' ? summary.rows : summary.rows.filter(({ key }) => kept.has(key));
    const { key, measure, down } = sorting.value;
    if (key === '') return list;
    const order = (a: Row, b: Row): number => {
      const by =
        key === 'label' || !isMeasure(measure)
          ? a.label.localeCompare(b.label)
          : valueOf(b, key, measure) - valueOf(a, key, measure);
      return (down ? by : -by) || a.label.localeCompare(b.label);
    };
    return amongSiblings(list, order);
  });

  /** A number, its share of the column's total, and what it grew by on the year before. */
  function figureOf(
    sums: SalesSums | undefined,
    before: SalesSums | undefined,
    total: SalesSums | undefined,
    measure: SummaryMeasure,
  ) {
    const value = sums ? summaryValue(sums, measure) : null;
    const earlier = before ? summaryValue(before, measure) : null;
    const whole = total ? summaryValue(total, measure) : null;
    const additive = measure !== 'averagePrice' && measure !== 'marginRate';
    return {
      value,
      share: additive && value !== null && whole !== null ? ratio(value, whole) : null,
      before: earlier,
      growth: value === null || earlier === null ? null : ratio(value - earlier, Math.abs(earlier)),
    };
  }

  return {
    rows: ownRows,
    columns,
    measures,
    axis,
    compare,
    shares,
    origin,
    assigned,
    sorting,
    find,
    set,
    sortBy,
    shown,
    figureOf,
    fileAs,
    ...answer,
  };
}
