<script setup lang="ts">
import type { Driver, Funnel } from '@dravex/core';
import { computed } from 'vue';
import { useFrame } from '../shell/use-frame.ts';

/** A funnel: where items come from, and the steps that they pass with their lags and costs. */
const funnel = defineModel<Funnel>({ required: true });
const props = defineProps<{ drivers: readonly Driver[] }>();
const { formats } = useFrame();

type Source = Funnel['sources'][number];
type Step = Funnel['steps'][number];

const inputs = computed(() =>
  props.drivers.filter(({ kind }) => kind !== 'choice' && kind !== 'yesNo'),
);
const rates = computed(() =>
  props.drivers.filter(({ kind }) => kind === 'percent' || kind === 'ratio'),
);
const costs = computed(() => [
  { code: null, name: 'none' },
  ...props.drivers.filter(({ kind }) => kind === 'moneyPerUnit'),
]);
const KINDS = [
  { value: 'typed', name: 'entered' },
  { value: 'paid', name: 'spend / cost of one' },
  { value: 'times', name: 'one times the other' },
];
const places = computed(() => [
  { value: 0, name: 'before the first step' },
  ...funnel.value.steps.map(({ name }, at) => ({ value: at + 1, name: `after ${name}` })),
]);

function setSources(sources: readonly Source[]): void {
  funnel.value = { ...funnel.value, sources };
}
function setSteps(steps: readonly Step[]): void {
  funnel.value = { ...funnel.value, steps };
}
function setSource(place: number, change: Partial<Source>): void {
  setSources(funnel.value.sources.map((one, at) => (at === place ? { ...one, ...change } : one)));
}
function setStep(place: number, change: Partial<Step>): void {
  setSteps(funnel.value.steps.map((one, at) => (at === place ? { ...one, ...change } : one)));
}
const without = <T,>(list: readonly T[], place: number): T[] =>
  list.filter((_, at) => at !== place);
function addSource(): void {
  const drivers = [inputs.value[0]?.code ?? ''];
  const added: Source = { name: 'Another source', kind: 'typed', drivers, enters: 0 };
  setSources([...funnel.value.sources, added]);
}
function addStep(): void {
  const rate = rates.value[0]?.code ?? '';
  const added: Step = { name: 'Another step', rate, lag: 0, opening: [], cost: null };
  setSteps([...funnel.value.steps, added]);
}
/** What two drivers make together needs a second one. */
function setKind(place: number, kind: Source['kind']): void {
  const [one = '', two = rates.value[0]?.code ?? ''] = funnel.value.sources[place]?.drivers ?? [];
  setSource(place, { kind, drivers: kind === 'typed' ? [one] : [one, two] });
}
function setDriver(place: number, which: number, code: string): void {
  const own = funnel.value.sources[place]?.drivers ?? [];
  setSource(place, { drivers: own.map((before, at) => (at === which ? code : before)) });
}
function setOpening(place: number, typed: string): void {
  const opening = typed
    .split(/[;\s]+/)
    .filter((part) => part !== '')
    .map((part) => formats.value.read(part, false) ?? Number.NaN)
    .filter((value) => !Number.isNaN(value));
  setStep(place, { opening });
}
</script>

<template>
  <div class="funnel">
    <h3>Sources</h3>
    <div
      v-for="(source, place) in funnel.sources"
      :key="`source ${place}`"
      class="line"
      role="group"
      :aria-label="`Source ${source.name}`"
    >
      <v-text-field
        :model-value="source.name"
        label="Name"
        @update:model-value="setSource(place, { name: $event })"
      />
      <v-select
        :model-value="source.kind"
        label="Volume"
        :items="KINDS"
        @update:model-value="setKind(place, $event)"
      />
      <v-autocomplete
        v-for="(code, which) in source.drivers"
        :key="which"
        :model-value="code"
        :label="source.drivers.length > 1 ? `Driver ${which + 1}` : 'Driver'"
        :items="inputs"
        item-value="code"
        @update:model-value="setDriver(place, which, $event)"
      />
      <v-select
        :model-value="source.enters"
        label="Enters"
        :items="places"
        @update:model-value="setSource(place, { enters: $event })"
      />
      <v-btn
        v-if="funnel.sources.length > 1"
        variant="plain"
        :aria-label="`Remove ${source.name}`"
        @click="setSources(without(funnel.sources, place))"
      >
        Remove
      </v-btn>
    </div>
    <v-btn variant="plain" @click="addSource">Add source</v-btn>
    <h3>Steps</h3>
    <div
      v-for="(step, place) in funnel.steps"
      :key="`step ${place}`"
      class="line"
      role="group"
      :aria-label="`Step ${step.name}`"
    >
      <v-text-field
        :model-value="step.name"
        label="Name"
        @update:model-value="setStep(place, { name: $event })"
      />
      <v-autocomplete
        :model-value="step.rate"
        label="Conversion"
        :items="rates"
        item-value="code"
        @update:model-value="setStep(place, { rate: $event })"
      />
      <v-text-field
        type="number"
        min="0"
        max="60"
        label="Months later"
        :model-value="step.lag"
        @update:model-value="setStep(place, { lag: Number($event) })"
      />
      <v-text-field
        v-if="step.lag > 0"
        label="Already under way, oldest first"
        :model-value="step.opening.join(' ')"
        :placeholder="`${step.lag} numbers`"
        @change="setOpening(place, ($event.target as HTMLInputElement).value)"
      />
      <v-select
        :model-value="step.cost"
        label="Cost"
        :items="costs"
        item-value="code"
        @update:model-value="setStep(place, { cost: $event })"
      />
      <v-btn
        v-if="funnel.steps.length > 1"
        variant="plain"
        :aria-label="`Remove ${step.name}`"
        @click="setSteps(without(funnel.steps, place))"
      >
        Remove
      </v-btn>
    </div>
    <v-btn variant="plain" @click="addStep">Add step</v-btn>
  </div>
</template>

<style scoped>
.funnel {
  display: grid;
  gap: 5px;
  justify-items: start;
}
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
h3 {
  font-size: 12px;
  margin: 4px 0 0;
}
</style>
