<script setup lang="ts">
import type { Driver, Funnel } from '@dravex/core';
import { computed } from 'vue';
import { WORDS } from '../format/words.ts';
import StepsFields from './StepsFields.vue';
import { TEXTS } from './texts.ts';

/** A funnel: where items come from, and the steps that they pass with their lags and costs. */
const funnel = defineModel<Funnel>({ required: true });
const props = withDefaults(
  defineProps<{
    drivers: readonly Driver[];
    /** So many common steps there are at least. */
    fewest?: number;
  }>(),
  { fewest: 1 },
);
const stepsHeading = computed(() =>
  funnel.value.sources.length > 1 ? TEXTS.stepsOfAllSources : WORDS.steps,
);

type Source = Funnel['sources'][number];

const inputs = computed(() =>
  props.drivers.filter(({ kind }) => kind !== 'choice' && kind !== 'yesNo'),
);
const rates = computed(() =>
  props.drivers.filter(({ kind }) => kind === 'percent' || kind === 'ratio'),
);
const KINDS = [
  { value: 'typed', name: 'entered' },
  { value: 'paid', name: TEXTS.spendCostOfOne },
  { value: 'times', name: TEXTS.oneTimesOther },
];
const places = computed(() => [
  { value: 0, name: TEXTS.beforeFirstStep },
  ...funnel.value.steps.map(({ name }, at) => ({ value: at + 1, name: TEXTS.after(name) })),
]);

function setSources(sources: readonly Source[]): void {
  funnel.value = { ...funnel.value, sources };
}
function setSource(place: number, change: Partial<Source>): void {
  setSources(funnel.value.sources.map((one, at) => (at === place ? { ...one, ...change } : one)));
}
const without = <T,>(list: readonly T[], place: number): T[] =>
  list.filter((_, at) => at !== place);
function addSource(): void {
  const drivers = [inputs.value[0]?.code ?? ''];
  const added: Source = { name: TEXTS.anotherSource, kind: 'typed', drivers, enters: 0 };
  setSources([...funnel.value.sources, added]);
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
</script>

<template>
  <div class="funnel">
    <h3>{{ TEXTS.sources }}</h3>
    <div
      v-for="(source, place) in funnel.sources"
      :key="`source ${place}`"
      class="line"
      role="group"
      :aria-label="TEXTS.source(source.name)"
    >
      <v-text-field
        :model-value="source.name"
        :label="WORDS.name"
        @update:model-value="setSource(place, { name: $event })"
      />
      <v-select
        :model-value="source.kind"
        :label="TEXTS.volume"
        :items="KINDS"
        @update:model-value="setKind(place, $event)"
      />
      <v-autocomplete
        v-for="(code, which) in source.drivers"
        :key="which"
        :model-value="code"
        :label="source.drivers.length > 1 ? TEXTS.driverOf(which + 1) : TEXTS.driver"
        :items="inputs"
        item-value="code"
        @update:model-value="setDriver(place, which, $event)"
      />
      <v-select
        :model-value="source.enters"
        :label="TEXTS.enters"
        :items="places"
        @update:model-value="setSource(place, { enters: $event })"
      />
      <div class="own">
        <StepsFields
          :model-value="source.steps ?? []"
          :drivers="drivers"
          :fewest="0"
          :add="TEXTS.addStepOfAlone(source.name)"
          @update:model-value="(steps) => setSource(place, { steps })"
        />
      </div>
      <v-btn
        v-if="funnel.sources.length > 1"
        variant="plain"
        :aria-label="WORDS.removeOf(source.name)"
        @click="setSources(without(funnel.sources, place))"
      >
        {{ WORDS.remove }}
      </v-btn>
    </div>
    <v-btn variant="plain" @click="addSource">{{ TEXTS.addSource }}</v-btn>
    <h3>{{ stepsHeading }}</h3>
    <StepsFields
      :model-value="funnel.steps"
      :drivers="drivers"
      :fewest="fewest"
      :add="TEXTS.addStep"
      @update:model-value="(steps) => (funnel = { ...funnel, steps })"
    />
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
.own {
  grid-column: 1 / -1;
  padding-left: 14px;
}
h3 {
  font-size: 12px;
  margin: 4px 0 0;
}
</style>
