<script setup lang="ts">
import { summaryOperations } from '@dravex/contract';
import { computed } from 'vue';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** A sale that never reached the books, with the reason. */
const shown = defineModel<boolean>({ required: true });
const plan = usePlan();
const { formats, calendar, minor } = useFrame();
const dimensions = computed(() =>
  (plan.workspace?.plan.dimensions ?? []).map((dimension) => ({
    code: dimension.code,
    name: dimension.name,
    leaves: plan.tree.leavesOf(dimension),
  })),
);
const read = (text: string): number => formats.value.read(text || '0', false) ?? Number.NaN;
const { form, field, wrong, dialog } = useForm({
  fresh: () => ({
    date: calendar.value.asOf,
    members: {} as Record<string, string>,
    quantity: '',
    netAmount: '',
    cost: '',
    why: '',
  }),
  schema: summaryOperations.enterLine.body,
  body: (typed) => ({
    ...typed,
    quantity: read(typed.quantity),
    netAmount: Math.round(read(typed.netAmount) * minor.value),
    cost: Math.round(read(typed.cost) * minor.value),
  }),
  send: (body) => plan.ask(summaryOperations.enterLine, {}, body),
  done: () => (shown.value = false),
});
const complete = computed(() =>
  dimensions.value.every(({ code }) => form.value.members[code] !== undefined),
);
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.addSaleByHand"
    :action="TEXTS.addSale"
    :disabled="!complete || form.netAmount === ''"
    :width="520"
    v-bind="dialog"
  >
    <p class="quiet">{{ TEXTS.forSalesThatAreNot }}</p>
    <div class="fields">
      <v-text-field v-bind="field('date')" :label="TEXTS.date" type="date" :max="calendar.asOf" />
      <v-autocomplete
        v-for="dimension in dimensions"
        :key="dimension.code"
        v-model="form.members[dimension.code]"
        :label="dimension.name"
        :items="dimension.leaves"
        item-value="code"
        :error-messages="wrong(`members.${dimension.code}`)"
      />
      <v-text-field v-bind="field('quantity')" :label="TEXTS.quantity" inputmode="decimal" />
      <v-text-field
        v-bind="field('netAmount')"
        :label="TEXTS.netAmount(formats.currency)"
        inputmode="decimal"
      />
      <v-text-field
        v-bind="field('cost')"
        :label="TEXTS.cost(formats.currency)"
        inputmode="decimal"
      />
    </div>
    <v-text-field v-bind="field('why')" :label="TEXTS.reasonWhyItIsNot" maxlength="500" />
  </FormDialog>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 0 12px;
}
</style>
