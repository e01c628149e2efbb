<script setup lang="ts">
import type { Version } from '@dravex/contract';
import { fiscalYearOf, monthFrom } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { usePlan } from '../plan/use-plan.ts';
import { ApiProblem, inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

/** Copies a version with an uplift: how next year's budget starts. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ version: Version }>();
const emit = defineEmits<{ copied: [id: number] }>();

const plan = usePlan();
const { calendar, formats } = useFrame();

const name = ref('');
const uplift = ref('');
const shift = ref(12);
const failure = ref('');
const busy = ref(false);
watch(shown, (open) => {
  if (!open) return;
  const year = fiscalYearOf(monthFrom(props.version.to) + 12, calendar.value.fiscalStart);
  shift.value = monthFrom(props.version.to) + 12 <= monthFrom(calendar.value.last) ? 12 : 0;
  name.value = shift.value === 12 ? `Budget FY ${year}` : `${props.version.name}, copy`;
  uplift.value = '4';
  failure.value = '';
});
const months = computed(() => ({
  from: monthFrom(props.version.from) + shift.value,
  to: monthFrom(props.version.to) + shift.value,
}));

async function copy(): Promise<void> {
  const read = uplift.value.trim() === '' ? 0 : formats.value.read(uplift.value, true);
  if (read === undefined) {
    failure.value = `“${uplift.value}” is not a percentage`;
    return;
  }
  busy.value = true;
  failure.value = '';
  try {
    const { id } = await plan.save(() =>
      request<{ id: number }>('POST', plan.path(`/versions/${props.version.id}/copy`), {
        name: name.value,
        uplift: read,
        shift: shift.value,
      }),
    );
    await plan.inLine(plan.catchUp);
    shown.value = false;
    emit('copied', id);
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
    <form class="dialog-sheet" aria-labelledby="copy-title" @submit.prevent="copy">
      <h2 id="copy-title">Copy {{ version.name }}</h2>
      <p class="quiet">
        Each cell times one and the uplift, for {{ spanInWords(months) }}. The total is exact to the
        cent.
      </p>
      <label for="copy-name">Name</label>
      <input id="copy-name" v-model="name" autocomplete="off" />
      <label for="copy-uplift">Uplift in percent</label>
      <input id="copy-uplift" v-model="uplift" autocomplete="off" inputmode="decimal" />
      <label for="copy-shift">For</label>
      <select id="copy-shift" v-model="shift">
        <option :value="12">the year after</option>
        <option :value="0">the same months</option>
      </select>
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="buttons">
        <button class="primary" type="submit" :disabled="busy">Copy it</button>
        <button class="plain" type="button" @click="shown = false">Leave</button>
      </div>
    </form>
  </v-dialog>
</template>
