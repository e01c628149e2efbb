<script setup lang="ts">
import { driversOperations, type KeptAssumption } from '@dravex/contract';
import type { Driver } from '@dravex/core';
import { computed } from 'vue';
import ForecastChart from '../charts/ForecastChart.vue';
import type { SaidOfDriver } from '../computation/driver-answers.ts';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import SidePanel from '../shell/SidePanel.vue';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import { displayOf } from './driver-format.ts';
import { formOf } from './profile-form.ts';
import { profileInWords } from './profile-words.ts';
import ProfileFields from './ProfileFields.vue';
import { TEXTS } from './texts.ts';
import { useProfile } from './use-profile.ts';

/** Inputs of a driver at a scope: set by growth and season, with history and effect in one line. */
const props = defineProps<{
  driver: Driver;
  scope: readonly number[];
  said: SaidOfDriver | undefined;
}>();
const emit = defineEmits<{ close: [] }>();
const plan = usePlan();
const { formats } = useFrame();
const { form, begin, sending, blank, numbers, firstOpen, assumption, complete, ...shown } =
  useProfile(() => props);
const { chart, strange, against } = shown;

const where = computed(() =>
  props.scope.length > 0 ? plan.tree.label(props.scope) : TEXTS.theWholeCompany,
);
const mine = computed(() =>
  [...plan.assumptions.values()].filter(
    ({ driver, scope }) =>
      driver === props.driver.code && [...scope].sort().join() === [...props.scope].sort().join(),
  ),
);

const { busy, failure, write } = useWriting();
const at = computed(() => ({ driver: props.driver.code }));
async function save(): Promise<void> {
  const { driver: _, ...body } = assumption.value;
  const kept = sending();
  await write(
    () => plan.ask(driversOperations.setAssumption, at.value, { ...body, id: form.value.id }),
    kept,
  );
}
const remove = (assumptionId: number) =>
  write(() => plan.ask(driversOperations.dropAssumption, { ...at.value, assumptionId }));

/** Puts an input into the form; one that is typed month by month is edited in the grid. */
function edit({ id, profile, from, to, note }: KeptAssumption): void {
  if (profile.kind === 'months') return;
  const begun = { ...blank(), id, from: from ?? '', to: to ?? '', note };
  form.value = formOf(profile, begun, numbers.value);
}
</script>

<template>
  <SidePanel :heading="`${driver.name}, ${where}`" :width="372" @close="emit('close')">
    <ForecastChart
      v-bind="chart"
      name="New values"
      :label="TEXTS.historyAndValuesBeingSet(driver.name)"
      :show="(value: number) => formats.show(value, displayOf(driver))"
    />
    <p v-if="strange" class="waits">{{ strange }}</p>
    <form :aria-label="TEXTS.growthAndSeason" @submit.prevent="save">
      <ProfileFields
        v-model="form"
        :driver="driver"
        :scope="scope"
        :lines="said?.lines ?? 0"
        :against="against"
        :season="said?.season ?? null"
        :first-open="firstOpen"
      />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="controls">
        <v-btn color="primary" variant="flat" type="submit" :disabled="!complete" :loading="busy">
          {{ form.id === null ? TEXTS.set : WORDS.change }}
        </v-btn>
        <v-btn v-if="form.id !== null" color="primary" @click="begin">{{ WORDS.cancel }}</v-btn>
      </div>
    </form>
    <section v-if="mine.length > 0" :aria-label="TEXTS.setHere">
      <h3>{{ TEXTS.setFor(where) }}</h3>
      <ul>
        <li v-for="row in mine" :key="row.id">
          {{ profileInWords(row.profile, formats) }}
          <span v-if="row.note" class="quiet">“{{ row.note }}”</span>
          <span class="quiet"> {{ row.by }}</span>
          {{ ' ' }}
          <v-btn v-if="row.profile.kind !== 'months'" variant="plain" @click="edit(row)">
            {{ TEXTS.edit }}
          </v-btn>
          {{ ' ' }}
          <v-btn variant="plain" :disabled="busy" @click="remove(row.id)">{{ WORDS.remove }}</v-btn>
        </li>
      </ul>
    </section>
  </SidePanel>
</template>

<style scoped>
form {
  display: grid;
  gap: 4px;
}
.controls {
  margin-top: 6px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 12px;
}
li {
  padding: 3px 0;
  border-bottom: 1px solid var(--line-soft);
}
h3 {
  font-size: 12px;
  margin: 4px 0;
}
</style>
