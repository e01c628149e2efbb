<script setup lang="ts">
import { closingOperations } from '@dravex/contract';
import { monthFrom } from '@dravex/core';
import { watch } from 'vue';
import { longMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { useSure } from '../writing/use-sure.ts';
import { TEXTS } from './texts.ts';

/** Opens the last closed month again, with a reason. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ month: string }>();
const plan = usePlan();
const { field, wrong, begin, form, dialog } = useForm({
  of: () => props.month,
  fresh: () => ({ month: props.month, why: '', sure: false }),
  schema: closingOperations.reopenMonth.body,
  send: (body) => plan.ask(closingOperations.reopenMonth, {}, body),
  done: () => (shown.value = false),
});
watch(shown, (open) => open && begin());
const asked = useSure(form, wrong);
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.reopenOf(longMonth(monthFrom(month)))"
    :action="asked ? TEXTS.reopenAnyway : TEXTS.reopen"
    v-bind="dialog"
  >
    <p>{{ TEXTS.itsForecastTakesPlaceOf }}</p>
    <p v-if="asked" class="waits" role="alert">{{ asked }}</p>
    <v-text-field v-bind="field('why')" :label="WORDS.reason" maxlength="500" />
  </FormDialog>
</template>
