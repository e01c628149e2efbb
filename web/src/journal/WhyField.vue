<script setup lang="ts">
import { journalOperations } from '@dravex/contract';
import { ref, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

/** Asks, without insisting, why a change was made that has just been kept. */
const props = defineProps<{ journal: number | null | undefined }>();

const plan = usePlan();
const why = ref('');
const said = ref(false);
const { failure, write, forget } = useWriting();
watch(
  () => props.journal,
  () => {
    why.value = '';
    said.value = false;
    forget();
  },
);

async function say(): Promise<void> {
  const journalId = props.journal;
  if (!journalId || why.value.trim() === '') return;
  said.value = await write(() =>
    plan.ask(journalOperations.sayWhy, { journalId }, { why: why.value }),
  );
  plan.tick += 1;
}
</script>

<template>
  <form v-if="journal" class="why" @submit.prevent="say">
    <span v-if="said" class="quiet">“{{ why.trim() }}”</span>
    <v-text-field
      v-else
      v-model="why"
      :aria-label="WORDS.reason"
      :placeholder="TEXTS.reasonOptionalEnterSavesIt"
      maxlength="500"
      autocomplete="off"
      width="220"
      :error-messages="failure"
    />
  </form>
</template>
