<script setup lang="ts">
import type { Churn, Driver, Funnel, Scope } from '@dravex/core';
import { computed } from 'vue';
import { WORDS } from '../format/words.ts';
import Term from '../kit/Term.vue';
import { useFrame } from '../shell/use-frame.ts';
import FromRecords from '../subscriptions/FromRecords.vue';
import FunnelForm from './FunnelForm.vue';
import type { SubscriptionForm } from './method-form.ts';
import { TEXTS } from './texts.ts';

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
  { value: 'constant', name: TEXTS.sameShareEveryMonth },
  { value: 'byAge', name: TEXTS.shareForEachAge },
  { value: 'atRenewal', name: TEXTS.shareAtEndOfEach },
  { value: 'whole', name: TEXTS.wholeCustomersEverySoMany },
];
const PRICES = [
  { value: 'current', name: TEXTS.listPriceOfMonth },
  { value: 'keptFromStart', name: TEXTS.listPriceOfTheirStart },
  { value: 'atRenewal', name: TEXTS.listPriceOfTheirLast },
];
const FROM = [
  { value: 'driver', name: TEXTS.driverNewSubscribers },
  { value: 'funnel', name: TEXTS.funnelOfSourcesAndSteps },
];
const COUNTS = [
  { value: 'earned', name: TEXTS.subscribersAndWhatIsEarned },
  { value: 'billed', name: TEXTS.yearsThatBeginAndWhat },
];
const BILLING = [
  { value: 'monthly', name: TEXTS.everyMonth },
  { value: 'yearly', name: TEXTS.aYearAhead },
];
</script>

<template>
  <v-select v-model="form.from" :label="WORDS.newSubscribers" :items="FROM" />
  <FunnelForm v-if="form.from === 'funnel'" v-model="funnel" :drivers="drivers" :fewest="0" />
  <v-select v-model="form.churn" :label="TEXTS.subscribersLeave" :items="CHURN" />
  <v-textarea
    v-if="form.churn === 'byAge'"
    v-model="form.rates"
    :label="TEXTS.churnByAgeInMonths"
    placeholder="12; 6; 3"
    :hint="TEXTS.fromFirstMonthAfterStart"
    persistent-hint
    rows="2"
  />
  <p v-else class="quiet">
    {{ TEXTS.howManyIsDriver }} <Term of="churn">{{ WORDS.churn }}</Term>{{ TEXTS.setUnderDrivers }}
  </p>
  <v-text-field
    v-if="!whole && (form.churn === 'atRenewal' || form.pricePolicy === 'atRenewal')"
    v-model="form.term"
    :label="TEXTS.monthsOfTerm"
    inputmode="numeric"
    placeholder="12"
  />
  <template v-if="whole">
    <div class="row">
      <v-text-field
        v-model="form.term"
        :label="TEXTS.everySoManyMonths"
        inputmode="numeric"
        placeholder="12"
      />
      <v-text-field
        v-model="form.countedFrom"
        type="month"
        :label="TEXTS.countedFromOptional"
        :max="calendar.last"
      />
    </div>
    <p class="quiet">
      {{ TEXTS.allPayListPriceOf }}
    </p>
  </template>
  <template v-else>
    <v-select v-model="form.pricePolicy" :label="TEXTS.theyPay" :items="PRICES" />
    <v-select v-model="form.billing" :label="TEXTS.billed" :items="BILLING" />
    <template v-if="form.billing === 'yearly'">
      <p class="quiet">{{ TEXTS.listPriceIsThatOf }}</p>
      <v-select v-model="form.counts" :label="TEXTS.unitsAndRevenueAre" :items="COUNTS" />
    </template>
    <p class="quiet">
      {{ TEXTS.promotionIsSetUnderDrivers }}
    </p>
    <template v-if="plans.length > 1">
      <v-autocomplete v-model="form.changesTo" :label="TEXTS.changeToAnotherPlan" :items="plans" />
      <div v-if="form.changesTo !== 0" class="row">
        <v-text-field v-model="form.changesShare" :label="TEXTS.sharePercent" inputmode="decimal" />
        <v-text-field
          v-model="form.changesAge"
          :label="TEXTS.afterSoManyMonths"
          inputmode="numeric"
        />
      </div>
    </template>
  </template>
  <v-textarea
    v-model="form.opening"
    :label="TEXTS.subscribersThereAlreadyByAge"
    :placeholder="TEXTS.fromTheHistory"
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
