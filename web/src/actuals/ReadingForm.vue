<script setup lang="ts">
import type { ImportKind, Mapping, ReadingChoice, TableLook } from '@dravex/contract';
import { monthColumns } from '@dravex/core';
import { computed, ref } from 'vue';
import Choice from '../shell/Choice.vue';

/** How a file is read: its form, what each column holds, and what stands where no column does. */
const props = defineProps<{
  fileName: string;
  look: TableLook;
  choice: ReadingChoice;
  kind: ImportKind;
  mappings: readonly Mapping[];
  busy: boolean;
}>();
const emit = defineEmits<{
  read: [choice: ReadingChoice, kind?: ImportKind];
  settle: [name: string];
  close: [];
}>();

const KINDS: readonly { value: ImportKind; name: string }[] = [
  { value: 'sales', name: 'Sales lines' },
  { value: 'facts', name: 'Measured facts' },
  { value: 'subscribers', name: 'Subscribers' },
  { value: 'ledger', name: 'Ledger history' },
];
const DELIMITERS = [
  { value: ',' as const, name: 'comma' },
  { value: ';' as const, name: 'semicolon' },
  { value: '\t' as const, name: 'tab' },
  { value: '|' as const, name: 'bar' },
];
const ENCODINGS = [
  { value: 'utf-8' as const, name: 'UTF-8' },
  { value: 'windows-1252' as const, name: 'Western European (Latin-1)' },
  { value: 'utf-16le' as const, name: 'UTF-16' },
  { value: 'utf-16be' as const, name: 'UTF-16, big end first' },
];
const DECIMALS = [
  { value: '.' as const, name: '1,234.56' },
  { value: ',' as const, name: '1.234,56' },
];
const DATES = [
  { value: 'ymd' as const, name: 'year, month, day' },
  { value: 'dmy' as const, name: 'day, month, year' },
  { value: 'mdy' as const, name: 'month, day, year' },
];
const SHAPES = [
  { value: 'long' as const, name: 'one row a line' },
  { value: 'wide' as const, name: 'months across' },
];

const reading = computed(() => props.look.reading);
const named = <T,>(list: readonly { value: T; name: string }[], value: T | undefined): string =>
  list.find((one) => one.value === value)?.name ?? '';
function change(next: ReadingChoice): void {
  emit('read', { ...props.choice, ...next });
}

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
function assign(column: number, event: Event): void {
  const field = (event.target as HTMLSelectElement).value;
  const next: Record<string, number | null> = { ...reading.value.columns };
  for (const [key, at] of Object.entries(next)) if (at === column) next[key] = null;
  if (field !== '') next[field] = column;
  change({ columns: next });
}

/** Fields that no column holds, which can have one value in every row. */
const open = computed(() =>
  props.look.fields.filter(
    ({ key, need, content }) =>
      reading.value.columns[key] === null &&
      content !== 'day' &&
      !(months.value && key === reading.value.values) &&
      (content === 'member' || need === 'always'),
  ),
);
function fix(key: string, event: Event): void {
  const text = (event.target as HTMLInputElement).value.trim();
  const { [key]: _, ...others } = reading.value.constants;
  change({ constants: text === '' ? others : { ...others, [key]: text } });
}
const labelOf = (key: string): string =>
  props.look.fields.find((field) => field.key === key)?.label ?? key;
const lacking = computed(() =>
  props.look.missing.filter((key) => reading.value.constants[key] === undefined).map(labelOf),
);
const numberFields = computed(() =>
  props.look.fields
    .filter(({ content, key }) => content === 'number' && key !== 'line number')
    .map(({ key, label }) => ({ value: key, name: label })),
);
const keepAs = ref('');
const keeping = ref(false);
const headerRow = computed(() => reading.value.headerRow);
function setHeaderRow(event: Event): void {
  const row = Number((event.target as HTMLInputElement).value);
  if (Number.isInteger(row) && row >= 1) change({ headerRow: row, columns: undefined });
}
function take(mapping: Mapping): void {
  emit('read', { ...mapping.reading }, mapping.kind);
}
</script>

