<script setup lang="ts">
import { closingOperations, ROLLS, type Closing } from '@dravex/contract';
import { readHolidays } from '@dravex/core';
import { ref, watch } from 'vue';
import FilePick from '../kit/FilePick.vue';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';

/** When months are closed by themselves, which days are off, and whether the horizon grows. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ closing: Closing }>();
const plan = usePlan();

const WAYS = [
  { value: 'hand' as const, name: 'By hand' },
  { value: 'workingDay' as const, name: 'On a working day' },
  { value: 'calendarDay' as const, name: 'On a calendar day' },
];
const GROWTHS = ROLLS.map((value) => ({
  value,
  name:
    value === 0 ? 'Stays as it is' : value === 1 ? 'Grows by 1 month' : `Grows by ${value} months`,
}));

const CLOSED_SHOWS = [
  { value: 'actual' as const, name: 'Actuals only' },
  { value: 'beside' as const, name: 'Actuals, and the forecast at close in a row below' },
  { value: 'instead' as const, name: 'Forecast at close only' },
];

const holidayFault = ref('');
const { form, field, submit, begin, busy, failure } = useForm({
  of: () => JSON.stringify(props.closing.rules),
  fresh: () => ({
    by: props.closing.rules.rule.by,
    day: String(props.closing.rules.rule.day),
    roll: props.closing.rules.roll,
    closed: props.closing.rules.closed,
    holidays: props.closing.rules.holidays.join('\n'),
  }),
  schema: closingOperations.setClosingRules.body,
  body: ({ by, day, roll, closed, holidays }) => ({
    rule: { by, day: Number(day) },
    roll,
    closed,
    holidays: readHolidays(holidays).days,
  }),
  send: async (body) => {
    const { problems } = readHolidays(form.value.holidays);
    const [first] = problems;
    if (first) throw new Error(first.message);
    await plan.ask(closingOperations.setClosingRules, {}, body);
  },
  done: () => (shown.value = false),
});
watch(shown, (open) => open && begin());

/** A list from a file takes the place of what stands there, unless it has no days. */
async function fromFile(file: File): Promise<void> {
  const { days, problems } = readHolidays(await file.text());
  holidayFault.value =
    problems[0]?.message ?? (days.length === 0 ? `${file.name} has no days` : '');
  if (holidayFault.value === '') form.value.holidays = days.join('\n');
}
</script>

<template>
  <FormDialog
    v-model="shown"
    title="How months are closed"
    action="Save"
    :busy="busy"
    :failure="failure || holidayFault"
    @submit="submit"
  >
    <v-select v-bind="field('by')" label="Months are closed" :items="WAYS" />
    <v-text-field
      v-if="form.by !== 'hand'"
      v-bind="field('day')"
      type="number"
      min="1"
      max="28"
      :label="form.by === 'workingDay' ? 'Working day after the month' : 'Day after the month'"
      hint="Closed on that day if its sales are in and nothing waits to be imported"
      persistent-hint
    />
    <v-select v-bind="field('roll')" label="The horizon" :items="GROWTHS" />
    <v-select
      v-bind="field('closed')"
      label="Forecast shows, in closed months"
      :items="CLOSED_SHOWS"
    />
    <template v-if="form.by === 'workingDay'">
      <v-textarea
        v-bind="field('holidays')"
        label="Holidays, one on each line"
        placeholder="2026-12-25"
        rows="5"
      />
      <p>
        <FilePick
          label="Import holidays"
          about="File of holidays"
          accept=".csv,.txt,text/csv,text/plain"
          @pick="fromFile"
        />
      </p>
    </template>
  </FormDialog>
</template>
