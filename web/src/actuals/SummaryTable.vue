<script setup lang="ts">
import { mdiMenuDown } from '@mdi/js';
import type { Summary } from '@dravex/contract';
import {
  inBoth,
  monthFrom,
  type SalesSums,
  type SummaryMeasure,
  MEASURES,
  SUMMARY_CODES,
} from '@dravex/core';
import { computed, ref, shallowRef } from 'vue';
import { grownInWords } from '../format/numbers.ts';
import { dayInWords, shortMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import {
  cellsOnDemand,
  type GridCell,
  type GridColumn,
  type GridPlace,
  type GridRow,
} from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import { typedCell } from '../grid/table-rows.ts';
import { usePlan } from '../plan/use-plan.ts';
import EmbedDialog from '../reporting/EmbedDialog.vue';
import Choice from '../kit/Choice.vue';
import EmptyFilter from '../shell/EmptyFilter.vue';
import FileItem from '../shell/FileItem.vue';
import { useFrame } from '../shell/use-frame.ts';
import HandLineForm from './HandLineForm.vue';
import ActualsPage from './ActualsPage.vue';
import LinesPanel, { type LinesWanted } from './LinesPanel.vue';
import { TEXTS } from './texts.ts';
import { useSummary } from './use-summary.ts';

/** Sales lines summed by anything, several measures at once, down to the lines themselves. */
defineProps<{ planner: boolean }>();
const emit = defineEmits<{ batch: [id: number] }>();
const plan = usePlan();
const { formats, unit, scope, subject, rowsInWords } = useFrame();
const {
  rows,
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
  data,
  failure,
} = useSummary();

const GRAINS = [
  { value: 'day', name: 'days' },
  { value: 'week', name: 'ISO weeks' },
  { value: 'month', name: 'months' },
  { value: 'quarter', name: 'quarters' },
  { value: 'year', name: 'years' },
  { value: 'none', name: TEXTS.theWholePeriod },
];
const dimensions = computed(() => plan.workspace?.plan.dimensions ?? []);
const columnChoices = computed(() => [
  ...GRAINS,
  ...dimensions.value.map(({ code, name }) => ({ value: code, name: name.toLowerCase() })),
]);
const columnName = computed(
  () => columnChoices.value.find(({ value }) => value === columns.value)?.name ?? '',
);
const ORIGINS = [
  { value: 'all' as const, name: TEXTS.allSales },
  { value: 'books' as const, name: TEXTS.onlySalesInBooks },
  { value: 'hand' as const, name: TEXTS.onlySalesEnteredByHand },
];
const CODES = SUMMARY_CODES;
function toggle(measure: SummaryMeasure): void {
  const next = measures.value.includes(measure)
    ? measures.value.filter((code) => code !== measure)
    : CODES.filter((code) => code === measure || measures.value.includes(code));
  void set({ measures: next.length === 0 ? undefined : next.join() });
}

const percent = (value: number | null): string => formats.value.show(value, 'percent');

type Row = Summary['rows'][number];
/** The columns of numbers: a measure of a stretch of time, of a member, or of all of them. */
const numbers = computed(() => {
  const summary = data.value;
  if (!summary) return [];
  const years = new Set(summary.columns.map(({ key }) => key.slice(0, 4))).size > 1;
  const places = summary.columns.map(({ key, label, partial }, place) => {
    const name = columns.value === 'month' ? shortMonth(monthFrom(key), years) : label;
    return { key: String(place), place, label: partial ? `${name} ˙` : name };
  });
  const all = columns.value === 'none' ? [] : places;
  const list = [{ key: 'total', place: -1, label: WORDS.total }, ...all];
  return axis.value === 'rows'
    ? list.map((one) => ({ ...one, measure: undefined }))
    : list.flatMap((one) => measures.value.map((measure) => ({ ...one, measure })));
});
const ARROWS = { true: '↓', false: '↑' } as const;
const arrow = (key: string, measure = ''): string => {
  const { key: by, measure: of, down } = sorting.value;
  return by === key && (key === 'label' || of === measure) ? ARROWS[`${down}`] : '';
};
const gridColumns = computed<GridColumn[]>(() =>
  numbers.value.map(({ key, label, measure }) => {
    const ordered = arrow(key, measure ?? measures.value[0]);
    return {
      key: `${key}.${measure ?? ''}`,
      heading: measure && measures.value.length > 1 ? `${label}, ${MEASURES[measure].name}` : label,
      closed: true,
      ...(ordered === '' ? {} : { ordered }),
      ...(key === 'total' ? { total: true } : {}),
    };
  }),
);

const at = (cells: readonly SalesSums[], total: SalesSums, place: number): SalesSums | undefined =>
  place < 0 ? total : cells[place];
function figure(row: Row, place: number, measure: SummaryMeasure) {
  const total = data.value?.total;
  return figureOf(
    at(row.cells, row.total, place),
    compare.value && data.value?.before ? at(row.cellsBefore, row.totalBefore, place) : undefined,
    total && at(total.cells, total.total, place),
    measure,
  );
}
/** A number with what stands beside it: its share of the column, its growth on the year before. */
function cellOf(row: Row, place: number, measure: SummaryMeasure): GridCell {
  const { value, share, before, growth } = figure(row, place, measure);
  const { display } = MEASURES[measure];
  const compared = compare.value && data.value?.before !== null;
  const beside = [
    ...(shares.value && share !== null ? [percent(share)] : []),
    ...(compared ? [formats.value.signed(growth, 'percent')] : []),
  ];
  const own = at(row.cells, row.total, place);
  const byHand = own !== undefined && own.lines > 0 && own.byHand === own.lines;
  const earlier = compared ? TEXTS.aYearBefore(formats.value.full(before, display)) : '';
  return {
    text: formats.value.show(value, display, unit.value),
    ...typedCell(value, display, unit.value, formats.value),
    dress: byHand ? 'typed' : 'books',
    title: `${formats.value.full(value, display)}${earlier}${byHand ? TEXTS.enteredByHandNotIn : ''}`,
    ...(beside.length > 0 ? { beside: beside.join(' ') } : {}),
  };
}
/** A row as lines of the grid: one, or one a measure where these stand on the rows. */
function linesOf(row: Row): GridRow[] {
  const total = row.key === 'total';
  const list = axis.value === 'rows' ? measures.value : [undefined];
  const shown = numbers.value;
  return list.map((measure, place) => ({
    key: `${row.key}.${measure ?? ''}`,
    label: place === 0 ? row.label : MEASURES[measure ?? 'revenue'].name,
    ...(place === 0 && measure ? { tail: MEASURES[measure].name.toLowerCase() } : {}),
    level: row.level + (place === 0 ? 0 : 1),
    parent: false,
    folded: false,
    strong: total || row.parent,
    quiet: place > 0,
    cells: cellsOnDemand(shown.length, (index) => {
      const number = shown[index];
      return cellOf(row, number?.place ?? -1, number?.measure ?? measure ?? 'revenue');
    }),
  }));
}
const gridRows = computed(() => shown.value.flatMap(linesOf));
const totals = computed(() => (data.value ? linesOf(data.value.total) : []));
function order(column: string): void {
  if (column === 'name') sortBy('label');
  else {
    const [key = '', measure = ''] = column.split('.');
    sortBy(key, measure === '' ? measures.value[0] : measure);
  }
}

const headline = computed(() => {
  const summary = data.value;
  if (!summary) return '';
  const [first] = measures.value;
  if (first === undefined) return '';
  const { value, growth: grown } = figure(summary.total, -1, first);
  const name = MEASURES[first].name.toLowerCase();
  const words =
    MEASURES[first].display === 'percent'
      ? percent(value)
      : value === null
        ? TEXTS.noValue
        : formats.value.inWords(value);
  return `${subject.value}: ${words} ${name}${grownInWords(grown, formats.value)}`;
});
const state = computed(() => {
  const summary = data.value;
  if (!summary) return '';
  const before = summary.before
    ? TEXTS.comparedWithTo(dayInWords(summary.before.from), dayInWords(summary.before.to))
    : '';
  const books = origin.value === 'all' ? '' : `; ${originName.value.toLowerCase()}`;
  return TEXTS.toMoneyIn(
    dayInWords(summary.from),
    dayInWords(summary.to),
    before,
    formats.value.unitName(unit.value),
    books,
  );
});
/** What the rows are, for the head of their names. */
const heading = computed(() => rowsInWords(rows.value) || TEXTS.all);
const partial = computed(() => data.value?.columns.some((column) => column.partial) ?? false);

const wanted = shallowRef<LinesWanted>();
/** Lists the sales lines behind a number. */
function openLines({ row: line, column: of }: GridPlace): void {
  const summary = data.value;
  const key = line.slice(0, line.lastIndexOf('.'));
  const row = key === 'total' ? summary?.total : shown.value.find((one) => one.key === key);
  if (!summary || !row) return;
  const place = of.startsWith('total') ? -1 : Number(of.split('.')[0]);
  const column = place < 0 ? undefined : summary.columns[place];
  const member = column && column.from === null ? [Number(column.key)] : [];
  const own = inBoth(plan.tree, [...row.scope, ...member], scope.value);
  wanted.value = {
    title: [row.key === 'total' ? '' : row.label, column?.label ?? '']
      .filter((text) => text !== '')
      .join(', '),
    scope: own,
    from: column?.from ?? summary.from,
    to: column?.to ?? summary.to,
    origin: origin.value,
  };
}
/** An open list follows the cell one goes to. */
function visit(place: GridPlace): void {
  if (wanted.value) openLines(place);
}
const entering = ref(false);
const embedding = ref(false);
const ASSIGNED = [
  { value: 'then' as const, name: TEXTS.groupsAsOfSale },
  { value: 'now' as const, name: TEXTS.groupsAsOfToday },
];
const originName = computed(() => ORIGINS.find(({ value }) => value === origin.value)?.name ?? '');
const measuresInWords = computed(() => {
  const [first] = measures.value;
  const more = measures.value.length - 1;
  return `${MEASURES[first ?? 'revenue'].name}${more > 0 ? TEXTS.andMore(more) : ''}`;
});
</script>

<template>
  <ActualsPage :heading="headline" :state="state" :failure="failure" :shows="['unit']">
    <template #shown>
      <RowsChoice />
      <Choice
        :about="WORDS.columns"
        :label="TEXTS.by(columnName)"
        :options="columnChoices"
        :chosen="columns"
        @choose="(value) => set({ by: value })"
      />
      <v-menu :close-on-content-click="false">
        <template #activator="{ props: activator }">
          <v-btn
            v-bind="activator"
            :append-icon="mdiMenuDown"
            :aria-label="TEXTS.measuresAndComparison"
          >
            {{ measuresInWords }}
          </v-btn>
        </template>
        <div class="menu-sheet shown" role="group" :aria-label="TEXTS.measuresAndComparison">
          <v-checkbox
            v-for="code in CODES"
            :key="code"
            :label="MEASURES[code].name"
            :model-value="measures.includes(code)"
            @update:model-value="toggle(code)"
          />
          <v-divider />
          <v-checkbox
            :label="TEXTS.compareWithLastYear"
            :model-value="compare"
            @update:model-value="set({ beside: compare ? undefined : 'year-before' })"
          />
          <v-checkbox
            :label="TEXTS.sharesOfTotal"
            :model-value="shares"
            @update:model-value="set({ shares: shares ? undefined : 'yes' })"
          />
          <v-checkbox
            :label="TEXTS.measuresInRows"
            :disabled="measures.length < 2"
            :model-value="axis === 'rows'"
            @update:model-value="set({ axis: axis === 'rows' ? undefined : 'rows' })"
          />
        </div>
      </v-menu>
      <Choice
        :about="TEXTS.whichSales"
        :label="ORIGINS.find(({ value }) => value === origin)?.name ?? ''"
        :options="ORIGINS"
        :chosen="origin"
        @choose="(value) => set({ origin: value === 'all' ? undefined : value })"
      />
      <Choice
        :about="TEXTS.customerGroups"
        :label="ASSIGNED.find(({ value }) => value === assigned)?.name ?? ''"
        :options="ASSIGNED"
        :chosen="assigned"
        @choose="(value) => set({ assigned: value === 'now' ? 'now' : undefined })"
      />
      <v-text-field
        type="search"
        width="130"
        clearable
        :placeholder="TEXTS.findRow"
        :aria-label="TEXTS.findRow"
        :model-value="find"
        @change="set({ find: ($event.target as HTMLInputElement).value || undefined })"
        @click:clear="set({ find: undefined })"
      />
    </template>
    <template #menu>
      <FileItem :title="WORDS.saveAsCsv" :address="fileAs('csv')" />
      <FileItem :title="WORDS.saveAsWorkbook" :address="fileAs('xlsx')" />
      <v-list-item
        v-if="planner && rows.length > 0"
        role="menuitem"
        :title="WORDS.embedInAnotherPage"
        @click="embedding = true"
      />
      <v-list-item
        v-if="planner"
        role="menuitem"
        :title="TEXTS.addSaleByHand"
        @click="entering = true"
      />
    </template>
    <EmbedDialog
      v-model="embedding"
      :measured="MEASURES[measures[0] ?? 'revenue'].name"
      :query="{
        of: 'sales',
        measure: measures[0] ?? 'revenue',
        rows: [...rows],
        columns,
        origin,
        assigned,
      }"
    />
    <HandLineForm v-model="entering" />
    <p v-if="data?.warning" class="waits">{{ data.warning }}</p>
    <div v-if="data" class="with-panel">
      <EmptyFilter
        v-if="data.total.total.lines === 0"
        :heading="TEXTS.noSalesLinesMatch"
        :more="
          origin === 'all' ? [] : [{ name: originName, lift: () => set({ origin: undefined }) }]
        "
      />
      <EmptyFilter
        v-else-if="shown.length === 0"
        :heading="TEXTS.noRowMatches"
        :more="[{ name: TEXTS.find(find), lift: () => set({ find: undefined }) }]"
      />
      <div v-else class="scroll">
        <div class="grid-place" data-grid="summary">
          <PlanGrid
            :label="TEXTS.summaryOfSales"
            :about="state"
            :heading="heading"
            :columns="gridColumns"
            :rows="gridRows"
            :totals="totals"
            sortable
            :name-ordered="arrow('label')"
            @order="order"
            @explain="openLines"
            @place="visit"
          />
        </div>
        <p v-if="partial" class="quiet">{{ TEXTS.partialPeriod }}</p>
      </div>
      <LinesPanel
        v-if="wanted"
        :wanted="wanted"
        :planner="planner"
        @close="wanted = undefined"
        @batch="(id) => emit('batch', id)"
      />
    </div>
  </ActualsPage>
</template>

<style scoped>
.shown {
  padding: 6px 12px;
}
.with-panel {
  display: flex;
  gap: 20px;
  min-height: 0;
  flex: 1;
}
.scroll {
  flex: 1;
  min-width: 0;
  min-height: 0;
  display: flex;
  flex-direction: column;
}
.grid-place {
  flex: 1;
  min-height: 0;
}
</style>
