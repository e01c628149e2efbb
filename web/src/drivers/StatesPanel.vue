<script setup lang="ts">
import type { DriverState } from '@dravex/contract';
import type { Driver } from '@dravex/core';
import { ref } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import SidePanel from '../shell/SidePanel.vue';

/** What a driver went through, and the way back to any state it was in. */
const props = defineProps<{ driver: Driver; editable: boolean }>();
const emit = defineEmits<{ close: [] }>();
const plan = usePlan();
const failure = ref('');
const path = (rest = ''): string => plan.path(`/drivers/${props.driver.code}/states${rest}`);
const { data, failure: unread } = useAnswer(
  [() => props.driver.code, () => plan.tick, () => plan.savedAt],
  () => request<DriverState[]>('GET', path()),
);

async function bringBack(state: DriverState): Promise<void> {
  failure.value = '';
  try {
    const { changes } = await plan.save(() =>
      request<{ changes: number }>('POST', path(`/${state.id}`)),
    );
    await plan.inLine(plan.catchUp);
    plan.said = {
      text:
        changes === 0
          ? `${props.driver.name} is what it was then`
          : `${props.driver.name} is what it was ${whenInWords(state.at, plan.workspace?.locale)}; Ctrl+Z takes it back`,
    };
  } catch (error) {
    plan.saving = 'saved';
    failure.value = inWords(error);
  }
}
</script>

<template>
  <SidePanel
    about="States"
    :heading="`What ${driver.name.toLowerCase()} was`"
    closing="Close the states"
    @close="emit('close')"
  >
    <p class="quiet">
      Each line is a change of what is assumed. Bringing a state back is a change of its own.
    </p>
    <p v-if="failure || unread" class="failure" role="alert">{{ failure || unread }}</p>
    <p v-if="data && data.length === 0" class="quiet">Nothing was changed yet.</p>
    <ul>
      <li v-for="(state, place) in data ?? []" :key="state.id">
        <p>
          {{ state.what }}
          <span v-if="state.why">“{{ state.why }}”</span>
        </p>
        <p class="quiet">
          {{ state.by }}, {{ whenInWords(state.at, plan.workspace?.locale) }}, {{ state.changes }}
          {{ state.changes === 1 ? 'value' : 'values' }}
        </p>
        <p v-if="place === 0" class="quiet">as it is now</p>
        <button v-else-if="editable" type="button" class="link" @click="bringBack(state)">
          bring back what it was after this
        </button>
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
