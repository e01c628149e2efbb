<script setup lang="ts">
import {
  actualsOperations,
  budgetOperations,
  type FilledFile,
  type Mapping,
  type ReadingChoice,
  type TableLook,
  type Version,
} from '@dravex/contract';
import { monthFrom } from '@dravex/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { lackingIn, lastingChoice, startOf, withConstant } from '../actuals/mapping.ts';
import MappingSheet from '../actuals/MappingSheet.vue';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FilePick from '../kit/FilePick.vue';
import FormDialog from '../kit/FormDialog.vue';
import FilledLook from '../plan/FilledLook.vue';
import { usePlan } from '../plan/use-plan.ts';
import { callWithFile } from '../shell/client.ts';
import { useWork } from '../writing/use-work.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

/** A plan from any table: which column holds what, what of it differs, and a click to take it. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ version: Version }>();
const emit = defineEmits<{ taken: [said: string] }>();
const plan = usePlan();
const work = useWork();
const { busy, failure, write, forget } = useWriting();

const file = shallowRef<File>();
const look = shallowRef<TableLook>();
const choice = shallowRef<ReadingChoice>({});
const mappings = shallowRef<readonly Mapping[]>([]);
const effect = shallowRef<FilledFile>();
/** What values of the file stand for that name no member, by dimension and value. */
const meant = ref<Readonly<Record<string, { field: string; from: string; to: string }>>>({});
const remembers = ref(true);
/** Whether rows that cannot be taken are left out. */
const leaves = ref(false);
const keepAs = ref('');

watch(shown, () => {
  file.value = undefined;
  look.value = undefined;
  effect.value = undefined;
  choice.value = {};
  leaves.value = false;
  meant.value = {};
  remembers.value = true;
  keepAs.value = '';
  forget();
});

const sentAs = (sent: File, reading: ReadingChoice) => ({
  ...{ workspaceId: plan.workspaceId, fileName: sent.name },
  ...(Object.keys(reading).length > 0 ? { reading: JSON.stringify(reading) } : {}),
});
function readAs(next: ReadingChoice): void {
  const sent = file.value;
  if (!sent) return;
  effect.value = undefined;
  void write(
    () =>
      callWithFile(
        actualsOperations.lookAtTable,
        { ...sentAs(sent, next), kind: 'plan' },
        startOf(sent),
      ),
    (found) => {
      look.value = found;
      choice.value = next;
    },
  );
}
async function choose(sent: File): Promise<void> {
  file.value = sent;
  look.value = undefined;
  effect.value = undefined;
  const kept = await plan.ask(actualsOperations.listMappings, {}).catch(() => []);
  mappings.value = kept.filter(({ kind }) => kind === 'plan');
  const inputs = { ...sentAs(sent, {}), kind: 'plan' as const };
  await write(
    () => callWithFile(actualsOperations.lookAtTable, inputs, startOf(sent)),
    (found) => {
      look.value = found;
      choice.value = {};
    },
  );
  const like = mappings.value.find(({ id }) => id === look.value?.mapping?.id);
  if (like) readAs({ ...like.reading });
}
function fix(key: string, value: string | null): void {
  if (look.value) readAs({ ...choice.value, ...withConstant(look.value.reading, key, value) });
}
function valuesFor(key: string) {
  return plan.workspace?.plan.dimensions.find(({ code }) => code === key)?.members ?? [];
}
/** So many unknown names are asked about at once. */
const MOST_UNKNOWN = 8;
/** The dimensions by name, as in "channel, product or region". */
const dimensions = computed(() => {
  const names = (plan.workspace?.plan.dimensions ?? []).map(({ name }) => name.toLowerCase());
  return new Intl.ListFormat('en', { type: 'disjunction' }).format(names);
});
/** No column says what is planned: all rows of a month would be added up. */
const unnamed = computed(() => {
  if (!look.value) return false;
  const { reading, fields } = look.value;
  const named = (key: string): boolean =>
    typeof reading.columns[key] === 'number' || reading.constants[key] !== undefined;
  return !fields.some(({ key, content }) => content === 'member' && named(key));
});
const lacking = computed(() => (look.value ? lackingIn(look.value) : []));

const send = (sent: File, apply: 'yes' | 'no'): Promise<FilledFile> =>
  work.during(apply === 'yes' ? TEXTS.taking(sent.name) : TEXTS.checking(sent.name), (said) =>
    callWithFile(
      budgetOperations.bringPlanned,
      {
        ...sentAs(sent, { ...choice.value, columns: look.value?.reading.columns }),
        ...{ versionId: props.version.id, apply, faulty: leaves.value ? 'leave' : 'refuse' },
        replace: JSON.stringify(
          Object.values(meant.value).map((one) => ({ ...one, remember: remembers.value })),
        ),
      },
      sent,
      { onProgress: (done, all) => (said.share = done < all ? done / all : undefined) },
    ),
  );
