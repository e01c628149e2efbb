<script setup lang="ts">
import { budgetOperations } from '@dravex/contract';
import { monthText } from '@dravex/core';
import { watch } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Saves the forecast of the period as a version under a name. */
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ kept: [id: number, missing: number] }>();

const plan = usePlan();
const { span, fiscalYear } = useFrame();
const { field, begin, dialog } = useForm({
  fresh: () => ({ name: TEXTS.forecastFy(fiscalYear.value), note: '' }),
  schema: budgetOperations.keepVersion.body,
  body: (typed) => ({
    ...typed,
    from: monthText(span.value.from),
    to: monthText(span.value.to),
  }),
  send: async (body) => {
    const { id, missing } = await plan.ask(budgetOperations.keepVersion, {}, body);
    await plan.inLine(plan.catchUp);
    shown.value = false;
    emit('kept', id, missing);
  },
});
watch(shown, (open) => open && begin());
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.saveForecastAsVersion"
    :action="WORDS.save"
    :width="420"
    v-bind="dialog"
  >
    <p class="quiet">
      {{ TEXTS.wholeCompanyClosedMonthsWith(spanInWords(span)) }}
    </p>
    <v-text-field v-bind="field('name')" :label="WORDS.name" autocomplete="off" />
    <v-text-field v-bind="field('note')" :label="TEXTS.purposeOptional" autocomplete="off" />
  </FormDialog>
</template>
