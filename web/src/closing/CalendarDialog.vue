<script setup lang="ts">
import { closingOperations, type Closing } from '@dravex/contract';
import { watch } from 'vue';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { useSure } from '../writing/use-sure.ts';

/** The as-of date and the end of the horizon. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ closing: Closing }>();
const plan = usePlan();
const { calendar } = useFrame();
const WAYS = [
  { value: 'day' as const, name: 'Today, every day' },
  { value: 'hand' as const, name: 'A day set by hand' },
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
    title="As-of date and horizon"
    :action="asked ? 'Save anyway' : 'Save'"
    v-bind="dialog"
  >
    <v-select v-bind="field('asOfBy')" label="As-of date" :items="WAYS" />
    <v-text-field v-if="form.asOfBy === 'hand'" v-bind="field('asOf')" type="date" label="Day" />
    <v-text-field
      v-bind="field('last')"
      type="month"
      label="Last month of the horizon"
      hint="Up to ten years after the last closed month"
      persistent-hint
    />
    <p v-if="asked" class="waits" role="alert">{{ asked }}</p>
  </FormDialog>
</template>
