<script setup lang="ts">
import { forecastOperations } from '@dravex/contract';
import { LEFT_BLANK, monthFrom, monthText, type BaselineChoice } from '@dravex/core';
import { computed, ref } from 'vue';
import type { StreamLine } from '../computation/forecast-answers.ts';
import { shortMonth, spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useDraft } from '../writing/use-draft.ts';
import { useWriting } from '../writing/use-writing.ts';
import BaselineFields from './BaselineFields.vue';
import { CONTINUES, methodFormOf, settingsOf } from './method-form.ts';
import { TEXTS } from './texts.ts';

/** Chosen months of forecast lines forecast anew: what they are made from, and what that changes. */
const props = defineProps<{ picked: readonly StreamLine[] }>();
const plan = usePlan();
const { formats, calendar, span } = useFrame();

const FROM = [
  { value: 'baseline', name: TEXTS.baselineOrPeriodOfHistory },
  { value: 'blank', name: TEXTS.nothingLeaveMonthsBlank },
  { value: 'method', name: TEXTS.methodOfForecastLineAgain },
] as const;
const OVERRIDES = [
  { value: 'keep', name: TEXTS.keepManualOverridesInThese },
  { value: 'drop', name: TEXTS.removeManualOverridesInThese },
];
const first = computed(() => props.picked[0]);
const key = computed(() => props.picked.map(({ stream }) => stream.id).join());
/** The open months of the window, to begin with. */
const firstOpen = computed(() => monthText(plan.closedThrough + 1));
const { form } = useDraft(
  () => key.value,
  () => ({
    from: monthText(Math.max(span.value.from, plan.closedThrough + 1)),
    to: monthText(Math.max(span.value.to, plan.closedThrough + 1)),
    basis: 'baseline' as (typeof FROM)[number]['value'],
    method: methodFormOf({ method: 'baseline', settings: {} }, formats.value),
    why: '',
  }),
);
const baseline = computed<BaselineChoice | null>(() => {
  if (form.value.basis === 'method') return null;
  if (form.value.basis === 'blank') return LEFT_BLANK;
  return settingsOf(form.value.method, undefined, formats.value).baseline ?? null;
});
const months = computed(() => ({ from: form.value.from, to: form.value.to }));
/** Why these months cannot be forecast anew. */
const refusal = computed(() => {
  const { from, to } = months.value;
  if (from === '' || to === '') return TEXTS.chooseFirstAndLastMonth;
  if (to < from) return TEXTS.lastMonthIsBeforeFirst;
  if (from < firstOpen.value || to > calendar.value.last) {
    const open = { from: monthFrom(firstOpen.value), to: monthFrom(calendar.value.last) };
    return TEXTS.openMonthsAre(spanInWords(open));
  }
  return '';
});
const overrides = ref<'keep' | 'drop'>('keep');
const typed = useAnswer([() => plan.tick], () => plan.compute().overrides());
const overridden = computed(
  () =>
    typed.data.value?.filter(
      ({ override }) =>
        override.month >= months.value.from &&
        override.month <= months.value.to &&
        props.picked.some(({ stream }) => stream.combination === override.combination),
    ).length ?? 0,
);
const tried = useAnswer(
  [
    () => JSON.stringify([key.value, months.value, baseline.value, overrides.value]),
    () => plan.tick,
  ],
  async () =>
    refusal.value === '' && props.picked.length > 0
      ? plan.compute().tryAnew(
          props.picked.map(({ stream }) => stream.id),
          { ...months.value },
          JSON.parse(JSON.stringify(baseline.value)) as BaselineChoice | null,
          overrides.value === 'drop',
          'revenue',
        )
      : undefined,
);
/** The months that are forecast anew, as they are and as they would be. */
const rows = computed(() => {
  const { now = [], then = [] } = tried.data.value ?? {};
  const start = monthFrom(calendar.value.first);
  if (refusal.value !== '') return [];
  const [from, to] = [monthFrom(months.value.from), monthFrom(months.value.to)];
  return Array.from({ length: to - from + 1 }, (_, at) => {
    const t = from + at - start;
    return { heading: shortMonth(from + at, true), now: now[t] ?? null, then: then[t] ?? null };
  });
});
const sum = (which: 'now' | 'then'): number | null =>
  rows.value.some((row) => row[which] === null)
    ? null
    : rows.value.reduce((all, row) => all + (row[which] ?? 0), 0);
const show = (value: number | null): string => formats.value.show(value, 'money', 1);

const { busy, failure, write } = useWriting();
const take = () =>
  write(
    () =>
      plan.ask(
        forecastOperations.forecastAnew,
        {},
        {
          streams: props.picked.map(({ stream }) => stream.id),
          ...months.value,
          baseline: baseline.value,
          overrides: overridden.value > 0 ? overrides.value : 'keep',
          why: form.value.why,
        },
      ),
    ({ streams }) => {
      const lines = TEXTS.forecastLinesOf(streams);
      plan.said = { text: TEXTS.reforecastOf(lines), undo: 'forecast' };
    },
  );
</script>

<template>
  <form @submit.prevent="take">
    <div class="row">
      <v-text-field
        v-model="form.from"
        type="month"
        :label="WORDS.from"
        :min="firstOpen"
        :max="calendar.last"
      />
      <v-text-field
        v-model="form.to"
        type="month"
        :label="TEXTS.to"
        :min="form.from || firstOpen"
        :max="calendar.last"
      />
    </div>
    <v-select v-model="form.basis" :label="TEXTS.forecastFrom" :items="[...FROM]" />
    <template v-if="form.basis === 'baseline'">
      <v-select v-model="form.method.of" :label="TEXTS.continues" :items="CONTINUES" />
      <BaselineFields v-model="form.method" :first="first" />
    </template>
    <v-select
      v-if="overridden > 0"
      v-model="overrides"
      :label="TEXTS.manualOverridesOf(overridden)"
      :items="OVERRIDES"
    />
    <p v-if="refusal" class="waits">{{ refusal }}</p>
    <p
      v-for="problem in (tried.data.value?.problems ?? []).slice(0, 4)"
      :key="problem"
      class="waits"
    >
      {{ problem }}
    </p>
    <SheetTable v-if="rows.length > 0 && tried.data.value" :about="TEXTS.revenueOfTheseMonths">
      <thead>
        <tr>
          <th scope="col" class="words">
            {{ WORDS.revenueIn(plan.workspace?.plan.currency.code ?? '') }}
          </th>
          <th scope="col">{{ TEXTS.current }}</th>
          <th scope="col">{{ TEXTS.reforecast }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.heading">
          <td class="words">{{ row.heading }}</td>
          <td>{{ show(row.now) }}</td>
          <td>{{ show(row.then) }}</td>
        </tr>
        <tr v-if="rows.length > 1" class="all">
          <td class="words">{{ WORDS.total }}</td>
          <td>{{ show(sum('now')) }}</td>
          <td>{{ show(sum('then')) }}</td>
        </tr>
      </tbody>
    </SheetTable>
    <v-text-field v-model="form.why" :label="WORDS.reasonOptional" maxlength="300" />
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <div class="controls">
      <v-btn
        color="primary"
        variant="flat"
        type="submit"
        :loading="busy"
        :disabled="refusal !== '' || picked.length === 0"
      >
        {{ TEXTS.reforecastTheseMonths }}
      </v-btn>
    </div>
  </form>
</template>

<style scoped>
form {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
}
.row {
  display: flex;
  gap: 8px;
}
.row .v-input {
  flex: 1;
}
.all td {
  font-weight: 650;
}
</style>
