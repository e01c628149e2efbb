<script setup lang="ts">
import { factOperations } from '@dravex/contract';
import { monthFrom, monthText } from '@dravex/core';
import { computed, ref } from 'vue';
import ActualsPage from '../actuals/ActualsPage.vue';
import RetentionChart from '../charts/RetentionChart.vue';
import { longMonth, shortMonth, spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { saveLines, type Line } from '../grid/grid-file.ts';
import EmptyState from '../kit/EmptyState.vue';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import { byAge, keptOf } from './cohort-row.ts';
import CohortTable from './CohortTable.vue';
import { churnInWords, cohortsInWords } from './retention-words.ts';
import { TEXTS } from './texts.ts';

/** Subscribers as their records have them: how they move, by cohort, and how long they stay. */
const plan = usePlan();
const { span, scope, subject, formats } = useFrame();
const VIEWS = [
  { value: 'movement', name: TEXTS.byMonth },
  { value: 'cohorts', name: TEXTS.cohorts },
  { value: 'kept', name: TEXTS.percentKept },
  { value: 'churn', name: TEXTS.churnByAge },
] as const;
const shown = ref<(typeof VIEWS)[number]['value']>('movement');
/** Records are known whole through the last closed month; nothing is said of those after it. */
const known = computed(() => ({
  from: span.value.from,
  to: Math.min(span.value.to, plan.closedThrough),
}));
const ahead = computed(() => known.value.to < known.value.from);
const months = computed(() => ({
  from: monthText(ahead.value ? known.value.to : known.value.from),
  to: monthText(known.value.to),
}));
const inScope = computed(() => scope.value.join());
const { data: movement, failure: unmoved } = useAnswer(
  [months, inScope, () => plan.tick, () => plan.savedAt],
  async () => plan.ask(factOperations.readSubscribers, { ...months.value, scope: inScope.value }),
);
/** Cohorts that the curve leaves out. */
const without = ref<readonly string[]>([]);
const { data: cohorts, failure: uncounted } = useAnswer(
  [inScope, without, () => plan.tick, () => plan.savedAt],
  async () =>
    plan.ask(factOperations.readCohorts, {
      scope: inScope.value,
      without: without.value.join(','),
    }),
);
const { failure: unsaved, write } = useWriting();
const count = (value: number | null): string => formats.value.show(value, 'units', 1);
const percent = (value: number | null): string => formats.value.show(value, 'percent');

const oldest = computed(() =>
  Math.max(0, ...(cohorts.value?.cohorts ?? []).map(({ active }) => active.length - 1)),
);
/** The youngest first: what is wrong now is in sight. */
const rows = computed(() => byAge(cohorts.value, undefined, oldest.value).reverse());
const headings = computed(() => Array.from({ length: oldest.value + 1 }, (_, age) => String(age)));
const ages = computed(() =>
  (cohorts.value?.ages ?? []).map((one, at) => ({
    ...one,
    fitted: cohorts.value?.fitted?.left[at + 1] ?? null,
  })),
);
/** The part that is left by what was observed, age by age. */
const observed = computed(() => {
  const left: (number | null)[] = [1];
  for (const { rate } of cohorts.value?.ages ?? []) {
    const before = left.at(-1) ?? null;
    left.push(before === null || rate === null ? null : before * (1 - rate));
  }
  return left;
});
const worse = computed(() =>
  rows.value
    .filter((row) => row.worse !== null)
    .map((row) => ({
      name: shortMonth(row.start, true),
      kept: row.cells.map((value) => keptOf(row, value)),
    })),
);
const leaveOut = (start: string, out: boolean): void => {
  without.value = out
    ? [...without.value, start]
    : without.value.filter((other) => other !== start);
};
const pointedOut = computed(() =>
  (cohorts.value?.cohorts ?? []).filter((one) => one.worse !== null || one.without),
);
const heading = computed(() => {
  const found = movement.value;
  if (!found || !cohorts.value) return '';
  if (found.known === 0) return TEXTS.noSubscribers(inScope.value === '');
  if (shown.value === 'churn') return churnInWords(cohorts.value, formats.value);
  if (shown.value !== 'movement') return cohortsInWords(rows.value, formats.value);
  if (ahead.value) return TEXTS.subscribersAreKnownForClosed;
  const [first, last] = [found.months[0], found.months.at(-1)];
  const change = (last?.closing ?? 0) - (first?.opening ?? 0);
  return TEXTS.subscribersAtEndOfThan(
    count(last?.closing ?? 0),
    last ? longMonth(monthFrom(last.month)) : '',
    count(Math.abs(change)),
    change,
    first ? longMonth(monthFrom(first.month)) : '',
  );
});
const state = computed(() =>
  shown.value === 'movement'
    ? spanInWords(ahead.value ? span.value : known.value)
    : TEXTS.allCohortsThroughMonthsAfter(longMonth(plan.closedThrough)),
);
const failure = computed(() => unmoved.value || uncounted.value || unsaved.value);

/** What is in sight as lines of a file, numbers in full. */
function lines(): Line[] {
  if (shown.value === 'movement') {
    return [
      [WORDS.month, TEXTS.opening, WORDS.new, TEXTS.lost, WORDS.closing],
      ...(movement.value?.months ?? []).map(({ month, opening, added, lost, closing }) => [
        ...[month, opening, added, lost, closing],
      ]),
    ];
  }
  if (shown.value === 'churn') {
    return [
      [
        TEXTS.age,
        TEXTS.couldLeave,
        TEXTS.left,
        WORDS.churn,
        TEXTS.keptFitted,
        TEXTS.atLeast,
        TEXTS.atMost,
      ],
      ...ages.value.map(({ age, atRisk, lost, rate, fitted }) => [
        ...[age, atRisk, lost, rate],
        ...[fitted?.s ?? null, fitted?.low ?? null, fitted?.high ?? null],
      ]),
    ];
  }
  return [
    [TEXTS.startedIn, TEXTS.subscribers, ...headings.value],
    ...rows.value.map((row) => [
      monthText(row.start),
      row.size,
      ...row.cells.map((value) => (shown.value === 'kept' ? keptOf(row, value) : value)),
    ]),
  ];
}
const save = (format: 'csv' | 'xlsx') =>
  write(() => saveLines(format, TEXTS.subscribers, [subject.value, state.value], lines()));
</script>

<template>
  <ActualsPage :heading="heading" :state="state" :failure="failure" :shows="[]">
    <EmptyState v-if="movement && movement.known === 0" :heading="heading">
      <p>
        {{ TEXTS.importFileWithCodeStart }}
      </p>
    </EmptyState>
    <template v-else-if="movement && cohorts">
      <div class="controls">
        <v-btn-toggle
          v-model="shown"
          mandatory
          density="compact"
          :aria-label="TEXTS.subscribersShownAs"
        >
          <v-btn v-for="view in VIEWS" :key="view.value" :value="view.value">
            {{ view.name }}
          </v-btn>
        </v-btn-toggle>
        <span class="push" />
        <v-btn variant="plain" @click="save('csv')">{{ WORDS.saveAsCsv }}</v-btn>
        <v-btn variant="plain" @click="save('xlsx')">{{ WORDS.saveAsWorkbook }}</v-btn>
      </div>
      <template v-if="shown === 'churn'">
        <div
          v-if="pointedOut.length > 0"
          class="controls"
          role="group"
          :aria-label="TEXTS.cohortsLeftOut"
        >
          <v-checkbox
            v-for="one in pointedOut"
            :key="one.start"
            :label="TEXTS.leaveOutWhichLostMore(longMonth(monthFrom(one.start)))"
            :model-value="one.without"
            @update:model-value="leaveOut(one.start, $event === true)"
          />
        </div>
        <div class="curve">
          <RetentionChart
            :label="TEXTS.partOfSubscribersThatIs"
            :observed="observed"
            :fitted="cohorts.fitted?.left ?? []"
            :worse="worse"
            :show="(value: number) => formats.show(value, 'percent')"
          />
        </div>
      </template>
      <div class="scroll" tabindex="0" role="region" :aria-label="heading">
        <SheetTable v-if="shown === 'movement' && !ahead" :about="TEXTS.subscribersByMonth">
          <thead>
            <tr>
              <th scope="col" class="words">{{ WORDS.month }}</th>
              <th scope="col">{{ TEXTS.opening }}</th>
              <th scope="col">{{ WORDS.new }}</th>
              <th scope="col">{{ TEXTS.lost }}</th>
              <th scope="col">{{ WORDS.closing }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="month in movement.months" :key="month.month">
              <td class="words">{{ longMonth(monthFrom(month.month)) }}</td>
              <td>{{ count(month.opening) }}</td>
              <td>{{ count(month.added) }}</td>
              <td>{{ count(month.lost) }}</td>
              <td>
                <b>{{ count(month.closing) }}</b>
              </td>
            </tr>
          </tbody>
        </SheetTable>
        <SheetTable v-else-if="shown === 'churn'" :about="TEXTS.churnByAge">
          <thead>
            <tr>
              <th scope="col">{{ TEXTS.monthsAfterStart }}</th>
              <th scope="col">{{ TEXTS.couldLeave }}</th>
              <th scope="col">{{ TEXTS.left }}</th>
              <th scope="col">{{ WORDS.churn }}</th>
              <th scope="col">{{ TEXTS.keptFitted }}</th>
              <th scope="col">{{ TEXTS.nineInTenBetween }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in ages" :key="one.age">
              <td>{{ one.age }}</td>
              <td>{{ count(one.atRisk) }}</td>
              <td>{{ count(one.lost) }}</td>
              <td>
                <b>{{ percent(one.rate) }}</b>
              </td>
              <td>{{ percent(one.fitted?.s ?? null) }}</td>
              <td>
                <template v-if="one.fitted">
                  {{ TEXTS.and(percent(one.fitted.low), percent(one.fitted.high)) }}
                </template>
              </td>
            </tr>
          </tbody>
        </SheetTable>
        <CohortTable
          v-else-if="shown !== 'movement'"
          :about="TEXTS.cohortsByMonthsAfterStart"
          :headings="headings"
          :rows="rows"
          :as="shown === 'kept' ? 'percent' : 'count'"
        />
      </div>
    </template>
  </ActualsPage>
</template>

<style scoped>
.scroll {
  flex: 1;
  min-height: 0;
  overflow: auto;
}
.curve {
  height: 210px;
  flex: none;
}
</style>
