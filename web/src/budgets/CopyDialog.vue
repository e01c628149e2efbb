<script setup lang="ts">
import { budgetOperations, type CopyLook, type Version } from '@dravex/contract';
import { fiscalYearOf, monthFrom } from '@dravex/core';
import { computed, watch } from 'vue';
import { spanInWords } from '../format/periods.ts';
import FormDialog from '../kit/FormDialog.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';

/** Copies a version with uplifts: how next year's budget starts. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ version: Version }>();
const emit = defineEmits<{ copied: [id: number] }>();

const plan = usePlan();
const { calendar, formats, minor } = useFrame();
/** A year later, where the plan reaches so far. */
const YEAR = 12;
const { form, field, submit, begin, busy, failure } = useForm({
  of: () => String(props.version.id),
  fresh: () => {
    const next = monthFrom(props.version.to) + YEAR;
    const fits = next <= monthFrom(calendar.value.last);
    return {
      name: fits
        ? `Budget FY ${fiscalYearOf(next, calendar.value.fiscalStart)}`
        : `${props.version.name}, copy`,
      volume: '4',
      price: '',
      shift: fits ? String(YEAR) : '0',
      leaveOut: true,
      add: true,
    };
  },
  schema: budgetOperations.copyVersion.body,
  body: ({ name, volume, price, shift, leaveOut, add }) => ({
    name,
    volume: fractionOf(volume),
    price: fractionOf(price),
    shift: shift.trim() === '' ? 0 : Number(shift),
    discontinued: leaveOut ? ('leaveOut' as const) : ('keep' as const),
    added: add ? ('forecast' as const) : ('none' as const),
  }),
  send: async (body) => {
    const { id } = await plan.ask(
      budgetOperations.copyVersion,
      { versionId: props.version.id },
      body,
    );
    await plan.inLine(plan.catchUp);
    shown.value = false;
    emit('copied', id);
  },
});
function fractionOf(text: string): number {
  return text.trim() === '' ? 0 : (formats.value.read(text, true) ?? Number.NaN);
}
watch(shown, (open) => open && begin());
const shift = computed(() => {
  const read = Number(form.value.shift);
  return Number.isInteger(read) && Math.abs(read) <= 120 ? read : 0;
});
/** What has ended since, and what is new: a copy can follow both. */
const { data: look } = useAnswer([shown, shift, () => props.version.id, () => plan.tick], () =>
  shown.value
    ? plan.ask(budgetOperations.lookAtCopy, { versionId: props.version.id, shift: shift.value })
    : Promise.resolve(undefined),
);
const inWords = ({ combinations, revenue }: CopyLook['added']): string =>
  `${combinations} ${combinations === 1 ? 'line' : 'lines'}, ${formats.value.inWords(revenue / minor.value)}`;
const named = ({ members }: CopyLook['added']): string =>
  members.map((ids) => plan.tree.label(ids)).join('\n');
const months = computed(() => ({
  from: monthFrom(props.version.from) + shift.value,
  to: monthFrom(props.version.to) + shift.value,
}));
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="`Copy ${version.name}`"
    action="Copy"
    :busy="busy"
    :failure="failure"
    :width="420"
    @submit="submit"
  >
    <p class="quiet">For {{ spanInWords(months) }}. Totals are exact to the cent.</p>
    <v-text-field v-bind="field('name')" label="Name" autocomplete="off" />
    <div class="three">
      <v-text-field
        v-bind="field('volume')"
        label="Volume, %"
        autocomplete="off"
        inputmode="decimal"
        placeholder="0"
      />
      <v-text-field
        v-bind="field('price')"
        label="Price, %"
        autocomplete="off"
        inputmode="decimal"
        placeholder="0"
      />
      <v-text-field
        v-bind="field('shift')"
        label="Months later"
        autocomplete="off"
        inputmode="numeric"
      />
    </div>
    <template v-if="look">
      <v-checkbox
        v-if="look.discontinued.combinations > 0"
        v-model="form.leaveOut"
        :label="`Leave out what is sold no longer: ${inWords(look.discontinued)}`"
        :title="named(look.discontinued)"
      />
      <v-checkbox
        v-if="look.added.combinations > 0"
        v-model="form.add"
        :label="`Add what is new, from the forecast: ${inWords(look.added)}`"
        :title="named(look.added)"
      />
    </template>
  </FormDialog>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 12px;
}
</style>
