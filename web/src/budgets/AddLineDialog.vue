<script setup lang="ts">
import { budgetOperations, newLineSchema, type NewLine, type Version } from '@dravex/contract';
import { inAll, monthFrom, monthText } from '@dravex/core';
import { computed, watch } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { unitInWords } from '../grid/table-rows.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Adds a line that the version does not plan yet, with what it sells in the months that are shown. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ version: Version }>();
const plan = usePlan();
const { span, scope, unit, minor, formats } = useFrame();

const dimensions = computed(() => plan.workspace?.plan.dimensions ?? []);
/** The months of the period that the version has; all of its own where there are none. */
const months = computed(() => {
  const own = { from: monthFrom(props.version.from), to: monthFrom(props.version.to) };
  return inAll([span.value, own]) ?? own;
});
/** What is typed is meant in the unit that is shown. */
function numberOf(text: string, one: number): number {
  if (text.trim() === '') return 0;
  const read = formats.value.read(text, false);
  return read === undefined ? Number.NaN : Math.round(read * one);
}
const money = computed(() => unit.value * minor.value);
/** Units have three decimals. */
const PARTS = 1000;
const { form, field, wrong, begin, dialog } = useForm({
  of: () => `${props.version.id} ${shown.value}`,
  // What the scope names already stands in the form.
  fresh: () => ({
    chosen: Object.fromEntries(
      dimensions.value.map((dimension) => {
        const inScope = plan.tree.leavesOf(dimension).filter(({ id }) => scope.value.includes(id));
        return [dimension.code, inScope.length === 1 ? (inScope[0]?.code ?? null) : null];
      }),
    ) as Record<string, string | null>,
    ...{ units: '', revenue: '', cost: '', why: '' },
  }),
  schema: newLineSchema,
  body: ({ chosen, units, revenue, cost, why }): NewLine => ({
    members: Object.fromEntries(
      Object.entries(chosen).flatMap(([code, member]) => (member === null ? [] : [[code, member]])),
    ),
    ...{ from: monthText(months.value.from), to: monthText(months.value.to), why },
    units: numberOf(units, PARTS) / PARTS,
    revenue: numberOf(revenue, money.value),
    cost: cost.trim() === '' ? null : numberOf(cost, money.value),
  }),
  send: async (body) => {
    const { scope: made } = await plan.ask(
      budgetOperations.addLine,
      { versionId: props.version.id },
      body,
    );
    await plan.inLine(plan.catchUp);
    plan.said = { text: TEXTS.addedTo(plan.tree.label(made), props.version.name), undo: 'budget' };
    shown.value = false;
  },
});
watch(shown, (open) => open && begin());
const complete = computed(() => Object.values(form.value.chosen).every((code) => code !== null));
const words = computed(() => unitInWords('money', unit.value, formats.value));
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.addLine"
    :action="TEXTS.addLine"
    :disabled="!complete"
    v-bind="dialog"
  >
    <p class="quiet">
      {{ TEXTS.whatDoesNotPlanYet(version.name, spanInWords(months)) }}
    </p>
    <div class="two">
      <v-autocomplete
        v-for="dimension in dimensions"
        :key="dimension.code"
        v-model="form.chosen[dimension.code]"
        :label="dimension.name"
        :items="plan.tree.leavesOf(dimension)"
        item-value="code"
        :error-messages="wrong(`members.${dimension.code}`)"
      />
    </div>
    <div class="three">
      <v-text-field
        v-bind="field('units')"
        :label="WORDS.units"
        autocomplete="off"
        inputmode="decimal"
      />
      <v-text-field
        v-bind="field('revenue')"
        :label="WORDS.revenueIn(words)"
        autocomplete="off"
        inputmode="decimal"
      />
      <v-text-field
        v-bind="field('cost')"
        :label="TEXTS.cost(words)"
        :placeholder="TEXTS.optional"
        autocomplete="off"
        inputmode="decimal"
      />
    </div>
    <v-text-field v-bind="field('why')" :label="WORDS.reasonOptional" autocomplete="off" />
  </FormDialog>
</template>

<style scoped>
.two,
.three {
  display: grid;
  grid-template-columns: repeat(2, 1fr);
  gap: 0 12px;
}
.three {
  grid-template-columns: repeat(3, 1fr);
}
</style>
