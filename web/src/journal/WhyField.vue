<script setup lang="ts">
import { ref, watch } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';

/** Asks, without insisting, why a change was made that has just been kept. */
const props = defineProps<{ journal: number | null | undefined }>();

const plan = usePlan();
const why = ref('');
const said = ref(false);
const failure = ref('');
watch(
  () => props.journal,
  () => {
    why.value = '';
    said.value = false;
    failure.value = '';
  },
);

async function say(): Promise<void> {
  if (!props.journal || why.value.trim() === '') return;
  try {
    await request('PATCH', plan.path(`/journal/${props.journal}`), { why: why.value });
    said.value = true;
    plan.tick += 1;
  } catch (error) {
    failure.value = inWords(error);
  }
}
</script>

<template>
  <form v-if="journal" class="why" @submit.prevent="say">
    <span v-if="said" class="quiet">“{{ why.trim() }}”</span>
    <input
      v-else
      v-model="why"
      aria-label="Why"
      placeholder="Why? Enter keeps it"
      maxlength="500"
      autocomplete="off"
    />
    <span v-if="failure" class="failure" role="alert">{{ failure }}</span>
  </form>
</template>

<style scoped>
.why input {
  width: 190px;
  padding: 1px 8px;
  font-size: 12px;
}
</style>
