<script setup lang="ts">
import type { Driver, Funnel } from '@dravex/core';
import { computed } from 'vue';
import { WORDS } from '../format/words.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

type Step = Funnel['steps'][number];
/** Steps one after the other, each with its rate, its lag, what was under way and what it costs. */
const steps = defineModel<readonly Step[]>({ required: true });
const props = defineProps<{
  drivers: readonly Driver[];
  /** So many there are at least. */
  fewest: number;
  /** What adding one is called. */
  add: string;
}>();
const { formats } = useFrame();
const rates = computed(() =>
  props.drivers.filter(({ kind }) => kind === 'percent' || kind === 'ratio'),
);
const costs = computed(() => [
  { code: null, name: 'none' },
  ...props.drivers.filter(({ kind }) => kind === 'moneyPerUnit'),
]);
function set(place: number, change: Partial<Step>): void {
  steps.value = steps.value.map((one, at) => (at === place ? { ...one, ...change } : one));
}
function addStep(): void {
  const rate = rates.value[0]?.code ?? '';
  steps.value = [
    ...steps.value,
    { name: TEXTS.anotherStep, rate, lag: 0, opening: [], cost: null },
  ];
}
function setOpening(place: number, typed: string): void {
  const opening = typed
    .split(/[;\s]+/)
    .filter((part) => part !== '')
    .map((part) => formats.value.read(part, false) ?? Number.NaN)
    .filter((value) => !Number.isNaN(value));
  set(place, { opening });
}
</script>

<template>
  <div
    v-for="(step, place) in steps"
    :key="place"
    class="line"
    role="group"
    :aria-label="TEXTS.step(step.name)"
  >
    <v-text-field
      :model-value="step.name"
      :label="WORDS.name"
      @update:model-value="set(place, { name: $event })"
    />
    <v-autocomplete
      :model-value="step.rate"
      :label="TEXTS.conversion"
      :items="rates"
      item-value="code"
      @update:model-value="set(place, { rate: $event })"
    />
    <v-text-field
      type="number"
      min="0"
      max="60"
      :label="TEXTS.monthsLater"
      :model-value="step.lag"
      @update:model-value="set(place, { lag: Number($event) })"
    />
    <v-text-field
      v-if="step.lag > 0"
      :label="TEXTS.alreadyUnderWayOldestFirst"
      :model-value="step.opening.join(' ')"
      :placeholder="TEXTS.numbers(step.lag)"
      @change="setOpening(place, ($event.target as HTMLInputElement).value)"
    />
    <v-select
      :model-value="step.cost"
      :label="TEXTS.cost"
      :items="costs"
      item-value="code"
      @update:model-value="set(place, { cost: $event })"
    />
    <v-btn
      v-if="steps.length > fewest"
      variant="plain"
      :aria-label="WORDS.removeOf(step.name)"
      @click="steps = steps.filter((_, at) => at !== place)"
    >
      {{ WORDS.remove }}
    </v-btn>
  </div>
  <v-btn variant="plain" @click="addStep">{{ add }}</v-btn>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 8px;
  align-items: end;
  width: 100%;
  padding-bottom: 6px;
  border-bottom: 1px solid var(--line-soft);
}
.line .v-btn {
  justify-self: start;
}
</style>
