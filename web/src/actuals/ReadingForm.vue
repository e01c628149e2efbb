<script setup lang="ts">
import {
  importKindSchema,
  type ImportKind,
  type Mapping,
  type ReadingChoice,
} from '@dravex/contract';
import { storeToRefs } from 'pinia';
import { computed, ref } from 'vue';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import Choice from '../kit/Choice.vue';
import RoomPage from '../shell/RoomPage.vue';
import { lackingIn, withConstant } from './mapping.ts';
import MappingSheet from './MappingSheet.vue';
import { TEXTS } from './texts.ts';
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
  { value: 'sales', name: WORDS.salesLines },
  { value: 'facts', name: TEXTS.measuredFacts },
  { value: 'subscribers', name: TEXTS.subscribers },
  { value: 'ledger', name: TEXTS.ledgerHistory },
];
const reading = computed(() => look.value.reading);
const named = <T,>(list: readonly { value: T; name: string }[], value: T | undefined): string =>
  list.find((one) => one.value === value)?.name ?? '';
function change(next: ReadingChoice): void {
  void importing.readAs({ ...choice.value, ...next });
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
    ...(byCustomer ? [{ code: BY_CUSTOMER, name: TEXTS.asCustomerIsAssigned }] : []),
    ...plan.tree.leavesOf(dimension),
  ];
}
const valueOf = (key: string): string | undefined =>
  reading.value.byCustomer?.includes(key) ? BY_CUSTOMER : reading.value.constants[key];
function fix(key: string, value: string | null): void {
  const rest = (reading.value.byCustomer ?? []).filter((one) => one !== key);
  change({
    ...withConstant(reading.value, key, value),
    byCustomer: value === BY_CUSTOMER ? [...rest, key] : rest,
  });
}
const lacking = computed(() => {
  const missing = look.value.missing.filter((key) => valueOf(key) === undefined);
  return lackingIn({ ...look.value, missing });
});
const title = computed(() =>
  lacking.value.length === 0
    ? TEXTS.canBeImported(fileName.value)
    : TEXTS.chooseColumnFor(fileName.value, lacking.value.join(', ').toLowerCase()),
);
const state = computed(() =>
  TEXTS.headerInRowColumnsSettings(
    reading.value.format.toUpperCase(),
    reading.value.headerRow,
    reading.value.header.length,
  ),
);
const keepAs = ref('');
function take(mapping: Mapping): void {
  const as = importKindSchema.safeParse(mapping.kind).data;
  if (as) void importing.readAs({ ...mapping.reading }, as);
}
</script>

<template>
  <RoomPage :heading="title" :state="state" :failure="importing.failure">
    <template #actions>
      <v-btn
        color="primary"
        variant="flat"
        :disabled="busy || lacking.length > 0"
        @click="importing.settle(keepAs)"
      >
        {{ TEXTS.checkRows }}
      </v-btn>
      <v-btn color="primary" :disabled="busy" @click="importing.close">{{ WORDS.cancel }}</v-btn>
    </template>
    <MappingSheet
      v-model:keep-as="keepAs"
      :look="look"
      :said="choice"
      :mappings="mappings"
      :values-for="valuesFor"
      :value-of="valueOf"
      @read="importing.readAs"
      @take="take"
      @fix="fix"
    >
      <template #form>
        <Choice
          :about="TEXTS.importAs"
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
    </MappingSheet>
  </RoomPage>
</template>
