<script setup lang="ts">
import {
  figureColumn,
  wholeNumberFields,
  type ReadingChoice,
  type TableLook,
} from '@dravex/contract';
import { monthColumns } from '@dravex/core';
import { computed } from 'vue';
import Choice from '../kit/Choice.vue';
import SheetTable from '../kit/SheetTable.vue';
import { TEXTS } from './texts.ts';

/** A table before it is taken in: its form, what each column holds, and what stands where no column does. */
const props = defineProps<{
  look: TableLook;
  /** What a column can hold, besides the fields of the look. */
  more?: readonly { readonly key: string; readonly label: string }[];
  /** What a field of members can have in every row; a text is typed where there is nothing to choose. */
  valuesFor?: (key: string) => readonly { readonly code: string; readonly name: string }[];
  /** What a person said of how it is read; the rest was detected. */
  said: ReadingChoice;
  /** What a field has in every row. */
  valueOf: (key: string) => string | undefined;
}>();
const emit = defineEmits<{
  /** The form is to be another one. */
  change: [next: ReadingChoice];
  sheet: [name: string];
  assign: [column: number, field: string];
  fix: [key: string, value: string | null];
}>();

const DELIMITERS = [
  { value: ',' as const, name: 'comma' },
  { value: ';' as const, name: 'semicolon' },
  { value: '\t' as const, name: 'tab' },
  { value: '|' as const, name: TEXTS.verticalBar },
];
const ENCODINGS = [
  { value: 'utf-8' as const, name: 'UTF-8' },
  { value: 'windows-1252' as const, name: TEXTS.westernEuropeanWindows1252 },
  { value: 'utf-16le' as const, name: 'UTF-16' },
  { value: 'utf-16be' as const, name: TEXTS.utf16BigEndian },
];
const DECIMALS = [
  { value: '.' as const, name: '1,234.56' },
  { value: ',' as const, name: '1.234,56' },
];
const DATES = [
  { value: 'ymd' as const, name: TEXTS.yearMonthDay },
  { value: 'dmy' as const, name: TEXTS.dayMonthYear },
  { value: 'mdy' as const, name: TEXTS.monthDayYear },
];
const SHAPES = [
  { value: 'long' as const, name: TEXTS.oneRowPerLine },
  { value: 'wide' as const, name: TEXTS.monthsInColumns },
];

const reading = computed(() => props.look.reading);
const named = <T,>(list: readonly { value: T; name: string }[], value: T | undefined): string =>
  list.find((one) => one.value === value)?.name ?? '';
/** Every column with the field that it holds. */
const columns = computed(() => {
  const width = Math.max(
    reading.value.header.length,
    ...props.look.rows.map(({ cells }) => cells.length),
  );
  return Array.from({ length: width }, (_, column) => ({
    column,
    heading: reading.value.header[column] ?? '',
    field: Object.entries(reading.value.columns).find(([, at]) => at === column)?.[0] ?? '',
  }));
});
const months = computed(() => reading.value.shape === 'wide');
const monthsAcross = computed(() =>
  months.value ? monthColumns(reading.value.header) : new Map<number, string>(),
);
/** Fields that no column holds, which can have one value in every row. */
const open = computed(() =>
  props.look.fields.filter(
    ({ key, need, content }) =>
      reading.value.columns[key] === null &&
      content !== 'day' &&
      !(months.value && key === reading.value.values) &&
      // Where nothing is planned by yet, there are no members to choose from.
      (content === 'member' ? props.valuesFor !== undefined : need === 'always'),
  ),
);
/** Whether every row says which figure it has: then no one figure stands below the months. */
const byFigure = computed(() => figureColumn(reading.value) !== undefined);
const labelOf = (key: string): string =>
  props.look.fields.find((field) => field.key === key)?.label ?? key;
const numberFields = computed(() =>
  wholeNumberFields(props.look.fields).map(({ key, label }) => ({ value: key, name: label })),
);
/** Days that can be read with the day or with the month first, and nothing says which. */
const EITHER = /^\d{1,2}[./-]\d{1,2}[./-]\d{2,4}$/;
const ambiguous = computed(() => {
  const { columns: held, dates } = reading.value;
  const column = held['date'];
  if (props.said.dates !== undefined || props.look.detected.includes('dates')) return '';
  if (typeof column !== 'number') return '';
  const [first] = props.look.rows
    .map(({ cells }) => String(cells[column] ?? '').trim())
    .filter((text) => EITHER.test(text));
  return first === undefined ? '' : TEXTS.canBeReadWithDay(first, named(DATES, dates));
});
const offered = computed(() => [
  { key: '', label: TEXTS.doNotImport },
  ...(props.more ?? []),
  ...props.look.fields,
]);
function setHeaderRow(event: Event): void {
  const row = Number((event.target as HTMLInputElement).value);
  if (Number.isInteger(row) && row >= 1) emit('change', { headerRow: row, columns: undefined });
}
</script>

