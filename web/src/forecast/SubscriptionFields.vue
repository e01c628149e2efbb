<script setup lang="ts">
import type { Churn, Driver, Funnel, Scope } from '@dravex/core';
import { computed } from 'vue';
import Term from '../kit/Term.vue';
import { useFrame } from '../shell/use-frame.ts';
import FromRecords from '../subscriptions/FromRecords.vue';
import FunnelForm from './FunnelForm.vue';
import type { SubscriptionForm } from './method-form.ts';

/** How the subscribers of a forecast line leave, what they pay, and who is there already. */
const form = defineModel<SubscriptionForm>({ required: true });
const funnel = defineModel<Funnel>('funnel', { required: true });
defineProps<{
  /** Of the forecast line that the form follows; its subscriber records are offered. */
  scope: Scope;
  drivers: readonly Driver[];
  /** What one can change over to, by combination; 0 for nobody. */
  plans: readonly { readonly value: number; readonly name: string }[];
}>();
const { formats, calendar } = useFrame();
const whole = computed(() => form.value.churn === 'whole');
const listed = (values: readonly number[], percent: boolean): string =>
  values.map((value) => formats.value.typed(value, percent)).join('; ');
function take(churn: Churn): void {
  form.value.churn = churn.kind;
  if (churn.kind === 'byAge') form.value.rates = listed(churn.rates, true);
  if (churn.kind === 'atRenewal') form.value.term = String(churn.term);
}

const CHURN = [
  { value: 'constant', name: 'the same share every month' },
  { value: 'byAge', name: 'a share for each age' },
  { value: 'atRenewal', name: 'a share at the end of each term' },
  { value: 'whole', name: 'whole customers, every so many months' },
];
const PRICES = [
  { value: 'current', name: 'the list price of the month' },
  { value: 'keptFromStart', name: 'the list price of their start' },
  { value: 'atRenewal', name: 'the list price of their last renewal' },
];
const FROM = [
  { value: 'driver', name: 'the driver New subscribers' },
  { value: 'funnel', name: 'a funnel of sources and steps' },
];
const COUNTS = [
  { value: 'earned', name: 'subscribers, and what is earned a month' },
  { value: 'billed', name: 'the years that begin, and what is billed' },
];
const BILLING = [
  { value: 'monthly', name: 'every month' },
  { value: 'yearly', name: 'a year ahead' },
];
</script>

<template>
  <v-select v-model="form.from" label="New subscribers" :items="FROM" />
  <FunnelForm v-if="form.from === 'funnel'" v-model="funnel" :drivers="drivers" :fewest="0" />
  <v-select v-model="form.churn" label="Subscribers leave" :items="CHURN" />
  <v-textarea
    v-if="form.churn === 'byAge'"
    v-model="form.rates"
    label="Churn by age in months, %"
    placeholder="12; 6; 3"
    hint="from the first month after the start; the last one goes on"
    persistent-hint
    rows="2"
  />
  <p v-else class="quiet">
    How many is the driver <Term of="churn">Churn</Term>, set under Drivers.
  </p>
  <v-text-field
    v-if="!whole && (form.churn === 'atRenewal' || form.pricePolicy === 'atRenewal')"
    v-model="form.term"
    label="Months of a term"
    inputmode="numeric"
    placeholder="12"
  />
  <template v-if="whole">
    <div class="row">
      <v-text-field
        v-model="form.term"
        label="Every so many months"
        inputmode="numeric"
        placeholder="12"
      />
      <v-text-field
        v-model="form.countedFrom"
        type="month"
        label="Counted from (optional)"
        :max="calendar.last"
      />
    </div>
    <p class="quiet">
      All pay the list price of the month. When each of them came is not known, so there are no
      cohorts.
    </p>
  </template>
  <template v-else>
    <v-select v-model="form.pricePolicy" label="They pay" :items="PRICES" />
    <v-select v-model="form.billing" label="Billed" :items="BILLING" />
    <template v-if="form.billing === 'yearly'">
      <p class="quiet">The list price is that of a year.</p>
      <v-select v-model="form.counts" label="Units and revenue are" :items="COUNTS" />
    </template>
    <p class="quiet">
      A promotion is set under Drivers, by the month of the start: for how many months, and what it
      takes off the price.
    </p>
    <template v-if="plans.length > 1">
      <v-autocomplete v-model="form.changesTo" label="Change to another plan" :items="plans" />
      <div v-if="form.changesTo !== 0" class="row">
        <v-text-field v-model="form.changesShare" label="Share, %" inputmode="decimal" />
        <v-text-field v-model="form.changesAge" label="After so many months" inputmode="numeric" />
      </div>
    </template>
  </template>
  <v-textarea
    v-model="form.opening"
    label="Subscribers there already, by age (optional)"
    placeholder="from the history"
    rows="2"
  />
  <FromRecords
    :scope="scope"
    @churn="take"
    @opening="(byAge) => (form.opening = listed(byAge, false))"
  />
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
  margin-top: 6px;
}
.row .v-input {
  flex: 1;
}
</style>