const count = computed(() => {
  const found = effect.value;
  if (!found || (found.counts.problems > 0 && !leaves.value)) return 0;
  return found.counts.changed;
});
/** Values that name no member, each once. */
const unknown = computed(() => {
  const found = (effect.value?.problems ?? []).flatMap(({ unknown: one }) => one ?? []);
  return [...new Map(found.map((one) => [`${one.field} ${one.value}`, one])).values()];
});
/** Says what a value stands for, and looks at the file again. */
async function mean(field: string, from: string, to: string | null): Promise<void> {
  const sent = file.value;
  if (!sent || to === null) return;
  meant.value = { ...meant.value, [`${field} ${from}`]: { field, from, to } };
  await write(
    () => send(sent, 'no'),
    (found) => (effect.value = found),
  );
}
const numbers = (of: number): string => (of === 1 ? '1 number' : TEXTS.numbers(of));
const action = computed(() => {
  if (!effect.value) return TEXTS.check;
  return count.value > 0 ? TEXTS.importNumbers(numbers(count.value)) : WORDS.import;
});
async function next(): Promise<void> {
  const [sent, settled] = [file.value, look.value];
  if (!sent || !settled || lacking.value.length > 0) return;
  if (!effect.value) {
    await write(
      async () => {
        const name = keepAs.value;
        if (name !== '') {
          const { header } = settled.reading;
          const mapping = { name, kind: 'plan' as const, header, reading: lastingChoice(settled) };
          await plan.ask(actualsOperations.keepMapping, {}, mapping);
        }
        return send(sent, 'no');
      },
      (found) => (effect.value = found),
    );
    return;
  }
  if (count.value === 0) return;
  const taken = numbers(count.value);
  await write(
    () => send(sent, 'yes'),
    () => {
      shown.value = false;
      emit('taken', TEXTS.importedFrom(taken, sent.name));
    },
  );
}
const covers = computed(() =>
  spanInWords({ from: monthFrom(props.version.from), to: monthFrom(props.version.to) }),
);
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.importPlanFromFile"
    :action="action"
    :busy="busy"
    :failure="failure"
    :disabled="!look || lacking.length > 0 || (effect !== undefined && count === 0)"
    :width="look ? 1080 : 560"
    @submit="next"
  >
    <p class="quiet">
      {{ TEXTS.anyTableAsCsvWorkbook(version.name, covers) }}
    </p>
    <div class="controls">
      <FilePick
        :label="file ? TEXTS.chooseAnotherFile : WORDS.chooseFile"
        :about="TEXTS.planFromFile"
        accept=".csv,.txt,.tsv,.xlsx,.json"
        :disabled="busy"
        @pick="choose"
      />
      <v-btn v-if="effect" variant="plain" :disabled="busy" @click="effect = undefined">
        {{ TEXTS.changeWhatColumnsHold }}
      </v-btn>
    </div>
    <template v-if="file && look && !effect">
      <p v-if="lacking.length > 0" class="waits" role="status">
        {{ TEXTS.chooseColumnFor(file.name, lacking.join(', ').toLowerCase()) }}
      </p>
      <p v-else-if="unnamed" class="waits" role="status">
        {{ TEXTS.noColumnHoldsAllRows(file.name, dimensions) }}
      </p>
      <p v-else role="status">
        {{ TEXTS.checkWhatColumnsHoldDimension(file.name) }}
      </p>
      <div class="table">
        <MappingSheet
          v-model:keep-as="keepAs"
          :look="look"
          :said="choice"
          :mappings="mappings"
          :values-for="valuesFor"
          :value-of="(key) => look?.reading.constants[key]"
          @read="readAs"
          @take="({ reading: kept }) => readAs({ ...kept })"
          @fix="fix"
        />
      </div>
    </template>
    <FilledLook v-if="file && effect" :effect="effect" :name="file.name">
      <div v-if="unknown.length > 0" class="controls" role="group" :aria-label="TEXTS.unknownNames">
        <v-autocomplete
          v-for="{ field, value } in unknown.slice(0, MOST_UNKNOWN)"
          :key="`${field} ${value}`"
          :label="TEXTS.standsFor(value)"
          width="220"
          item-value="code"
          item-title="name"
          :items="valuesFor(field)"
          :model-value="null"
          :disabled="busy"
          @update:model-value="(code: string | null) => mean(field, value, code)"
        />
      </div>
      <v-checkbox
        v-if="Object.keys(meant).length > 0"
        v-model="remembers"
        :label="TEXTS.rememberWhatNamesStandFor"
        hide-details
      />
      <v-checkbox
        v-if="effect.counts.problems > 0"
        v-model="leaves"
        :label="TEXTS.leaveOutThatCannotBe(effect.counts.problems)"
        hide-details
      />
    </FilledLook>
  </FormDialog>
</template>

<style scoped>
.controls,
.table {
  margin: 6px 0;
}
.table {
  display: flex;
  max-height: 52vh;
  min-height: 0;
}
</style>
