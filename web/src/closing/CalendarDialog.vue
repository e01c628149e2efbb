<script setup lang="ts">
import { closingOperations, type Closing } from '@dravex/contract';
import { watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { useSure } from '../writing/use-sure.ts';
import { TEXTS } from './texts.ts';

/** The as-of date and the end of the horizon. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ closing: Closing }>();
const plan = usePlan();
const { calendar } = useFrame();
const WAYS = [
  { value: 'day' as const, name: TEXTS.todayEveryDay },
  { value: 'hand' as const, name: TEXTS.daySetByHand },
];
const { form, field, wrong, begin, dialog } = useForm({
  of: () => `${props.closing.asOf} ${props.closing.asOfBy} ${calendar.value.last}`,
  fresh: () => ({
    asOfBy: props.closing.asOfBy,
    asOf: props.closing.asOf,
    last: calendar.value.last,
    sure: false,
  }),
  schema: closingOperations.changeCalendar.body,
  body: ({ asOfBy, asOf, last, sure }) => ({
    asOfBy,
    sure,
    ...(asOfBy === 'hand' && asOf !== props.closing.asOf ? { asOf } : {}),
    ...(last === calendar.value.last ? {} : { last }),
  }),
  send: (body) => plan.ask(closingOperations.changeCalendar, {}, body),
  done: () => (shown.value = false),
});
watch(shown, (open) => open && begin());
const asked = useSure(form, wrong);
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.asOfDateAndHorizon"
    :action="asked ? TEXTS.saveAnyway : WORDS.save"
    v-bind="dialog"
  >
    <v-select v-bind="field('asOfBy')" :label="TEXTS.asOfDate" :items="WAYS" />
    <v-text-field
      v-if="form.asOfBy === 'hand'"
      v-bind="field('asOf')"
      type="date"
      :label="TEXTS.day"
    />
    <v-text-field
      v-bind="field('last')"
      type="month"
      :label="TEXTS.lastMonthOfHorizon"
      :hint="TEXTS.upToTenYearsAfter"
      persistent-hint
    />
    <p v-if="asked" class="waits" role="alert">{{ asked }}</p>
  </FormDialog>
</template>
