<script setup lang="ts">
import type { Brought, FilledFile } from '@dravex/contract';
import { computed, ref, shallowRef, watch } from 'vue';
import FilePick from '../kit/FilePick.vue';
import FormDialog from '../kit/FormDialog.vue';
import { useWriting } from '../writing/use-writing.ts';
import FilledLook from './FilledLook.vue';

/** A filled-in file that comes back: what of it differs, row by row, and a click to take it. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{
  /** What the file was saved from, in a sentence: "this sheet". */
  from: string;
  bring: (file: File, how: Brought) => Promise<FilledFile>;
}>();
const emit = defineEmits<{ taken: [said: string] }>();
const { busy, failure, write, forget } = useWriting();
const looked = shallowRef<{ readonly of: File; readonly effect: FilledFile }>();
/** Whether the file goes over what changed here since it was saved. */
const takes = ref(false);

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
  if (!effect || effect.counts.problems > 0) return 0;
  return effect.counts.changed + (takes.value ? effect.counts.meanwhile : 0);
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
      <FilledLook :effect="looked.effect" :name="looked.of.name">
        <v-checkbox
          v-if="looked.effect.counts.meanwhile > 0"
          v-model="takes"
          label="Take the file’s values over those that changed here since"
          hide-details
        />
      </FilledLook>
    </template>
  </FormDialog>
</template>
