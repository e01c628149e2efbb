<script setup lang="ts">
import { mdiClose } from '@mdi/js';
import { METHODS, type Driver } from '@dravex/core';
import { computed } from 'vue';
import type { StreamLine } from '../computation/forecast-answers.ts';
import { usePlan } from '../plan/use-plan.ts';
import BaselineFields from './BaselineFields.vue';
import FunnelForm from './FunnelForm.vue';
import SubscriptionFields from './SubscriptionFields.vue';
import { CONTINUES, type MethodForm } from './method-form.ts';

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
    .map(({ stream, label }) => ({ value: stream.combination, name: `to ${label}` })),
]);
const follows = computed(() => [
  { value: 0, name: 'entered under Drivers' },
  ...lines.value.map(({ value, name }) => ({ value, name: `follow ${name}` })),
]);
const MEASURES = [
  { value: 'units', name: 'units' },
  { value: 'revenue', name: 'revenue' },
];
const BASES = [
  { value: 'month', name: 'the month before' },
  { value: 'quarter', name: 'the average of the quarter before' },
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
  <p class="quiet">{{ METHODS[method].when }} Needs: {{ METHODS[method].needs }}</p>
  <template v-if="method === 'volumePrice'">
    <v-autocomplete v-model="form.follows" label="Units" :items="follows" />
    <div v-if="form.follows !== 0" class="row">
      <v-text-field
        v-model.number="form.from"
        type="number"
        min="0"
        max="60"
        label="Sold from, months before"
      />
      <v-text-field v-model.number="form.to" type="number" min="0" max="60" label="to" />
      <span class="quiet">times the attach rate</span>
    </div>
  </template>
  <v-select
    v-if="method === 'growthLastYear' || method === 'growthPeriod' || method === 'baseline'"
    v-model="form.of"
    :label="method === 'baseline' ? 'Continues' : 'Grows'"
    :items="CONTINUES"
  />
  <v-select v-if="method === 'growthPeriod'" v-model="form.base" label="On" :items="BASES" />
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
      label="Units ="
      spellcheck="false"
      placeholder="empty for none"
    />
    <v-text-field
      v-model="form.revenue"
      label="Revenue ="
      spellcheck="false"
      placeholder="empty for units x list price x (1 - discount)"
    />
    <div
      v-for="(name, place) in form.names"
      :key="place"
      class="row"
      role="group"
      :aria-label="`Name ${name.name}`"
    >
      <v-text-field v-model="name.name" label="Name" />
      <v-select v-model="name.measure" label="is" :items="MEASURES" />
      <v-autocomplete v-model="name.combination" label="of" :items="lines" />
      <v-btn
        variant="text"
        :icon="mdiClose"
        :aria-label="`Remove ${name.name}`"
        @click="form.names.splice(place, 1)"
      />
    </div>
    <v-btn variant="plain" @click="addName">Add a name for another forecast line</v-btn>
    <p class="quiet">Names: {{ names.join(', ') }}, units, revenue</p>
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
