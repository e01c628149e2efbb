<script setup lang="ts">
import { mdiClose } from '@mdi/js';
import { addsOverStreams, type Driver, type Scope } from '@dravex/core';
import { computed } from 'vue';
import { monthName } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { GROWTHS, type ProfileForm } from './profile-form.ts';
import SeasonLike from './SeasonLike.vue';
import { TEXTS } from './texts.ts';

/** The fields of a profile, by its kind. */
const form = defineModel<ProfileForm>({ required: true });
const props = defineProps<{
  driver: Driver;
  scope: Scope;
  /** How many forecast lines of the scope it is set for. */
  lines: number;
  /** What the last twelve months were, beside the value. */
  against: string;
  /** The season of the past, where there is one. */
  season: readonly number[] | null;
  firstOpen: string;
}>();

const percent = computed(() => props.driver.kind === 'percent');
const flows = computed(() => ['count', 'wholeCount', 'money'].includes(props.driver.kind));
const kinds = computed(() => [
  { value: 'value', name: TEXTS.oneValue },
  { value: 'steps', name: TEXTS.stepsFromMonthOn },
  { value: 'growth', name: TEXTS.startValueAndGrowth },
  flows.value
    ? { value: 'annual', name: TEXTS.yearlyTotalWithSeason }
    : { value: 'level', name: TEXTS.averageLevelWithSeason },
  { value: 'lastYear', name: TEXTS.lastYearPlusGrowth },
]);
const VALUE_NAMES = {
  growth: TEXTS.start,
  annual: WORDS.total,
  level: TEXTS.level,
  value: TEXTS.value,
} as const;
const valueName = computed(
  () => `${VALUE_NAMES[form.value.kind as keyof typeof VALUE_NAMES]}${percent.value ? ', %' : ''}`,
);
const choices = computed(() =>
  props.driver.kind === 'yesNo'
    ? [
        { value: '1', name: 'yes' },
        { value: '0', name: 'no' },
      ]
    : props.driver.choices.map(({ value, label }) => ({ value: String(value), name: label })),
);
const MONTHS = Array.from({ length: 12 }, (_, place) => ({
  value: place + 1,
  name: monthName(place + 1),
}));
const each = computed(() => [
  { value: false, name: TEXTS.allForecastLinesTogether(props.lines) },
  { value: true, name: TEXTS.eachOfForecastLines(props.lines) },
]);
function addStep(): void {
  const { steps } = form.value;
  steps.push({ from: steps.at(-1)?.from ?? props.firstOpen, value: '' });
}
</script>

<template>
  <v-select v-model="form.kind" :label="TEXTS.setAs" :items="kinds" />
  <template v-if="form.kind !== 'steps' && form.kind !== 'lastYear'">
    <v-select v-if="choices.length > 0" v-model="form.value" :label="valueName" :items="choices" />
    <v-text-field
      v-else
      v-model="form.value"
      :label="valueName"
      inputmode="decimal"
      :hint="against"
      persistent-hint
    />
  </template>
  <template v-if="form.kind === 'steps'">
    <div
      v-for="(step, place) in form.steps"
      :key="place"
      class="row"
      role="group"
      :aria-label="TEXTS.step(place + 1)"
    >
      <v-text-field
        v-model="step.from"
        type="month"
        :label="place === 0 ? WORDS.from : TEXTS.thenFrom"
      />
      <v-text-field
        v-model="step.value"
        :label="percent ? TEXTS.valuePercent : TEXTS.value"
        inputmode="decimal"
      />
      <v-btn
        v-if="form.steps.length > 1"
        variant="text"
        :icon="mdiClose"
        :aria-label="TEXTS.removeStep(place + 1)"
        @click="form.steps.splice(place, 1)"
      />
    </div>
    <v-btn variant="plain" @click="addStep">{{ TEXTS.addStep }}</v-btn>
  </template>
  <template v-if="form.kind === 'growth'">
    <v-select v-model="form.by" :label="TEXTS.grows" :items="GROWTHS" />
    <div class="row">
      <v-text-field
        v-model="form.rate"
        :label="form.by === 'yearAmount' ? TEXTS.amount : TEXTS.ratePercent"
        inputmode="decimal"
      />
      <v-select
        v-if="form.by === 'yearRate' || form.by === 'yearAmount'"
        v-model="form.stepMonth"
        :label="TEXTS.every"
        :items="MONTHS"
      />
    </div>
  </template>
  <v-text-field
    v-if="form.kind === 'lastYear'"
    v-model="form.growth"
    :label="TEXTS.growthPercent"
    inputmode="decimal"
  />
  <template v-if="form.kind === 'annual'">
    <v-select
      v-if="lines > 1 && addsOverStreams(driver)"
      v-model="form.each"
      :label="TEXTS.totalIsFor"
      :items="each"
    />
    <v-text-field v-model="form.year" type="month" :label="TEXTS.twelveMonthsFrom" />
  </template>
  <fieldset v-if="form.kind === 'annual' || form.kind === 'level'">
    <legend>{{ TEXTS.season }}</legend>
    <div class="season">
      <v-text-field
        v-for="month in MONTHS"
        :key="month.value"
        v-model="form.season[month.value - 1]"
        :label="month.name.slice(0, 3)"
        inputmode="decimal"
      />
    </div>
    <v-btn v-if="season" variant="plain" @click="form.season = season.map(String)">
      {{ TEXTS.useLastYearSeason }}
    </v-btn>
    <span v-else class="quiet">{{ TEXTS.thereIsNoSeasonIn }}</span>
    <SeasonLike :driver="driver" :scope="scope" @take="form.season = $event.map(String)" />
  </fieldset>
  <div v-if="form.kind !== 'steps'" class="row">
    <v-text-field v-model="form.from" type="month" :label="TEXTS.fromOptional" />
    <v-text-field v-model="form.to" type="month" :label="TEXTS.toOptional" />
  </div>
  <v-text-field v-model="form.note" :label="WORDS.reasonOptional" maxlength="500" />
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
fieldset {
  border: 0;
  margin: 0;
  padding: 4px 0 0;
}
legend {
  padding: 0;
  font-size: 12px;
  color: var(--ink-quiet);
}
.season {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  gap: 0 4px;
}
</style>
