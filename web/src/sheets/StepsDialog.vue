<script setup lang="ts">
import type { Sheet } from '@dravex/contract';
import { whenInWords } from '../format/moments.ts';
import { WORDS } from '../format/words.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import SheetTable from '../kit/SheetTable.vue';
import { usePlan } from '../plan/use-plan.ts';
import { STATES } from './sheet-rows.ts';
import { TEXTS } from './texts.ts';

/** The way of a sheet so far: who did what, when, and what they said. */
const shown = defineModel<boolean>({ required: true });
defineProps<{ sheet: Sheet }>();
const plan = usePlan();
</script>

<template>
  <DialogSheet v-model="shown" :title="TEXTS.stepsOf(sheet.title)" :width="620">
    <SheetTable :about="TEXTS.stepsSoFar">
      <thead>
        <tr>
          <th scope="col">{{ TEXTS.state }}</th>
          <th scope="col" class="words">{{ TEXTS.by }}</th>
          <th scope="col" class="words">{{ TEXTS.when }}</th>
          <th scope="col" class="words">{{ TEXTS.whatWasSaid }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(step, place) in sheet.steps" :key="place">
          <th scope="row">{{ STATES[step.state] }}</th>
          <td class="words">{{ step.by }}</td>
          <td class="words">{{ whenInWords(step.at, plan.locale) }}</td>
          <td class="words said">{{ step.text }}</td>
        </tr>
      </tbody>
    </SheetTable>
    <template #actions>
      <v-btn color="primary" @click="shown = false">{{ WORDS.close }}</v-btn>
    </template>
  </DialogSheet>
</template>

<style scoped>
.said {
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
