<script setup lang="ts">
import { monthText } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { usePlan } from '../plan/use-plan.ts';
import { ApiProblem, inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

/** Keeps the forecast of the window as a version under a name. */
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ kept: [id: number, missing: number] }>();

const plan = usePlan();
const { span, fiscalYear } = useFrame();

const name = ref('');
const note = ref('');
const failure = ref('');
const busy = ref(false);
watch(shown, (open) => {
  if (!open) return;
  name.value = `Forecast FY ${fiscalYear.value}`;
  note.value = '';
  failure.value = '';
});
const months = computed(() => spanInWords(span.value));

async function keep(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    const { id, missing } = await plan.save(() =>
      request<{ id: number; missing: number }>('POST', plan.path('/versions'), {
        name: name.value,
        note: note.value,
        from: monthText(span.value.from),
        to: monthText(span.value.to),
      }),
    );
    await plan.reload();
    shown.value = false;
    emit('kept', id, missing);
  } catch (error) {
    failure.value =
      error instanceof ApiProblem ? (error.errors[0]?.message ?? error.message) : inWords(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <v-dialog v-model="shown" max-width="420">
    <form class="dialog-sheet" aria-labelledby="keep-title" @submit.prevent="keep">
      <h2 id="keep-title">Keep the forecast as a version</h2>
      <p class="quiet">
        {{ months }}, everything, closed months with their actuals. Each cell is rounded to the cent
        and never changes afterwards.
      </p>
      <label for="version-name">Name</label>
      <input id="version-name" v-model="name" :aria-invalid="failure !== ''" autocomplete="off" />
      <label for="version-note">What for</label>
      <input id="version-note" v-model="note" autocomplete="off" placeholder="optional" />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="buttons">
        <button class="primary" type="submit" :disabled="busy">Keep it</button>
        <button class="plain" type="button" @click="shown = false">Leave</button>
      </div>
    </form>
  </v-dialog>
</template>