<template>
  <div class="form">
    <header>
      <h1>
        {{
          lacking.length === 0
            ? `${fileName} can be read`
            : `${fileName}: say which column holds ${lacking.join(', ').toLowerCase()}`
        }}
      </h1>
      <p class="state quiet">
        {{ look.reading.format.toUpperCase() }}, header in row {{ headerRow }},
        {{ columns.length }} columns. What is shown was detected; change what is not right.
      </p>
    </header>
    <div class="controls wrap" role="group" aria-label="How the file is read">
      <Choice
        about="Taken in as"
        :label="named(KINDS, kind)"
        :options="KINDS"
        :chosen="kind"
        @choose="
          (value) => emit('read', { ...choice, columns: undefined, constants: undefined }, value)
        "
      />
      <Choice
        v-if="look.sheets.length > 1"
        about="Sheet"
        :label="`Sheet: ${reading.sheet}`"
        :options="look.sheets.map((value) => ({ value, name: value }))"
        :chosen="reading.sheet"
        @choose="(sheet) => emit('read', { sheet })"
      />
      <Choice
        v-if="reading.delimiter !== undefined"
        about="Cut by"
        :label="`Cut by ${named(DELIMITERS, reading.delimiter)}`"
        :options="DELIMITERS"
        :chosen="reading.delimiter"
        @choose="(delimiter) => change({ delimiter, columns: undefined })"
      />
      <Choice
        v-if="reading.format === 'csv'"
        about="Encoding"
        :label="named(ENCODINGS, reading.encoding)"
        :options="ENCODINGS"
        :chosen="reading.encoding"
        @choose="(encoding) => change({ encoding, columns: undefined })"
      />
      <Choice
        about="Numbers"
        :label="`Numbers ${named(DECIMALS, reading.decimal)}`"
        :options="DECIMALS"
        :chosen="reading.decimal"
        @choose="(decimal) => change({ decimal })"
      />
      <Choice
        about="Dates"
        :label="`Dates ${named(DATES, reading.dates)}`"
        :options="DATES"
        :chosen="reading.dates"
        @choose="(dates) => change({ dates })"
      />
      <Choice
        about="Layout"
        :label="named(SHAPES, reading.shape)"
        :options="SHAPES"
        :chosen="reading.shape"
        @choose="(shape) => change({ shape, columns: undefined })"
      />
      <Choice
        v-if="months"
        about="Below the months"
        :label="`Below the months: ${labelOf(reading.values)}`"
        :options="numberFields"
        :chosen="reading.values"
        @choose="(values) => change({ values, columns: undefined })"
      />
      <label class="inline">
        Header in row
        <input
          type="number"
          min="1"
          class="short"
          :value="headerRow"
          aria-label="Header in row"
          @change="setHeaderRow"
        />
      </label>
      <label class="inline">
        <input
          type="checkbox"
          :checked="reading.fillDown"
          @change="change({ fillDown: ($event.target as HTMLInputElement).checked })"
        />
        Empty cells repeat the one above
      </label>
    </div>
    <div v-if="open.length > 0" class="controls wrap" role="group" aria-label="Values for all rows">
      <span class="quiet">No column holds these; give one value for all rows:</span>
      <label v-for="field in open" :key="field.key" class="inline">
        {{ field.label }}
        <input
          class="text"
          :class="{ wanted: look.missing.includes(field.key) }"
          :value="reading.constants[field.key] ?? ''"
          :aria-label="`${field.label} of all rows`"
          @change="fix(field.key, $event)"
        />
      </label>
    </div>
    <div class="scroll">
      <table class="sheet-table look" aria-label="First rows of the file">
        <thead>
          <tr>
            <th scope="col">Row</th>
            <th
              v-for="{ column, heading, field } in columns"
              :key="column"
              scope="col"
              class="words"
            >
              <span v-if="monthsAcross.has(column)" class="month">{{
                labelOf(reading.values)
              }}</span>
              <select
                v-else
                :value="field"
                :aria-label="`Column ${heading || column + 1} holds`"
                :class="{ used: field !== '' }"
                @change="assign(column, $event)"
              >
                <option value="">not used</option>
                <option v-for="one in look.fields" :key="one.key" :value="one.key">
                  {{ one.label }}
                </option>
              </select>
              <span class="heading">{{ heading || `column ${column + 1}` }}</span>
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
      </table>
    </div>
    <div class="controls">
      <button
        type="button"
        class="primary"
        :disabled="busy || lacking.length > 0"
        @click="emit('settle', keeping ? keepAs.trim() : '')"
      >
        Check the rows
      </button>
      <label class="inline">
        <input v-model="keeping" type="checkbox" /> Keep this mapping as
        <input
          v-model="keepAs"
          class="text"
          placeholder="ERP export"
          aria-label="Name of the mapping"
          :disabled="!keeping"
        />
      </label>
      <Choice
        v-if="mappings.length > 0"
        about="Kept mappings"
        label="Read it like …"
        :options="mappings.map(({ id, name }) => ({ value: id, name }))"
        @choose="
          (id) => {
            const mapping = mappings.find((one) => one.id === id);
            if (mapping) take(mapping);
          }
        "
      />
      <button type="button" class="plain" :disabled="busy" @click="emit('close')">Leave it</button>
    </div>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  gap: 10px;
  grid-template-rows: auto auto;
  grid-auto-rows: auto;
  min-height: 0;
  flex: 1;
  align-content: start;
}
.wrap {
  flex-wrap: wrap;
}
.inline {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  font-size: 12px;
}
.short {
  width: 54px;
}
.text {
  width: 150px;
}
.wanted {
  border-color: var(--ember);
}
.scroll {
  overflow: auto;
  max-height: calc(100vh - 380px);
  border: 1px solid var(--line);
}
.look th {
  position: sticky;
  top: 0;
  background: var(--paper-deep);
  z-index: 1;
  padding-top: 4px;
  vertical-align: top;
}
.look select {
  display: block;
  font-size: 11.5px;
  color: var(--ink-quiet);
  max-width: 150px;
}
.look select.used {
  color: var(--harbour);
  font-weight: 600;
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
