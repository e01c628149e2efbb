<script setup lang="ts">
import { closingOperations } from '@dravex/contract';
import { ACTUAL, FORECAST, monthFrom, notBegun } from '@dravex/core';
import { computed } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import ComparisonTable from '../comparison/ComparisonTable.vue';
import { DASH } from '../format/numbers.ts';
import { whenInWords } from '../format/moments.ts';
import { dayInWords, longMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import RowsChoice from '../grid/RowsChoice.vue';
import { displayOf, measureInWords } from '../grid/table-rows.ts';
import EmptyState from '../kit/EmptyState.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import EmptyFilter from '../shell/EmptyFilter.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import ClosePanel from './ClosePanel.vue';
import { closingHeadline, needsOf, type Need } from './closing-words.ts';
import { TEXTS } from './texts.ts';

/** What the next month needs before it is closed, and its forecast beside its actuals. */
const plan = usePlan();
const route = useRoute();
const { scope, measure, rows: rowCodes, books, counted, unit, formats, minor } = useFrame();

const { data, failure } = useAnswer(
  [scope, measure, rowCodes, books, () => plan.tick, () => plan.savedAt],
  async () => {
    const closing = await plan.ask(closingOperations.readClosing, {});
    if (closing.month === null) return { closing };
    const month = monthFrom(closing.month);
    const query = {
      measure: measure.value,
      rows: rowCodes.value,
      scope: scope.value,
      span: { from: month, to: month },
    };
    const found = await plan.compute().compare(counted(ACTUAL), FORECAST, query, query.span);
    const begun = closing.asOf >= `${closing.month}-01`;
    return { closing, query, comparison: begun ? found : notBegun(found) };
  },
);

const needs = computed(() =>
  data.value
    ? needsOf(data.value.closing, {
        // Every member: two lines that differ in what the rows leave out are two lines.
        name: (members) => plan.tree.label(members),
        money: (cents) => `${formats.value.inWords(cents / minor.value)}`,
        percent: (now, before) =>
          before === 0 ? '' : formats.value.signed((now - before) / Math.abs(before), 'percent'),
        when: (moment) => whenInWords(moment, plan.locale),
      })
    : [],
);
const percent = (share: number): string => formats.value.show(share, 'percent');
const headline = computed(() =>
  data.value
    ? closingHeadline(data.value.closing, data.value.comparison, needs.value, percent)
    : WORDS.closing,
);
const state = computed(() => {
  const { closing } = data.value ?? {};
  if (!closing?.month) return '';
  return TEXTS.openAsOf(
    measureInWords(measure.value, unit.value, formats.value),
    longMonth(monthFrom(closing.month)),
    dayInWords(closing.asOf),
  );
});
const inPanel = computed(() => {
  const { total } = data.value?.comparison ?? {};
  const display = displayOf(measure.value);
  const shown = (value: number | null | undefined): string =>
    `${formats.value.show(value ?? null, display, unit.value)} ${formats.value.unitName(unit.value)}`;
  const share = total?.variance?.percent;
  return {
    actual: shown(total?.actual.value),
    forecast: shown(total?.plan.value),
    difference:
      share === undefined || share === null ? DASH : formats.value.signed(share, 'percent'),
  };
});
const placeOf = ({ to }: Need) => ({
  path: `/w/${plan.workspaceId}/${to?.room ?? ''}`,
  query: { ...route.query, ...to?.query },
});
</script>

<template>
  <RoomPage
    :heading="headline"
    :state="state"
    :failure="failure"
    :shows="['books', 'measure', 'unit']"
  >
    <template #shown><RowsChoice /></template>
    <template #above><slot /></template>
    <EmptyState v-if="data && data.closing.month === null" :heading="TEXTS.everyMonthOfHorizonIs">
      <p>{{ TEXTS.makeHorizonLongerToGo }}</p>
    </EmptyState>
    <div v-if="data" class="beside">
      <div class="month">
        <ul class="needs" :aria-label="TEXTS.beforeMonthIsClosed">
          <li v-for="need in needs" :key="need.key">
            <span class="sign" :class="need.done ? 'good' : 'waits'">
              <span aria-hidden="true">{{ need.done ? '✓' : '○' }}</span>
              <span class="hidden-but-read">{{ need.done ? TEXTS.done : TEXTS.toSettle }}</span>
            </span>
            <span class="what" :title="need.detail">
              <b>{{ need.title }}</b>
              <span class="quiet">{{ need.detail }}</span>
            </span>
            <RouterLink
              v-if="need.action"
              :to="placeOf(need)"
              :aria-label="`${need.action}: ${need.title}`"
            >
              {{ need.action }}
            </RouterLink>
          </li>
        </ul>
        <EmptyFilter
          v-if="data.comparison && data.comparison.rows.length === 0"
          :heading="TEXTS.noSalesAndNoForecast"
        />
        <div v-else-if="data.comparison" class="grid-place" data-grid="closing">
          <ComparisonTable
            :label="TEXTS.forecastAndActual"
            place="closing"
            :picture="TEXTS.forecastActual"
            :against-name="WORDS.forecast"
            :about="state"
            :comparison="data.comparison"
            :query="data.query"
            :actual="counted(ACTUAL)"
            :against="FORECAST"
          />
        </div>
      </div>
      <ClosePanel :closing="data.closing" v-bind="inPanel" />
    </div>
  </RoomPage>
</template>

<style scoped>
.beside {
  flex: 1;
  display: flex;
  gap: 18px;
  min-height: 0;
}
.month {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.needs {
  list-style: none;
  margin: 0;
  padding: 0;
  background: var(--surface);
  border-top: 1px solid var(--line);
}
.needs li {
  display: flex;
  gap: 10px;
  align-items: baseline;
  padding: 4px 12px 4px 8px;
  border-bottom: 1px solid var(--line);
}
.sign {
  flex: none;
  width: 14px;
}
.what {
  flex: 1;
  min-width: 0;
  display: flex;
  gap: 12px;
  align-items: baseline;
}
.what b {
  flex: none;
}
.what .quiet {
  font-size: 11.5px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.grid-place {
  flex: 1;
  min-height: 0;
}
</style>
