<script setup lang="ts">
import { BASELINE_KINDS, BASELINES, monthText } from '@dravex/core';
import { computed } from 'vue';
import type { StreamLine } from '../computation/forecast-answers.ts';
import { monthName } from '../format/periods.ts';
import SheetTable from '../kit/SheetTable.vue';
import Term from '../kit/Term.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import type { MethodForm } from './method-form.ts';
import { TEXTS } from './texts.ts';

/** A baseline: which one, its settings, and how each did over the last twelve months. */
const form = defineModel<MethodForm>({ required: true });
const props = defineProps<{ first: StreamLine | undefined }>();
const plan = usePlan();
const { formats, calendar } = useFrame();

const KINDS = [
  { value: 'best', name: TEXTS.mostAccurate },
  ...BASELINE_KINDS.map((kind) => ({ value: kind, name: BASELINES[kind].name })),
];
const closedThrough = computed(() => monthText(plan.closedThrough));
const league = useAnswer([() => props.first, () => form.value.of], async () =>
  props.first ? plan.compute().league(props.first.stream.id, form.value.of) : undefined,
);
</script>

<template>
  <v-select v-model="form.kind" :label="TEXTS.baseline" :items="KINDS" />
  <v-text-field
    v-if="form.kind === 'lastMonth'"
    v-model="form.month"
    type="month"
    :label="TEXTS.sameAsMonthOptional"
    :min="calendar.first"
    :max="closedThrough"
  />
  <div v-if="form.kind === 'mean'" class="row">
    <v-text-field
      v-model="form.spanFrom"
      type="month"
      :label="TEXTS.averageOfOptional"
      :min="calendar.first"
      :max="closedThrough"
    />
    <v-text-field
      v-model="form.spanTo"
      type="month"
      :label="TEXTS.to"
      :min="form.spanFrom || calendar.first"
      :max="closedThrough"
    />
  </div>
  <v-text-field
    v-if="form.kind === 'sameMonthGrowth'"
    v-model="form.growth"
    :label="TEXTS.growthPercent"
    inputmode="decimal"
    :placeholder="TEXTS.sameAsLastYear"
  />
  <fieldset>
    <legend>{{ TEXTS.monthsWithoutSales }}</legend>
    <v-checkbox
      v-for="number in 12"
      :key="number"
      v-model="form.blank"
      :value="number"
      :label="monthName(number).slice(0, 3)"
    />
  </fieldset>
  <SheetTable
    v-if="league.data.value"
    :about="TEXTS.accuracyOverLastTwelveMonths(first?.label ?? '')"
  >
    <thead>
      <tr>
        <th scope="col" class="words">{{ TEXTS.baselineLast12Months }}</th>
        <th scope="col"><Term of="scaledError" /></th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="row in league.data.value.rows"
        :key="row.kind"
        :class="{ best: row.kind === league.data.value.best }"
      >
        <td class="words" :title="row.why || BASELINES[row.kind].when">
          {{ BASELINES[row.kind].name }}
          <span v-if="row.why" class="quiet">{{ row.why }}</span>
        </td>
        <td>{{ formats.show(row.score, 'price') }}</td>
      </tr>
    </tbody>
  </SheetTable>
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
}
.row .v-input {
  flex: 1;
}
fieldset {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  border: 0;
  margin: 4px 0 0;
  padding: 0;
}
legend {
  padding: 0;
  font-size: 12px;
  color: var(--ink-quiet);
}
.sheet-table td.words {
  white-space: normal;
}
.best td {
  font-weight: 650;
}
</style>
