<script setup lang="ts">
import type { Brought, FilledFile } from '@dravex/contract';
import { computed, ref, shallowRef, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FilePick from '../kit/FilePick.vue';
import FormDialog from '../kit/FormDialog.vue';
import { useWriting } from '../writing/use-writing.ts';
import FilledLook from './FilledLook.vue';
import { TEXTS } from './texts.ts';

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
      emit('taken', TEXTS.importedFrom(countOf(count), now.of.name));
    },
  );
}
const countOf = (count: number): string => (count === 1 ? '1 number' : TEXTS.numbers(count));
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.importFilledInFile"
    :action="taken > 0 ? TEXTS.importNumbers(countOf(taken)) : WORDS.import"
    :busy="busy"
    :failure="failure"
    :disabled="taken === 0"
    :width="620"
    @submit="apply"
  >
    <p class="quiet">
      {{ TEXTS.workbookOrCsvThatWas(from) }}
    </p>
    <FilePick
      :label="WORDS.chooseFile"
      :about="TEXTS.filledInFile"
      accept=".csv,.txt,.xlsx"
      :disabled="busy"
      @pick="lookAt"
    />
    <template v-if="looked">
      <FilledLook :effect="looked.effect" :name="looked.of.name">
        <v-checkbox
          v-if="looked.effect.counts.meanwhile > 0"
          v-model="takes"
          :label="TEXTS.preferFileValues"
          hide-details
        />
      </FilledLook>
    </template>
  </FormDialog>
</template>
