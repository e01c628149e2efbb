<script setup lang="ts">
import type { Brought, FilledChange, FilledFile } from '@dravex/contract';
import { computed, ref, shallowRef, watch } from 'vue';
import { DASH } from '../format/numbers.ts';
import FilePick from '../kit/FilePick.vue';
import FormDialog from '../kit/FormDialog.vue';
import SheetTable from '../kit/SheetTable.vue';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';

/** A filled-in file that comes back: what of it differs, row by row, and a click to take it. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{
  /** What the file was saved from, in a sentence: "this sheet". */
  from: string;
  bring: (file: File, how: Brought) => Promise<FilledFile>;
}>();
const emit = defineEmits<{ taken: [said: string] }>();
const { formats, minor } = useFrame();
const { busy, failure, write, forget } = useWriting();
const looked = shallowRef<{ readonly of: File; readonly effect: FilledFile }>();
/** Whether the file goes over what changed here since it was saved. */
const takes = ref(false);
const MOST_SHOWN = 12;

const send = (of: File, apply: Brought['apply']) =>
  props.bring(of, { apply, meanwhile: takes.value ? 'take' : 'keep' });
watch(shown, () => {
  looked.value = undefined;
  takes.value = false;
  forget();
});
async function lookAt(of: File): Promise<void> {
  looked.value = undefined;
  forget();
  await write(
    () => send(of, 'no'),
    (effect) => (looked.value = { of, effect }),
  );
}
const taken = computed(() => {
  const effect = looked.value?.effect;
  if (!effect || effect.problems.length > 0) return 0;
  return effect.changed.length + (takes.value ? effect.meanwhile.length : 0);
});
async function apply(): Promise<void> {
  const now = looked.value;
  const count = taken.value;
  if (!now || count === 0) return;
  await write(
    () => send(now.of, 'yes'),
    () => {
      shown.value = false;
      emit('taken', `${countOf(count)} taken from ${now.of.name}`);
    },
  );
}
const countOf = (count: number): string => (count === 1 ? '1 number' : `${count} numbers`);
/** Money comes in minor units, units as they are. */
function number(value: number | null): string {
  if (value === null) return DASH;
  return looked.value?.effect.measure === 'units'
    ? formats.value.full(value, 'units')
    : formats.value.full(value / minor.value, 'money');
}
const nameOf = ({ name, column }: FilledChange): string =>
  column === '' ? name : `${name}, ${column}`;
const tables = computed((): { about: string; rows: readonly FilledChange[]; was: boolean }[] => {
  const effect = looked.value?.effect;
  if (!effect) return [];
  return [
    { about: 'Changed in the file', rows: effect.changed, was: false },
    { about: 'Changed in the file and here', rows: effect.meanwhile, was: true },
  ].filter(({ rows }) => rows.length > 0);
});
</script>

<template>
  <FormDialog
    v-model="shown"
    title="Bring back a filled-in file"
    :action="taken > 0 ? `Take ${countOf(taken)}` : 'Take'"
    :busy="busy"
    :failure="failure"
    :disabled="taken === 0"
    :width="620"
    @submit="apply"
  >
    <p class="quiet">
      The workbook or CSV that was saved from {{ from }}, filled in. Nothing is changed before you
      have seen what differs.
    </p>
    <FilePick
      label="Choose file"
      about="Filled-in file"
      accept=".csv,.txt,.xlsx"
      :disabled="busy"
      @pick="lookAt"
    />
    <template v-if="looked">
      <p role="status">
        {{ looked.of.name }}: {{ looked.effect.changed.length }} changed,
        {{ looked.effect.meanwhile.length }} changed here too, {{ looked.effect.same }} unchanged{{
          looked.effect.lacking.length > 0
            ? `; ${looked.effect.lacking.length} lines are not in the file and stay as they are`
            : ''
        }}.
      </p>
      <SheetTable v-for="{ about, rows, was } in tables" :key="about" :about="about">
        <thead>
          <tr>
            <th scope="col">{{ about }}</th>
            <th v-if="was" scope="col">As saved</th>
            <th scope="col">Here now</th>
            <th scope="col">In the file</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows.slice(0, MOST_SHOWN)" :key="`${row.row} ${row.column}`">
            <th scope="row">{{ nameOf(row) }}</th>
            <td v-if="was">{{ number(row.was) }}</td>
            <td>{{ number(row.now) }}</td>
            <td>{{ number(row.file) }}</td>
          </tr>
          <tr v-if="rows.length > MOST_SHOWN">
            <th scope="row" class="quiet">and {{ rows.length - MOST_SHOWN }} more</th>
            <td :colspan="was ? 3 : 2"></td>
          </tr>
        </tbody>
      </SheetTable>
      <v-checkbox
        v-if="looked.effect.meanwhile.length > 0"
        v-model="takes"
        label="Take the file’s values over those that changed here since"
        hide-details
      />
      <p
        v-for="problem in looked.effect.problems.slice(0, MOST_SHOWN)"
        :key="`${problem.row} ${problem.message}`"
        class="failure"
      >
        Row {{ problem.row }}: {{ problem.message }}
      </p>
      <p v-if="looked.effect.problems.length > MOST_SHOWN" class="failure">
        {{ looked.effect.problems.length - MOST_SHOWN }} more rows cannot be taken.
      </p>
    </template>
  </FormDialog>
</template>
