<script setup lang="ts">
import type { Scope } from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { DASH, type Display } from '../format/numbers.ts';
import { longMonth, shortMonth, spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import type { Dress, GridCell, GridColumn, GridPlace, GridRow } from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { typedCell } from '../grid/table-rows.ts';
import { ROW } from '../grid/use-grid-view.ts';
import { usePlan } from '../plan/use-plan.ts';
import EmptyState from '../kit/EmptyState.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import { differenceOf, growthOf } from '../trace/nodes.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';
import { standingHeadline } from './headline.ts';
import { TEXTS } from './texts.ts';
import {
  offOf,
  useStanding,
  useWaiting,
  type BiggestChange,
  type StandingLine,
} from './use-standing.ts';

/** The first thing in the morning: where we stand, what waits, what moved. */
const plan = usePlan();
const route = useRoute();
const { formats, unit, subjectOf, isMany, books } = useFrame();
const saidOf = (of: Scope) => ({ subject: subjectOf(of), many: isMany(of) });
const { data, failure } = useStanding();
const waiting = useWaiting();

const headline = computed(() =>
  data.value ? standingHeadline(data.value, saidOf(data.value.scope), formats.value) : '',
);
const state = computed(() => {
  const found = data.value;
  if (!found) return '';
  return TEXTS.revenueFyFiscalYearOf(
    formats.value.unitName(unit.value),
    found.fiscalYear,
    longMonth(plan.closedThrough),
    books.value,
  );
});
/** How far off a line is, from its two sides. */
function offNode(line: StandingLine): Asked {
  const now = { label: line.what, value: line.now, question: line.nowQuestion };
  const should = { label: line.shouldName, value: line.should, question: line.shouldQuestion };
  const node = growthOf(TEXTS.differenceFrom(line.shouldName), now, should);
  return { kind: 'node', node, about: WORDS.revenueIn(spanInWords(line.span)) };
}
function changeNode(change: BiggestChange): Asked {
  const { now, against } = data.value?.moved ?? {};
  const { question } = change;
  const then =
    question.kind === 'table' && against
      ? { ...question, source: against.source, span: { from: against.month, to: against.month } }
      : question;
  const node = differenceOf(
    `${change.label}, ${change.where}`,
    { label: longMonth(now ?? 0), value: change.now, question },
    { label: against?.name ?? '', value: change.before, question: then },
  );
  return {
    kind: 'node',
    node,
    about: TEXTS.revenueLess(longMonth(now ?? 0), against?.name ?? ''),
  };
}

function money(value: number | null, dress: Dress): GridCell {
  return {
    text: formats.value.show(value, 'money', unit.value),
    ...typedCell(value, 'money', unit.value, formats.value),
    dress,
    title: formats.value.full(value, 'money'),
  };
}
/** A difference with its sign, good where it is more. */
function signed(value: number | null, shown: Display): GridCell {
  const even = value === null || Math.abs(value) < LEAST;
  return {
    ...typedCell(value, shown, unit.value, formats.value),
    text: value === null ? DASH : formats.value.signed(value, shown, unit.value),
    dress: 'plain',
    judgement: even ? 'even' : value < 0 ? 'bad' : 'good',
  };
}
/** Less than this is no difference: half a thousandth of a share, less than a cent of money. */
const LEAST = 0.0005;
const plainRow = { level: 0, parent: false, folded: false, strong: false };

/** A table that stands among others is as tall as its rows. */
function tall(rows: readonly GridRow[]): { height: string } {
  return { height: `${ROW * (rows.length + 1) + 2}px` };
}

/** The scale of all bars: the longest of them just fits. */
const full = computed(() =>
  Math.max(1, ...(data.value?.lines ?? []).flatMap(({ now, should }) => [now, should ?? 0])),
);
const LINE_COLUMNS: readonly GridColumn[] = [
  { key: 'now', heading: TEXTS.now, size: 80 },
  { key: 'mark', heading: TEXTS.actualTarget, size: 170, align: 'left' },
  { key: 'should', heading: TEXTS.comparedWith, size: 100 },
  { key: 'by', heading: TEXTS.whichIs, size: 178, align: 'left' },
  { key: 'off', heading: WORDS.difference, size: 80 },
];
const lineRows = computed(() =>
  (data.value?.lines ?? []).map((line): GridRow => {
    const { now: is, should, forecast: ahead } = line;
    const cells: GridCell[] = [
      money(is, ahead ? 'forecast' : 'books'),
      {
        text: '',
        typed: '',
        dress: 'plain',
        mark: { kind: 'bar', is, should, full: full.value, ahead },
      },
      money(should, 'plain'),
      { text: line.shouldName, typed: line.shouldName, dress: 'mixed' },
      signed(offOf(line), 'percent'),
    ];
    return {
      ...plainRow,
      key: line.key,
      label: line.what,
      tail: spanInWords(line.span),
      cells,
    };
  }),
);
function askLine({ row, column }: GridPlace): Asked | undefined {
  const line = data.value?.lines.find(({ key }) => key === row);
  if (!line) return undefined;
  if (column === 'now') return questioned(line.nowQuestion);
  if (column !== 'should' && column !== 'by') return offNode(line);
  if (line.shouldQuestion) return questioned(line.shouldQuestion);
  // What no question explains is the objective itself.
  const { fiscalYear } = data.value ?? { fiscalYear: 0 };
  return {
    kind: 'node',
    node: {
      label: TEXTS.targetOfFy(fiscalYear),
      display: 'money',
      value: line.should,
      incomplete: false,
      shape: 'value',
      parts: [],
      source: { kind: 'objective', fiscalYear },
    },
    about: TEXTS.revenueFy(fiscalYear),
  };
}

const changeColumns = computed<GridColumn[]>(() => [
  { key: 'before', heading: data.value?.moved.against.heading ?? '', size: 84 },
  { key: 'now', heading: shortMonth(data.value?.moved.now ?? 0, true), size: 84 },
  { key: 'change', heading: WORDS.change, size: 80 },
]);
const changeRows = computed<GridRow[]>(() =>
  (data.value?.changes ?? []).map((change) => ({
    ...plainRow,
    key: change.key,
    label: change.label,
    tail: change.where,
    cells: [
      money(change.before, data.value?.moved.against.source.kind === 'version' ? 'kept' : 'books'),
      money(change.now, 'books'),
      signed(change.now - change.before, 'money'),
    ],
  })),
);
function askChange({ row, column }: GridPlace): Asked | undefined {
  const change = data.value?.changes.find(({ key }) => key === row);
  if (!change) return undefined;
  return column === 'now' ? questioned(change.question) : changeNode(change);
}
</script>

<template>
  <RoomPage
    :heading="headline"
    :state="state"
    :failure="failure"
    :shows="['books', 'version', 'unit']"
  >
    <div v-if="data" class="scroll" tabindex="0" role="region" :aria-label="TEXTS.standing">
      <EmptyState v-if="data.lines.length === 0" :heading="TEXTS.noBudgetAndNoTarget">
        <p>{{ TEXTS.saveBudgetForThisYear }}</p>
        <v-btn color="primary" :to="{ path: `/w/${plan.workspaceId}/budget`, query: route.query }">
          {{ TEXTS.goToBudget }}
        </v-btn>
      </EmptyState>
      <div v-else class="grid-place" :style="tall(lineRows)" data-grid="standing">
        <PlanGrid
          :label="TEXTS.standing"
          :about="state"
          :heading="WORDS.revenue"
          :columns="LINE_COLUMNS"
          :rows="lineRows"
          :name-width="304"
          :ask="askLine"
        />
      </div>
      <div class="halves">
        <section aria-labelledby="waits-title">
          <h2 id="waits-title">{{ TEXTS.toDo }}</h2>
          <ul v-if="waiting.data.value?.length" class="waiting" data-waiting>
            <li v-for="item in waiting.data.value" :key="item.text">
              <RouterLink
                :to="{
                  path: `/w/${plan.workspaceId}/${item.room}`,
                  query: { ...route.query, ...item.query },
                }"
                >{{ item.text }}</RouterLink
              >
            </li>
          </ul>
          <p v-else-if="waiting.data.value" class="quiet">{{ TEXTS.nothingToDo }}</p>
        </section>
        <section v-if="data.changes.length > 0" aria-labelledby="changes-title">
          <h2 id="changes-title">
            {{ TEXTS.against(longMonth(data.moved.now), data.moved.against.name) }}
          </h2>
          <div class="grid-place" :style="tall(changeRows)" data-grid="changes">
            <PlanGrid
              :label="TEXTS.largestChanges"
              :about="state"
              :heading="TEXTS.productChannel"
              :name-width="262"
              :columns="changeColumns"
              :rows="changeRows"
              :ask="askChange"
            />
          </div>
        </section>
      </div>
    </div>
  </RoomPage>
</template>

<style scoped>
.halves {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 32px;
  margin-top: 22px;
}
.waiting {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  border-top: 1px solid var(--ink);
}
.waiting li {
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
.waiting a {
  color: var(--ember-ink);
}
@media (max-width: 1100px) {
  .halves {
    grid-template-columns: 1fr;
  }
}
</style>
