<script setup lang="ts">
import { budgetOperations, type Version } from '@dravex/contract';
import { fiscalYearOf, monthFrom } from '@dravex/core';
import { computed, watch } from 'vue';
import { spanInWords } from '../format/periods.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';

/** Copies a version with an uplift: how next year's budget starts. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ version: Version }>();
const emit = defineEmits<{ copied: [id: number] }>();

const plan = usePlan();
const { calendar, formats } = useFrame();
const SHIFTS = [
  { value: 12, name: 'the year after' },
  { value: 0, name: 'the same months' },
];
const { form, field, submit, begin, busy, failure } = useForm({
  of: () => String(props.version.id),
  fresh: () => {
    const next = monthFrom(props.version.to) + 12;
    const fits = next <= monthFrom(calendar.value.last);
    return {
      name: fits
        ? `Budget FY ${fiscalYearOf(next, calendar.value.fiscalStart)}`
        : `${props.version.name}, copy`,
      uplift: '4',
      shift: fits ? 12 : 0,
    };
  },
  schema: budgetOperations.copyVersion.body,
  body: ({ name, uplift, shift }) => ({
    name,
    uplift: uplift.trim() === '' ? 0 : (formats.value.read(uplift, true) ?? Number.NaN),
    shift,
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
watch(shown, (open) => open && begin());
const months = computed(() => ({
  from: monthFrom(props.version.from) + form.value.shift,
  to: monthFrom(props.version.to) + form.value.shift,
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
    <p class="quiet">
      Each cell is multiplied by the uplift, for {{ spanInWords(months) }}. The total is exact to
      the cent.
    </p>
    <v-text-field v-bind="field('name')" label="Name" autocomplete="off" />
    <v-text-field
      v-bind="field('uplift')"
      label="Uplift in percent"
      autocomplete="off"
      inputmode="decimal"
    />
    <v-select v-model="form.shift" label="For" :items="SHIFTS" />
  </FormDialog>
</template>
