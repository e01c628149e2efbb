<script setup lang="ts">
import type { ImportKind, Mapping, ReadingChoice } from '@dravex/contract';
import { storeToRefs } from 'pinia';
import { computed, ref } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import Choice from '../kit/Choice.vue';
import RoomPage from '../shell/RoomPage.vue';
import ReadingSheet from './ReadingSheet.vue';
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
const reading = computed(() => look.value.reading);
const named = <T,>(list: readonly { value: T; name: string }[], value: T | undefined): string =>
  list.find((one) => one.value === value)?.name ?? '';
function change(next: ReadingChoice): void {
  void importing.readAs({ ...choice.value, ...next });
}

function assign(column: number, field: string): void {
  const next: Record<string, number | null> = { ...reading.value.columns };
  for (const [key, at] of Object.entries(next)) if (at === column) next[key] = null;
  if (field !== '') next[field] = column;
  change({ columns: next });
}

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
const title = computed(() =>
  lacking.value.length === 0
    ? `${fileName.value} can be imported`
    : `${fileName.value}: choose the column for ${lacking.value.join(', ').toLowerCase()}`,
);
const state = computed(
  () =>
    `${reading.value.format.toUpperCase()}, header in row ${reading.value.headerRow}, ${reading.value.header.length} columns. The settings were detected; change what is not right.`,
);
const keepAs = ref('');
const keeping = ref(false);
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
    <ReadingSheet
      :look="look"
      :said="choice"
      :values-for="valuesFor"
      :value-of="valueOf"
      @change="change"
      @sheet="(sheet) => importing.readAs({ sheet })"
      @assign="assign"
      @fix="fix"
    >
      <template #form>
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
      </template>
      <template #more-form>
        <Choice
          v-if="mappings.length > 0"
          about="Saved mappings"
          label="Use a saved mapping"
          :options="mappings.map(({ id, name }) => ({ value: id, name }))"
          @choose="take"
        />
      </template>
      <template #keep>
        <v-checkbox v-model="keeping" label="Save this mapping as" />
        <v-text-field
          v-model="keepAs"
          width="160"
          placeholder="ERP export"
          aria-label="Name of the mapping"
          :disabled="!keeping"
        />
      </template>
    </ReadingSheet>
  </RoomPage>
</template>
