<script setup lang="ts">
import { closingOperations } from '@dravex/contract';
import {
  monthFrom,
  monthText,
  type AccuracyRow,
  type AddingCode,
  type LeadAccuracy,
} from '@dravex/core';
import { computed, ref } from 'vue';
import { DASH } from '../format/numbers.ts';
import { monthsInWords, spanInWords } from '../format/periods.ts';
import {
  cellsOnDemand,
  type GridCell,
  type GridColumn,
  type GridPlace,
  type GridRow,
} from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import { displayOf, typedCell } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import Choice from '../kit/Choice.vue';
import EmptyState from '../kit/EmptyState.vue';
import { TERMS } from '../kit/terms.ts';
import { usePlanner } from '../people/use-planner.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import { shareOf } from '../trace/nodes.ts';
import type { Asked } from '../trace/use-trace.ts';
import EarlierDialog from './EarlierDialog.vue';
import { accuracyHeadline } from './accuracy-headline.ts';
import { TEXTS } from './texts.ts';

/** How good the forecasts kept at closes were, by row and by how many months ahead. */
const plan = usePlan();
const planner = usePlanner();
const importing = ref(false);
const {
  scope,
  measure,
  rows: rowCodes,
  rowHeading,
  books,
  formats,
  calendarSpan,
  subjectOf,
} = useFrame();

const FIGURES = [
  { value: 'off', name: TERMS.forecastError.name },
  { value: 'bias', name: TERMS.bias.name },
  { value: 'scaled', name: TERMS.scaledError.name },
] as const;
type Figure = (typeof FIGURES)[number]['value'];
const figure = ref<Figure>('off');
const LEADS = [1, 2, 3, 6, 12];
const ADDING: readonly AddingCode[] = ['units', 'revenue', 'cost', 'margin'];
const adding = computed(() => ADDING.find((code) => code === measure.value) ?? 'revenue');

const { data, failure } = useAnswer([scope, adding, rowCodes, books, () => plan.tick], async () => {
  const { from } = calendarSpan.value;
  const query = {
    rows: rowCodes.value.join(),
    scope: scope.value.join(),
    measure: adding.value,
    origin: books.value ? ('books' as const) : ('all' as const),
    from: monthText(from),
    to: monthText(plan.closedThrough),
    leads: LEADS.join(),
  };
  const { closes } = await plan.ask(closingOperations.readClosing, {});
  const table = await plan.ask(closingOperations.readAccuracy, query);
  return { table, closes, measure: adding.value };
});
const { order, turnOrder, arrowOf } = useRowOrder();
const all = computed(() =>
  inOrder(data.value?.table.rows ?? [], order.value, ({ leads }, column) =>
    valueOf(leads.find(({ lead }) => String(lead) === column)),
  ),
);
const { visible, toggle, unfold } = useFolding(all, 1, 'accuracy');

const span = computed(() => {
  const months = data.value?.closes.map(({ month }) => monthFrom(month)) ?? [];
  return months.length > 0 ? { from: Math.min(...months), to: Math.max(...months) } : undefined;
});
const headline = computed(() =>
  data.value ? accuracyHeadline(data.value.table, subjectOf(scope.value), formats.value) : '',
);
const state = computed(() => {
  const what = FIGURES.find(({ value }) => value === figure.value)?.name ?? '';
  const name = { units: 'units', revenue: 'revenue', cost: 'cost', margin: TEXTS.grossMargin };
  return span.value
    ? TEXTS.forecastsKeptAtClosesOf(what, name[adding.value], spanInWords(span.value))
    : '';
});

