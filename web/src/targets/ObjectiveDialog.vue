<script setup lang="ts">
import { newObjectiveSchema, type NewObjective, type ObjectiveOf } from '@dravex/contract';
import { meaningOf, TARGET_MEASURES, wholesIn, type TargetMeasure } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { targetOperations } from '@dravex/contract';
import { TEXTS } from './texts.ts';

/** Adds an objective to a fiscal year. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{
  fiscalYear: number;
  /** Those the year has already. */
  objectives: readonly ObjectiveOf[];
  add: (objective: NewObjective) => Promise<unknown>;
}>();
const plan = usePlan();
const { formats } = useFrame();
const measures = TARGET_MEASURES.map((value) => ({ value, name: meaningOf(value).name }));
const STARTS = [
  { value: 'amount', name: TEXTS.anAmount },
  { value: 'lastYear', name: TEXTS.lastYearWithUplift },
  { value: 'forecast', name: TEXTS.forecastWithUplift },
];
/** Objectives of this year and of the one before can be copied. */
const earlier = ref<readonly ObjectiveOf[]>([]);
watch(shown, async (open) => {
  if (!open) return;
  const year = { fiscalYear: props.fiscalYear - 1 };
  earlier.value = (await plan.ask(targetOperations.readTargets, year)).objectives;
});
const models = computed(() => [
  { value: 0, name: TEXTS.nothingEmptyTree },
  ...props.objectives.map(({ id, name }) => ({
    value: id,
    name: `${name}, FY ${props.fiscalYear}`,
  })),
  ...earlier.value.map(({ id, name }) => ({
    value: id,
    name: `${name}, FY ${props.fiscalYear - 1}`,
  })),
]);
const read = (text: string): number => formats.value.read(text, false) ?? Number.NaN;
const { form, field, wrong, submit, failure } = useForm({
  of: () => `${props.fiscalYear} ${shown.value}`,
  fresh: () => ({
    name: '',
    measure: 'revenue' as TargetMeasure,
    start: 'amount' as NewObjective['start']['kind'],
    amount: '',
    uplift: '',
    like: 0,
  }),
  schema: newObjectiveSchema,
  body: ({ name, measure, start, amount, uplift, like }) => ({
    name,
    measure,
    start:
      start === 'amount'
        ? {
            kind: start,
            amount: Math.round(
              read(amount) * wholesIn(measure, plan.workspace?.plan.currency.minorDigits ?? 2),
            ),
          }
        : { kind: start, uplift: uplift.trim() === '' ? 0 : read(uplift.replace(/%$/, '')) },
    ...(like === 0 ? {} : { like }),
  }),
  send: async (objective) => {
    await props.add(newObjectiveSchema.parse(objective));
    shown.value = false;
  },
});
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.addObjectiveToFy(fiscalYear)"
    :action="WORDS.add"
    :failure="failure"
    :width="420"
    @submit="submit"
  >
    <v-text-field
      v-bind="field('name')"
      :label="WORDS.name"
      :placeholder="WORDS.revenue"
      autocomplete="off"
    />
    <v-select v-model="form.measure" :label="WORDS.measure" :items="measures" />
    <v-select
      v-model="form.start"
      :label="TEXTS.startFrom"
      :items="STARTS"
      :error-messages="wrong('start')"
    />
    <v-text-field
      v-if="form.start === 'amount'"
      v-model="form.amount"
      :label="TEXTS.targetOfYear"
      autocomplete="off"
      :error-messages="wrong('start.amount')"
    />
    <v-text-field
      v-else
      v-model="form.uplift"
      :label="TEXTS.upliftPercent"
      placeholder="8"
      autocomplete="off"
      :error-messages="wrong('start.uplift')"
    />
    <v-select v-model="form.like" :label="TEXTS.teamsAndPeopleAsIn" :items="models" />
  </FormDialog>
</template>
