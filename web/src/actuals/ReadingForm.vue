<script setup lang="ts">
import type { ImportKind, Mapping, ReadingChoice } from '@dravex/contract';
import { monthColumns } from '@dravex/core';
import { storeToRefs } from 'pinia';
import { computed, ref } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import Choice from '../kit/Choice.vue';
import SheetTable from '../kit/SheetTable.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useImport } from './use-import.ts';

/** How a file is read: its form, what each column holds, and what stands where no column does. */
const plan = usePlan();
const importing = useImport();
const { kind, mappings, choice, file } = storeToRefs(importing);
/** The room shows the form while a file is looked at. */
const look = computed(() => {
  if (!importing.look) throw new Error('No file is being read');
  return importing.look;
});
const busy = computed(() => importing.busy !== '');
const fileName = computed(() => file.value?.name ?? '');

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
  { value: '|' as const, name: 'vertical bar' },
];
const ENCODINGS = [
  { value: 'utf-8' as const, name: 'UTF-8' },
  { value: 'windows-1252' as const, name: 'Western European (Windows-1252)' },
  { value: 'utf-16le' as const, name: 'UTF-16' },
  { value: 'utf-16be' as const, name: 'UTF-16 big endian' },
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
  { value: 'long' as const, name: 'one row per line' },
  { value: 'wide' as const, name: 'months in columns' },
];

const reading = computed(() => look.value.reading);
const named = <T,>(list: readonly { value: T; name: string }[], value: T | undefined): string =>
  list.find((one) => one.value === value)?.name ?? '';
function change(next: ReadingChoice): void {
  void importing.readAs({ ...choice.value, ...next });
}