const columns = computed<GridColumn[]>(() => [
  ...LEADS.map((lead) => ({
    key: String(lead),
    heading: lead === 1 ? TEXTS.oneMonthAhead : TEXTS.months(lead),
    size: lead === 1 ? 120 : 92,
    means: TEXTS.forecastsMadeAhead(monthsInWords(lead)),
    ...arrowOf(String(lead)),
  })),
  { key: 'always', heading: TEXTS.forecastsWere, size: 150, align: 'left' as const },
]);
function valueOf(lead: LeadAccuracy | undefined): number | null {
  if (!lead || lead.months === 0) return null;
  return { off: lead.wape, bias: lead.biasShare, scaled: lead.mase }[figure.value];
}
const SIDES = { tooHigh: TEXTS.alwaysTooHigh, tooLow: TEXTS.alwaysTooLow } as const;
function cellOf({ leads, always }: AccuracyRow, place: number): GridCell {
  if (place === LEADS.length) {
    const text = always ? SIDES[always] : '';
    return { text, typed: text, dress: 'plain', ...(always ? { judgement: 'bad' } : {}) };
  }
  const lead = leads[place];
  const value = valueOf(lead);
  const scaled = figure.value === 'scaled';
  const text =
    value === null
      ? DASH
      : scaled
        ? formats.value.show(value, 'price')
        : figure.value === 'bias'
          ? formats.value.signed(value, 'percent')
          : formats.value.show(value, 'percent');
  return {
    text,
    ...typedCell(value, scaled ? 'price' : 'percent', 1, formats.value),
    ...(scaled ? { unit: '' } : {}),
    dress: 'plain',
    title:
      lead && lead.months > 0
        ? TEXTS.from(text, monthsInWords(lead.months))
        : TEXTS.noForecastWasKeptSo,
  };
}
const toRow = (
  row: AccuracyRow & { folded?: boolean },
  label: string,
  strong: boolean,
): GridRow => ({
  key: row.key,
  label,
  level: row.level,
  parent: row.parent,
  folded: row.folded ?? false,
  strong,
  cells: cellsOnDemand(columns.value.length, (place) => cellOf(row, place)),
});
const gridRows = computed(() => visible.value.map((row) => toRow(row, row.label, row.level === 0)));
const totals = computed(() =>
  data.value ? [toRow(data.value.table.total, subjectOf(scope.value), true)] : [],
);

/** How a share came about: its errors and its actuals, and how many months stand behind it. */
function ask({ row: key, column }: GridPlace): Asked | undefined {
  const answer = data.value;
  const { total } = answer?.table ?? {};
  const row = total?.key === key ? total : all.value.find((one) => one.key === key);
  const lead = row?.leads.find((one) => String(one.lead) === column);
  if (!answer || !row || !lead || lead.months === 0) return undefined;
  const about = TEXTS.forecastAhead(
    row.label || subjectOf(scope.value),
    monthsInWords(lead.months),
    monthsInWords(lead.lead),
    { off: TERMS.forecastError, bias: TERMS.bias, scaled: TERMS.scaledError }[figure.value].says,
  );
  const display = displayOf(answer.measure);
  const actual = { label: TEXTS.actualWithoutSigns, value: lead.sums.actual };
  if (figure.value === 'bias') {
    const error = { label: TEXTS.actualLessForecast, value: lead.sums.error };
    return { kind: 'node', node: shareOf(TEXTS.bias, error, actual, display), about };
  }
  const off = { label: TEXTS.differencesWithoutSigns, value: lead.sums.off };
  if (figure.value === 'off') {
    return { kind: 'node', node: shareOf(TEXTS.forecastError, off, actual, display), about };
  }
  const { mae, mase } = lead;
  const usual = mae === null || !mase ? null : mae / mase;
  const mean = { label: TEXTS.averageDifferenceOfMonth, value: mae };
  const history = { label: TEXTS.averageDifferenceFromYearBefore, value: usual };
  const node = { ...shareOf(TEXTS.scaledError, mean, history, display), display: 'price' as const };
  return { kind: 'node', node, about };
}
</script>

<template>
  <RoomPage :heading="headline" :state="state" :failure="failure" :shows="['books', 'measure']">
    <template #shown>
      <RowsChoice />
      <Choice
        :about="TEXTS.figure"
        :label="FIGURES.find(({ value }) => value === figure)?.name ?? ''"
        :options="FIGURES"
        :chosen="figure"
        @choose="figure = $event"
      />
    </template>
    <template #above><slot /></template>
    <template #menu>
      <v-list-item
        v-if="planner && data"
        role="menuitem"
        :title="TEXTS.importEarlierForecast"
        @click="importing = true"
      />
    </template>
    <EarlierDialog v-if="data" v-model="importing" :closes="data.closes" />
    <EmptyState v-if="data && data.closes.length === 0" :heading="TEXTS.noForecastHasBeenKept">
      <p>{{ TEXTS.atEachCloseForecastIs }}</p>
    </EmptyState>
    <div v-else-if="data" class="grid-place" data-grid="accuracy">
      <PlanGrid
        :label="TEXTS.accuracy"
        :about="state"
        :heading="rowHeading"
        :columns="columns"
        :rows="gridRows"
        :totals="totals"
        :ask="ask"
        :findable="all"
        sortable
        @order="turnOrder"
        @toggle="toggle"
        @unfold="unfold"
      />
    </div>
  </RoomPage>
</template>

<style scoped>
.grid-place {
  flex: 1;
  min-width: 0;
  min-height: 0;
}
</style>
