<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FormDialog from './FormDialog.vue';

/** Asks for some words before something is done. */
export interface AskedWords {
  readonly title: string;
  /** What is to be known first. */
  readonly about?: string;
  readonly label: string;
  readonly action: string;
  readonly done: (words: string) => unknown;
  /** What stands in the field to begin with. */
  readonly begins?: string;
  /** Whether no words at all are an answer, too. */
  readonly empties?: boolean;
}
const asked = defineModel<AskedWords | undefined>({ required: true });
const words = ref('');
watch(asked, (now) => (words.value = now?.begins ?? ''));
const nothing = computed(() => words.value.trim() === '' && asked.value?.empties !== true);
const shown = computed({
  get: () => asked.value !== undefined,
  set: (open) => {
    if (!open) asked.value = undefined;
  },
});
function submit(): void {
  const now = asked.value;
  if (!now || nothing.value) return;
  asked.value = undefined;
  now.done(words.value.trim());
}
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="asked?.title ?? ''"
    :action="asked?.action ?? WORDS.save"
    :disabled="nothing"
    :width="420"
    @submit="submit"
  >
    <p v-if="asked?.about" class="quiet">{{ asked.about }}.</p>
    <v-text-field v-model="words" :label="asked?.label ?? ''" autocomplete="off" counter="500" />
  </FormDialog>
</template>