/** Every column with the field that it holds. */
const columns = computed(() => {
  const width = Math.max(
    reading.value.header.length,
    ...look.value.rows.map(({ cells }) => cells.length),
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
function assign(column: number, field: string): void {
  const next: Record<string, number | null> = { ...reading.value.columns };
  for (const [key, at] of Object.entries(next)) if (at === column) next[key] = null;
  if (field !== '') next[field] = column;
  change({ columns: next });
}

/** Fields that no column holds, which can have one value in every row. */
const open = computed(() =>
  look.value.fields.filter(
    ({ key, need, content }) =>
      reading.value.columns[key] === null &&
      content !== 'day' &&
      !(months.value && key === reading.value.values) &&
      (content === 'member' || need === 'always'),
  ),
);
/** What stands for the members that a customer belongs to, among the codes of members. */
const BY_CUSTOMER = '';
/** What a field that no column holds can have in every row. */
function valuesFor(key: string) {
  const dimension = plan.workspace?.plan.dimensions.find(({ code }) => code === key);
  if (!dimension) return [];
  const byCustomer =
    kind.value === 'sales' && typeof reading.value.columns['customer'] === 'number';
  return [
    ...(byCustomer ? [{ code: BY_CUSTOMER, name: 'As the customer is assigned' }] : []),
    ...plan.tree.leavesOf(dimension),
  ];
}
const valueOf = (key: string): string | undefined =>
  reading.value.byCustomer?.includes(key) ? BY_CUSTOMER : reading.value.constants[key];
function fix(key: string, value: string | null): void {
  const { [key]: _, ...others } = reading.value.constants;
  const rest = (reading.value.byCustomer ?? []).filter((one) => one !== key);
  const text = value?.trim() ?? null;
  change({
    constants: text === null || text === '' ? others : { ...others, [key]: text },
    byCustomer: value === BY_CUSTOMER ? [...rest, key] : rest,
  });
}
const labelOf = (key: string): string =>
  look.value.fields.find((field) => field.key === key)?.label ?? key;
const lacking = computed(() =>
  look.value.missing.filter((key) => valueOf(key) === undefined).map(labelOf),
);
const numberFields = computed(() =>
  look.value.fields
    .filter(({ content, key }) => content === 'number' && key !== 'line number')
    .map(({ key, label }) => ({ value: key, name: label })),
);
const title = computed(() =>
  lacking.value.length === 0
    ? `${fileName.value} can be imported`
    : `${fileName.value}: choose the column for ${lacking.value.join(', ').toLowerCase()}`,
);
const state = computed(
  () =>
    `${reading.value.format.toUpperCase()}, header in row ${reading.value.headerRow}, ${columns.value.length} columns. The settings were detected; change what is not right.`,
);
const offered = computed(() => [{ key: '', label: 'Do not import' }, ...look.value.fields]);
const keepAs = ref('');
const keeping = ref(false);
const headerRow = computed(() => reading.value.headerRow);
function setHeaderRow(event: Event): void {
  const row = Number((event.target as HTMLInputElement).value);
  if (Number.isInteger(row) && row >= 1) change({ headerRow: row, columns: undefined });
}
function take(id: number): void {
  const mapping: Mapping | undefined = mappings.value.find((one) => one.id === id);
  if (mapping) void importing.readAs({ ...mapping.reading }, mapping.kind);
}
</script>

<template>
  <RoomPage :heading="title" :state="state" :failure="importing.failure">
    <template #actions>
      <v-btn
        color="primary"
        variant="flat"
        :disabled="busy || lacking.length > 0"
        @click="importing.settle(keeping ? keepAs.trim() : '')"
      >
        Check rows
      </v-btn>
      <v-btn color="primary" :disabled="busy" @click="importing.close">Cancel</v-btn>
    </template>
    <div class="controls" role="group" aria-label="How the file is read">
      <Choice
        about="Import as"
        :label="named(KINDS, kind)"
        :options="KINDS"
        :chosen="kind"
        @choose="
          (value) =>
            importing.readAs(
              { ...choice, columns: undefined, constants: undefined, byCustomer: undefined },
              value,
            )
        "
      />
      <Choice
        v-if="look.sheets.length > 1"
        about="Sheet"
        :label="`Sheet: ${reading.sheet}`"
        :options="look.sheets.map((value) => ({ value, name: value }))"
        :chosen="reading.sheet"
        @choose="(sheet) => importing.readAs({ sheet })"
      />
      <Choice
        v-if="reading.delimiter !== undefined"
        about="Separator"
        :label="`Separator: ${named(DELIMITERS, reading.delimiter)}`"
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
        about="Months hold"
        :label="`Months hold: ${labelOf(reading.values)}`"
        :options="numberFields"
        :chosen="reading.values"
        @choose="(values) => change({ values, columns: undefined })"
      />
      <Choice
        v-if="mappings.length > 0"
        about="Saved mappings"
        label="Use a saved mapping"
        :options="mappings.map(({ id, name }) => ({ value: id, name }))"
        @choose="take"
      />
    </div>
    <div class="controls" role="group" aria-label="Header and mapping">
      <v-text-field
        label="Header in row"
        type="number"
        min="1"
        width="90"
        :model-value="headerRow"
        @change="setHeaderRow"
      />
      <v-checkbox
        label="Empty cells repeat the one above"
        :model-value="reading.fillDown"
        @update:model-value="change({ fillDown: $event === true })"
      />
      <v-checkbox v-model="keeping" label="Save this mapping as" />
      <v-text-field
        v-model="keepAs"
        width="160"
        placeholder="ERP export"
        aria-label="Name of the mapping"
        :disabled="!keeping"
      />
    </div>
    <div v-if="open.length > 0" class="controls" role="group" aria-label="Values for all rows">
      <span class="quiet">No column has these; choose one value for all rows:</span>
      <template v-for="field in open" :key="field.key">
        <v-autocomplete
          v-if="field.content === 'member'"
          clearable
          :label="field.label"
          width="200"
          item-value="code"
          item-title="name"
          :items="valuesFor(field.key)"
          :error="look.missing.includes(field.key)"
          :model-value="valueOf(field.key) ?? null"
          @update:model-value="(code: string | null) => fix(field.key, code)"
        />
        <v-text-field
          v-else
          :label="field.label"
          width="150"
          :error="look.missing.includes(field.key)"
          :model-value="valueOf(field.key) ?? ''"
          @change="fix(field.key, ($event.target as HTMLInputElement).value.trim() || null)"
        />
      </template>
    </div>
    <div class="scroll">
      <SheetTable class="look" about="First rows of the file">
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
              <v-autocomplete
                v-else
                width="150"
                :model-value="field"
                :items="offered"
                item-value="key"
                item-title="label"
                :aria-label="`Column ${heading || column + 1} holds`"
                @update:model-value="(key: string | null) => assign(column, key ?? '')"
              />
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
      </SheetTable>
    </div>
  </RoomPage>
</template>

<style scoped>
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
