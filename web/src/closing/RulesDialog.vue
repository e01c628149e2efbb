<script setup lang="ts">
import { closingOperations, ROLLS, type Closing } from '@dravex/contract';
import { readHolidays } from '@dravex/core';
import { ref, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FilePick from '../kit/FilePick.vue';
import FormDialog from '../kit/FormDialog.vue';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** When months are closed by themselves, which days are off, and whether the horizon grows. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{ closing: Closing }>();
const plan = usePlan();

const WAYS = [
  { value: 'hand' as const, name: TEXTS.byHand },
  { value: 'workingDay' as const, name: TEXTS.onWorkingDay },
  { value: 'calendarDay' as const, name: TEXTS.onCalendarDay },
];
const GROWTHS = ROLLS.map((value) => ({
  value,
  name:
    value === 0
      ? TEXTS.staysAsItIs
      : value === 1
        ? TEXTS.growsBy1Month
        : TEXTS.growsByMonths(value),
}));

const CLOSED_SHOWS = [
  { value: 'actual' as const, name: TEXTS.actualsOnly },
  { value: 'beside' as const, name: TEXTS.actualsAndForecastAtClose },
  { value: 'instead' as const, name: TEXTS.forecastAtCloseOnly },
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
    problems[0]?.message ?? (days.length === 0 ? TEXTS.hasNoDays(file.name) : '');
  if (holidayFault.value === '') form.value.holidays = days.join('\n');
}
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.howMonthsAreClosed"
    :action="WORDS.save"
    :busy="busy"
    :failure="failure || holidayFault"
    @submit="submit"
  >
    <v-select v-bind="field('by')" :label="TEXTS.monthsAreClosed" :items="WAYS" />
    <v-text-field
      v-if="form.by !== 'hand'"
      v-bind="field('day')"
      type="number"
      min="1"
      max="28"
      :label="form.by === 'workingDay' ? TEXTS.workingDayAfterMonth : TEXTS.dayAfterMonth"
      :hint="TEXTS.closedOnThatDayIf"
      persistent-hint
    />
    <v-select v-bind="field('roll')" :label="TEXTS.theHorizon" :items="GROWTHS" />
    <v-select
      v-bind="field('closed')"
      :label="TEXTS.forecastShowsInClosedMonths"
      :items="CLOSED_SHOWS"
    />
    <template v-if="form.by === 'workingDay'">
      <v-textarea
        v-bind="field('holidays')"
        :label="TEXTS.holidaysOneOnEachLine"
        placeholder="2026-12-25"
        rows="5"
      />
      <p>
        <FilePick
          :label="TEXTS.importHolidays"
          :about="TEXTS.fileOfHolidays"
          accept=".csv,.txt,text/csv,text/plain"
          @pick="fromFile"
        />
      </p>
    </template>
  </FormDialog>
</template>
