<script setup lang="ts">
import { driversOperations, factOperations } from '@dravex/contract';
import {
  DRIVERS,
  natureOf,
  saidBySales,
  STREAM_WEIGHTS,
  unitInWords,
  unitOfDriver,
  type Driver,
} from '@dravex/core';
import { computed, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { useWriting } from '../writing/use-writing.ts';
import { showValue } from './driver-format.ts';
import { codeOf, driverOf, fieldsOf, isAveraged, KINDS, NATURES } from './driver-fields.ts';
import FormulaField from './FormulaField.vue';
import { TEXTS } from './texts.ts';

/** A driver of one's own: its unit and bounds, entered or by a formula. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ driver: Driver | undefined; drivers: readonly Driver[] }>();
const emit = defineEmits<{ kept: [code: string] }>();
const plan = usePlan();
const { formats, scope, calendar } = useFrame();

const builtIn = computed(() => DRIVERS.some(({ code }) => code === props.driver?.code));
/** Sales lines say of some drivers themselves what they were. */
const measurable = computed((): boolean => !saidBySales(codeOf(form.value)));
const { form, field, wrong, submit, begin, busy, failure } = useForm({
  of: () => props.driver?.code ?? '',
  fresh: () => fieldsOf(props.driver, formats.value),
  schema: driversOperations.addDriver.body,
  body: (fields) => {
    const { choices, ...driver } = driverOf(fields, props.driver?.step ?? null, formats.value);
    return { ...driver, choices: choices.map((choice) => ({ ...choice })) };
  },
  send: ({ code, kind: _, ...rest }) => {
    if (!props.driver) return plan.ask(driversOperations.addDriver, {}, { code, kind: _, ...rest });
    const { minimum, maximum, default: fallback, history, ...own } = rest;
    const bounds = { minimum, maximum, default: fallback };
    const change = builtIn.value ? bounds : { ...own, ...bounds };
    return plan.ask(
      driversOperations.changeDriver,
      { driver: code },
      measurable.value ? { ...change, history } : change,
    );
  },
  done: ({ code }) => {
    shown.value = false;
    emit('kept', code);
  },
});
watch(shown, (open) => open && begin());
const driver = computed(() => driverOf(form.value, props.driver?.step ?? null, formats.value));
const plainKind = computed(() => form.value.kind !== 'yesNo' && form.value.kind !== 'choice');

const { data: measured } = useAnswer([shown], async () => {
  const month = calendar.value.closedThrough;
  return shown.value ? plan.ask(factOperations.readFacts, { from: month, to: month }) : undefined;
});
const measures = computed(() => [
  { code: null, name: TEXTS.none },
  ...(measured.value?.measures ?? []),
  { code: 'units', name: TEXTS.netUnitsSold },
  { code: 'revenue', name: 'revenue' },
]);
const natures = computed(() => {
  const usual = natureOf({ kind: form.value.kind });
  return [
    {
      value: null,
      name: TEXTS.usual(NATURES.find(({ value }) => value === usual)?.name ?? ''),
    },
    ...NATURES.filter(({ value }) => value !== usual),
  ];
});
/** Words for what of a forecast line itself can weigh a mean. */
const WEIGHTS: Readonly<Record<(typeof STREAM_WEIGHTS)[number], string>> = {
  units: TEXTS.netUnits,
  revenue: 'revenue',
  unitsBefore: TEXTS.netUnitsOfMonthBefore,
};
const weights = computed(() => [
  { value: null, name: TEXTS.whatItAppliesTo },
  ...STREAM_WEIGHTS.map((value) => ({ value, name: WEIGHTS[value] })),
  ...props.drivers
    .filter(({ code }) => code !== driver.value.code)
    .map(({ code, name }) => ({ value: code, name })),
]);

const MONTHS_AHEAD = 6;
const tried = useAnswer([driver, shown, () => plan.tick], async () =>
  shown.value && driver.value.formula !== null
    ? plan.compute().tryDriver(JSON.parse(JSON.stringify(driver.value)) as Driver, scope.value)
    : undefined,
);
const problems = computed(() => tried.data.value?.problems ?? []);
const ahead = computed(() =>
  (tried.data.value?.values ?? [])
    .slice(0, MONTHS_AHEAD)
    .map((value) => showValue(driver.value, value, formats.value)),
);

const dropping = useWriting();
const drop = () =>
  dropping.write(
    () => plan.ask(driversOperations.dropDriver, { driver: driver.value.code }),
    () => {
      plan.said = { text: WORDS.deleted(driver.value.name), undo: 'drivers' };
      shown.value = false;
      emit('kept', '');
    },
  );
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="props.driver ? TEXTS.change(props.driver.name) : TEXTS.addDriver"
    :action="props.driver ? WORDS.save : TEXTS.addDriver"
    :busy="busy"
    :failure="failure || dropping.failure.value"
    :disabled="problems.length > 0"
    :width="560"
    @submit="submit"
  >
    <div class="two">
      <v-text-field
        v-bind="field('name')"
        :label="WORDS.name"
        maxlength="120"
        :disabled="builtIn"
      />
      <v-text-field
        v-bind="field('code')"
        :label="TEXTS.nameInFormulas"
        maxlength="40"
        :placeholder="codeOf(form)"
        :disabled="props.driver !== undefined"
      />
      <v-select
        v-model="form.kind"
        :label="TEXTS.valuesAre"
        :items="KINDS"
        :disabled="props.driver !== undefined"
      />
      <v-text-field
        v-bind="field('unit')"
        :label="WORDS.unit"
        maxlength="60"
        :disabled="builtIn"
        :placeholder="form.kind === 'moneyPerUnit' ? TEXTS.perVisit : TEXTS.visits"
      />
      <v-textarea
        v-if="form.kind === 'choice'"
        v-model="form.choices"
        class="wide"
        :label="TEXTS.valuesOnePerLine"
        :placeholder="TEXTS.oneLow2High"
      />
      <template v-if="plainKind">
        <v-text-field
          v-bind="field('minimum')"
          :label="TEXTS.minimum(form.kind === 'percent' ? ', %' : '')"
          inputmode="decimal"
        />
        <v-text-field
          v-bind="field('maximum')"
          :label="TEXTS.maximum(form.kind === 'percent' ? ', %' : '')"
          inputmode="decimal"
        />
        <v-select v-if="!builtIn" v-model="form.nature" :label="TEXTS.totalsAre" :items="natures" />
        <v-autocomplete
          v-if="!builtIn && isAveraged(form)"
          v-model="form.weight"
          :label="TEXTS.weightedBy"
          :items="weights"
        />
      </template>
      <v-text-field
        v-model="form.fallback"
        :label="TEXTS.defaultWithoutInput"
        inputmode="decimal"
        :placeholder="TEXTS.missing"
        :error-messages="wrong('default')"
      />
      <template v-if="measurable && plainKind">
        <v-select
          v-model="form.measure"
          :label="TEXTS.historyFromMeasuredFact"
          :items="measures"
          item-value="code"
        />
        <v-select
          v-if="form.measure !== null"
          v-model="form.per"
          :label="TEXTS.dividedBy"
          :items="measures"
          item-value="code"
        />
      </template>
      <div v-if="!builtIn" class="wide">
        <FormulaField v-model="form.formula" :drivers="drivers" :problems="problems" />
        <p v-if="problems.length === 0 && ahead.length > 0" class="quiet">
          {{ TEXTS.firstOpenMonthsIn(ahead.join(', '), unitInWords(unitOfDriver(driver))) }}
        </p>
      </div>
    </div>
    <template v-if="props.driver && !builtIn" #more>
      <v-btn color="primary" :loading="dropping.busy.value" @click="drop">{{
        TEXTS.deleteDriver
      }}</v-btn>
    </template>
  </FormDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 14px;
  align-items: start;
}
.wide {
  grid-column: 1 / -1;
}
</style>
