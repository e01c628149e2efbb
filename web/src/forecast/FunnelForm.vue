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
const costs = computed(() => props.drivers.filter(({ kind }) => kind === 'moneyPerUnit'));

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
    <h3>Where they come from</h3>
    <p v-for="(source, place) in funnel.sources" :key="`source ${place}`" class="line">
      <input
        :value="source.name"
        class="short"
        :aria-label="`Name of source ${place + 1}`"
        @input="setSource(place, { name: ($event.target as HTMLInputElement).value })"
      />
      <select
        :value="source.kind"
        :aria-label="`Kind of ${source.name}`"
        @change="
          setKind(place, ($event.target as HTMLSelectElement).value as 'typed' | 'paid' | 'times')
        "
      >
        <option value="typed">typed</option>
        <option value="paid">spend / cost of one</option>
        <option value="times">one times the other</option>
      </select>
      <select
        v-for="(code, which) in source.drivers"
        :key="which"
        :value="code"
        :aria-label="`Driver ${which + 1} of ${source.name}`"
        @change="setDriver(place, which, ($event.target as HTMLSelectElement).value)"
      >
        <option v-for="driver in inputs" :key="driver.code" :value="driver.code">
          {{ driver.name }}
        </option>
      </select>
      <select
        :value="source.enters"
        :aria-label="`Where ${source.name} enters`"
        @change="setSource(place, { enters: Number(($event.target as HTMLSelectElement).value) })"
      >
        <option :value="0">enter before the first step</option>
        <option v-for="(step, at) in funnel.steps" :key="at" :value="at + 1">
          enter after {{ step.name }}
        </option>
      </select>
      <button
        v-if="funnel.sources.length > 1"
        type="button"
        class="link"
        @click="setSources(without(funnel.sources, place))"
      >
        drop
      </button>
    </p>
    <button type="button" class="link" @click="addSource">+ a source</button>
    <h3>Steps</h3>
    <p v-for="(step, place) in funnel.steps" :key="`step ${place}`" class="line">
      <input
        :value="step.name"
        class="short"
        :aria-label="`Name of step ${place + 1}`"
        @input="setStep(place, { name: ($event.target as HTMLInputElement).value })"
      />
      <select
        :value="step.rate"
        :aria-label="`Rate of ${step.name}`"
        @change="setStep(place, { rate: ($event.target as HTMLSelectElement).value })"
      >
        <option v-for="driver in rates" :key="driver.code" :value="driver.code">
          {{ driver.name }}
        </option>
      </select>
      after
      <input
        type="number"
        min="0"
        max="60"
        :value="step.lag"
        :aria-label="`Months until ${step.name}`"
        @change="setStep(place, { lag: Number(($event.target as HTMLInputElement).value) })"
      />
      months
      <input
        v-if="step.lag > 0"
        :value="step.opening.join(' ')"
        :placeholder="`${step.lag} under way, oldest first`"
        :aria-label="`Under way before ${step.name}`"
        @change="setOpening(place, ($event.target as HTMLInputElement).value)"
      />
      <select
        :value="step.cost ?? ''"
        :aria-label="`Cost of ${step.name}`"
        @change="setStep(place, { cost: ($event.target as HTMLSelectElement).value || null })"
      >
        <option value="">costs nothing</option>
        <option v-for="driver in costs" :key="driver.code" :value="driver.code">
          costs {{ driver.name }}
        </option>
      </select>
      <button
        v-if="funnel.steps.length > 1"
        type="button"
        class="link"
        @click="setSteps(without(funnel.steps, place))"
      >
        drop
      </button>
    </p>
    <button type="button" class="link" @click="addStep">+ a step</button>
  </div>
</template>

<style scoped>
.funnel {
  display: grid;
  gap: 5px;
  justify-items: start;
}
.short {
  width: 110px;
}
input[type='number'] {
  width: 52px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
}
.line select {
  max-width: 150px;
}
h3 {
  font-size: 12px;
  margin: 4px 0 0;
}
</style>
