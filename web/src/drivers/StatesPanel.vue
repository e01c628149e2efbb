<script setup lang="ts">
import { driversOperations, type DriverState } from '@dravex/contract';
import type { Driver } from '@dravex/core';
import { whenInWords } from '../format/moments.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SidePanel from '../shell/SidePanel.vue';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

/** What a driver went through, and the way back to any state it was in. */
const props = defineProps<{ driver: Driver; editable: boolean }>();
const emit = defineEmits<{ close: [] }>();
const plan = usePlan();
const { data, failure: unread } = useAnswer(
  [() => props.driver.code, () => plan.tick, () => plan.savedAt],
  () => plan.ask(driversOperations.readDriverStates, { driver: props.driver.code }),
);
const when = (moment: string): string => whenInWords(moment, plan.locale);
const { failure, busy, write } = useWriting();
const restore = ({ id: journalId, at }: DriverState) =>
  write(
    () => plan.ask(driversOperations.bringDriverBack, { driver: props.driver.code, journalId }),
    ({ changes }) => {
      const { name } = props.driver;
      plan.said =
        changes === 0
          ? { text: TEXTS.alreadyHasTheseValues(name) }
          : { text: TEXTS.restoredOf(name.toLowerCase(), when(at)), undo: 'drivers' };
    },
  );
</script>

<template>
  <SidePanel :heading="TEXTS.historyOf(driver.name.toLowerCase())" @close="emit('close')">
    <p class="quiet">{{ TEXTS.eachLineIsChangeRestoring }}</p>
    <p v-if="failure || unread" class="failure" role="alert">{{ failure || unread }}</p>
    <p v-if="data && data.length === 0" class="quiet">{{ TEXTS.noChangesYet }}</p>
    <ul>
      <li v-for="(state, place) in data ?? []" :key="state.id">
        <p>
          {{ state.what }}
          <span v-if="state.why">“{{ state.why }}”</span>
        </p>
        <p class="quiet">
          {{ state.by }}, {{ when(state.at) }}, {{ state.changes }}
          {{ state.changes === 1 ? TEXTS.valueLower : TEXTS.values }}
        </p>
        <p v-if="place === 0" class="quiet">{{ TEXTS.currentValues }}</p>
        <v-btn v-else-if="editable" variant="plain" :disabled="busy" @click="restore(state)">
          {{ TEXTS.restoreValuesAfterThisChange }}
        </v-btn>
      </li>
    </ul>
  </SidePanel>
</template>

<style scoped>
li {
  padding: 5px 0;
  border-bottom: 1px solid var(--line-soft);
}
</style>