<template>
  <div class="reading">
    <div class="controls" role="group" :aria-label="TEXTS.howFileIsRead">
      <slot name="form" />
      <Choice
        v-if="look.sheets.length > 1"
        :about="TEXTS.sheet"
        :label="TEXTS.sheetOf(reading.sheet ?? '')"
        :options="look.sheets.map((value) => ({ value, name: value }))"
        :chosen="reading.sheet"
        @choose="(sheet) => emit('sheet', sheet)"
      />
      <Choice
        v-if="reading.delimiter !== undefined"
        :about="TEXTS.separator"
        :label="TEXTS.separatorOf(named(DELIMITERS, reading.delimiter))"
        :options="DELIMITERS"
        :chosen="reading.delimiter"
        @choose="(delimiter) => emit('change', { delimiter, columns: undefined })"
      />
      <Choice
        v-if="reading.format === 'csv'"
        :about="TEXTS.encoding"
        :label="named(ENCODINGS, reading.encoding)"
        :options="ENCODINGS"
        :chosen="reading.encoding"
        @choose="(encoding) => emit('change', { encoding, columns: undefined })"
      />
      <Choice
        :about="TEXTS.numbers"
        :label="TEXTS.numbersOf(named(DECIMALS, reading.decimal))"
        :options="DECIMALS"
        :chosen="reading.decimal"
        @choose="(decimal) => emit('change', { decimal })"
      />
      <Choice
        :about="TEXTS.dates"
        :label="TEXTS.datesOf(named(DATES, reading.dates))"
        :options="DATES"
        :chosen="reading.dates"
        @choose="(dates) => emit('change', { dates })"
      />
      <Choice
        :about="TEXTS.layout"
        :label="named(SHAPES, reading.shape)"
        :options="SHAPES"
        :chosen="reading.shape"
        @choose="(shape) => emit('change', { shape, columns: undefined })"
      />
      <Choice
        v-if="months && !byFigure"
        :about="TEXTS.monthsHold"
        :label="TEXTS.monthsHoldOf(labelOf(reading.values))"
        :options="numberFields"
        :chosen="reading.values"
        @choose="(values) => emit('change', { values, columns: undefined })"
      />
      <slot name="more-form" />
    </div>
    <p v-if="ambiguous" class="waits">{{ ambiguous }}</p>
    <div class="controls" role="group" :aria-label="TEXTS.headerAndMapping">
      <v-text-field
        :label="TEXTS.headerInRow"
        type="number"
        min="1"
        width="90"
        :model-value="reading.headerRow"
        @change="setHeaderRow"
      />
      <v-checkbox
        :label="TEXTS.emptyCellsRepeatOneAbove"
        :model-value="reading.fillDown"
        @update:model-value="emit('change', { fillDown: $event === true })"
      />
      <slot name="keep" />
    </div>
    <div v-if="open.length > 0" class="controls" role="group" :aria-label="TEXTS.valuesForAllRows">
      <span class="quiet">{{ TEXTS.noColumnHasTheseChoose }}</span>
      <template v-for="field in open" :key="field.key">
        <v-autocomplete
          v-if="valuesFor && field.content === 'member'"
          clearable
          :label="field.label"
          width="200"
          item-value="code"
          item-title="name"
          :items="valuesFor(field.key)"
          :error="look.missing.includes(field.key)"
          :model-value="valueOf(field.key) ?? null"
          @update:model-value="(code: string | null) => emit('fix', field.key, code)"
        />
        <v-text-field
          v-else
          :label="field.label"
          width="150"
          :error="look.missing.includes(field.key)"
          :model-value="valueOf(field.key) ?? ''"
          @change="emit('fix', field.key, ($event.target as HTMLInputElement).value.trim() || null)"
        />
      </template>
    </div>
    <div class="scroll">
      <SheetTable class="look" :about="TEXTS.firstRowsOfFile">
        <thead>
          <tr>
            <th scope="col">{{ TEXTS.row }}</th>
            <th
              v-for="{ column, heading, field } in columns"
              :key="column"
              scope="col"
              class="words"
            >
              <span v-if="monthsAcross.has(column)" class="month">{{
                byFigure ? TEXTS.figureOfRow : labelOf(reading.values)
              }}</span>
              <v-autocomplete
                v-else
                width="150"
                :model-value="field"
                :items="offered"
                item-value="key"
                item-title="label"
                :aria-label="TEXTS.columnHolds(heading || column + 1)"
                @update:model-value="(key: string | null) => emit('assign', column, key ?? '')"
              />
              <span class="heading">{{ heading || TEXTS.column(column + 1) }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in look.rows" :key="row.row">
            <td class="quiet">{{ row.row }}</td>
            <td
              v-for="{ column, field } in columns"
              :key="column"
              class="words"
              :class="{ quiet: field === '' && !monthsAcross.has(column) }"
            >
              {{ row.cells[column] ?? '' }}
            </td>
          </tr>
        </tbody>
      </SheetTable>
    </div>
  </div>
</template>

<style scoped>
.reading {
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.controls {
  align-items: flex-end;
}
.scroll {
  border: 1px solid var(--line);
}
.look th {
  background: var(--paper-deep);
  padding-top: 4px;
  vertical-align: top;
}
.month {
  display: block;
  font-size: 11.5px;
  font-weight: 600;
  color: var(--harbour);
  padding: 4px 2px;
}
.heading {
  display: block;
  font-weight: 600;
  padding: 3px 2px;
}
</style>
