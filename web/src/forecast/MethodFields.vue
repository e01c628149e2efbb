<script setup lang="ts">
import { mdiClose } from '@mdi/js';
import { METHODS, type Driver } from '@dravex/core';
import { computed } from 'vue';
import type { StreamLine } from '../computation/forecast-answers.ts';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import BaselineFields from './BaselineFields.vue';
import FunnelForm from './FunnelForm.vue';
import SubscriptionFields from './SubscriptionFields.vue';
import { CONTINUES, type MethodForm } from './method-form.ts';
import { TEXTS } from './texts.ts';

/** The fields of a method, by which one it is. */
const form = defineModel<MethodForm>({ required: true });
const props = defineProps<{
  /** The line that the form follows. */
  first: StreamLine | undefined;
  /** Lines that can be referred to. */
  others: readonly StreamLine[];
}>();
const plan = usePlan();
const drivers = computed<readonly Driver[]>(() => plan.workspace?.plan.drivers ?? []);
const method = computed(() => form.value.method);

const lines = computed(() =>
  props.others.map(({ stream, label }) => ({ value: stream.combination, name: label })),
);
/** Subscriptions that one can change over to. */
const plans = computed(() => [
  { value: 0, name: 'nobody' },
  ...props.others
    .filter(({ stream }) => stream.method === 'subscription')
    .map(({ stream, label }) => ({ value: stream.combination, name: TEXTS.toOf(label) })),
]);
const follows = computed(() => [
  { value: 0, name: TEXTS.enteredUnderDrivers },
  ...lines.value.map(({ value, name }) => ({ value, name: TEXTS.follow(name) })),
]);
const MEASURES = [
  { value: 'units', name: 'units' },
  { value: 'revenue', name: 'revenue' },
];
const BASES = [
  { value: 'month', name: TEXTS.theMonthBefore },
  { value: 'quarter', name: TEXTS.averageOfQuarterBefore },
];
const names = computed(() =>
  drivers.value.filter(({ kind }) => kind !== 'choice').map(({ code }) => code),
);
function addName(): void {
  form.value.names.push({
    name: `that${form.value.names.length || ''}`,
    combination: props.others[0]?.stream.combination ?? 0,
    measure: 'revenue',
  });
}
</script>

<template>
  <p class="quiet">{{ TEXTS.needs(METHODS[method].when, METHODS[method].needs) }}</p>
  <template v-if="method === 'volumePrice'">
    <v-autocomplete v-model="form.follows" :label="WORDS.units" :items="follows" />
    <div v-if="form.follows !== 0" class="row">
      <v-text-field
        v-model.number="form.from"
        type="number"
        min="0"
        max="60"
        :label="TEXTS.soldFromMonthsBefore"
      />
      <v-text-field v-model.number="form.to" type="number" min="0" max="60" :label="TEXTS.to" />
      <span class="quiet">{{ TEXTS.timesAttachRate }}</span>
    </div>
  </template>
  <v-select
    v-if="method === 'growthLastYear' || method === 'growthPeriod' || method === 'baseline'"
    v-model="form.of"
    :label="method === 'baseline' ? TEXTS.continues : TEXTS.grows"
    :items="CONTINUES"
  />
  <v-select v-if="method === 'growthPeriod'" v-model="form.base" :label="TEXTS.on" :items="BASES" />
  <BaselineFields v-if="method === 'baseline'" v-model="form" :first="first" />
  <SubscriptionFields
    v-if="method === 'subscription'"
    v-model="form.subscription"
    v-model:funnel="form.funnel"
    :scope="first?.members ?? []"
    :drivers="drivers"
    :plans="plans"
  />
  <template v-if="method === 'formula'">
    <v-text-field
      v-model="form.units"
      :label="TEXTS.units"
      spellcheck="false"
      :placeholder="TEXTS.emptyForNone"
    />
    <v-text-field
      v-model="form.revenue"
      :label="TEXTS.revenue"
      spellcheck="false"
      :placeholder="TEXTS.emptyForUnitsXList"
    />
    <div
      v-for="(name, place) in form.names"
      :key="place"
      class="row"
      role="group"
      :aria-label="TEXTS.name(name.name)"
    >
      <v-text-field v-model="name.name" :label="WORDS.name" />
      <v-select v-model="name.measure" :label="TEXTS.is" :items="MEASURES" />
      <v-autocomplete v-model="name.combination" :label="TEXTS.of" :items="lines" />
      <v-btn
        variant="text"
        :icon="mdiClose"
        :aria-label="WORDS.removeOf(name.name)"
        @click="form.names.splice(place, 1)"
      />
    </div>
    <v-btn variant="plain" @click="addName">{{ TEXTS.addNameForAnotherForecast }}</v-btn>
    <p class="quiet">{{ TEXTS.namesUnitsRevenue(names.join(', ')) }}</p>
  </template>
  <FunnelForm v-if="method === 'funnel'" v-model="form.funnel" :drivers="drivers" />
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
  align-items: flex-end;
}
.row .v-input {
  flex: 1;
}
</style>
