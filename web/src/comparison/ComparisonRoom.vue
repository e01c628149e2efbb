<script setup lang="ts">
import { ACTUAL, MEASURES, monthFrom, versionSource } from '@dravex/core';
import { computed, ref } from 'vue';
import { longMonth, spanInWords } from '../format/periods.ts';
import RowsChoice from '../grid/RowsChoice.vue';
import { displayOf, measureInWords } from '../grid/table-rows.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import EmptyState from '../kit/EmptyState.vue';
import { usePlanner } from '../people/use-planner.ts';
import EmbedDialog from '../reporting/EmbedDialog.vue';
import EmptyFilter from '../shell/EmptyFilter.vue';
import FileItems from '../shell/FileItems.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import ComparisonTable from './ComparisonTable.vue';
import { comparisonHeadline } from './headline.ts';

const plan = usePlan();
const {
  span,
  scope,
  measure,
  rows: rowCodes,
  version,
  books,
  counted,
  unit,
  formats,
  subjectOf,
} = useFrame();
const planner = usePlanner();
const embedding = ref(false);

const { data, failure } = useAnswer(
  [span, scope, measure, rowCodes, version, books, () => plan.tick],
  async () => {
    const kept = version.value;
    if (!kept) return undefined;
    await plan.loadVersion(kept.id);
    const query = {
      measure: measure.value,
      rows: rowCodes.value,
      scope: scope.value,
      span: span.value,
    };
    const worker = plan.compute();
    const comparison = await worker.compare(counted(ACTUAL), versionSource(kept.id), query);
    const { from, to } = comparison.span ?? query.span;
    const hand = { ...query, columns: 'time', grain: 'year', span: { from, to } } as const;
    const byHand = books.value ? undefined : await worker.byHandTable(hand);
    return { query, kept, comparison, byHand };
  },
);

const display = computed(() => displayOf(data.value?.query.measure ?? 'revenue'));

const headline = computed(() => {
  const answer = data.value;
  if (!answer) return 'Actual and budget';
  const { comparison, query } = answer;
  const found = comparisonHeadline(comparison, query.measure, formats.value);
  return query.scope.length > 0 && comparison.total?.variance
    ? `${subjectOf(query.scope)}: ${found.charAt(0).toLowerCase()}${found.slice(1)}`
    : found;
});
const state = computed(() => {
  const answer = data.value;
  if (!answer) return '';
  const { comparison, query, kept } = answer;
  const months = comparison.span ? spanInWords(comparison.span) : spanInWords(query.span);
  const cut = comparison.cut ? `; both through ${longMonth(plan.closedThrough)}` : '';
  return `${measureInWords(query.measure, unit.value, formats.value)}, ${months}, actual${books.value ? ' in the books' : ''} less ${kept.name}${cut}`;
});
/** Months of the window for which the version has nothing: unlike spans are said. */
const uncovered = computed(() => {
  const answer = data.value;
  if (!answer?.comparison.span) return '';
  const { from, to } = answer.comparison.span;
  const months = spanInWords({ from, to });
  const start = answer.kept.from;
  const end = answer.kept.to;
  if (monthFrom(start) <= from && to <= monthFrom(end)) return '';
  return `${answer.kept.name} covers ${spanInWords({ from: monthFrom(start), to: monthFrom(end) })} only; the other months of ${months} have no budget.`;
});

/** The single largest differences, with where they are: what to look at first. */
const largest = computed(() => {
  const above: string[] = [];
  const leaves: { key: string; label: string; where: string; amount: number; bad: boolean }[] = [];
  for (const row of data.value?.comparison.rows ?? []) {
    above.length = row.level;
    if (!row.parent && row.variance) {
      const { amount, judgement } = row.variance;
      const where = above.filter((name, level) => level === 0 || name !== row.label).slice(0, 1);
      leaves.push({
        key: row.key,
        label: row.label,
        where: where.join(),
        amount,
        bad: judgement === 'bad',
      });
    }
    above.push(row.label);
  }
  return leaves.sort((a, b) => Math.abs(b.amount) - Math.abs(a.amount)).slice(0, 8);
});
</script>

<template>
  <RoomPage
    :heading="headline"
    :state="state"
    :failure="failure"
    :shows="['books', 'measure', 'version', 'unit']"
  >
    <template #shown><RowsChoice /></template>
    <template #menu>
      <template v-if="data">
        <FileItems :query="data.query" name="comparison" :version="data.kept.id" />
        <v-list-item
          v-if="planner"
          role="menuitem"
          title="Embed in another page"
          @click="embedding = true"
        />
      </template>
    </template>
    <p v-if="uncovered" class="waits">{{ uncovered }}</p>
    <EmptyState v-if="!version" heading="There is no budget to compare with">
      <p>Save the forecast as a version first; sales are then compared with it.</p>
      <v-btn color="primary" :to="`/w/${plan.workspaceId}/budget`">Go to Budget</v-btn>
    </EmptyState>
    <EmptyFilter
      v-else-if="data && !data.comparison.span"
      heading="No closed months in this period"
      instead="To date"
    >
      <p>Sales are compared up to {{ longMonth(plan.closedThrough) }}.</p>
    </EmptyFilter>
    <EmptyFilter
      v-else-if="data && data.comparison.rows.length === 0"
      heading="No sales and no plan here"
    />
    <template v-else-if="data">
      <div class="beside">
        <div class="grid-place" data-grid="comparison">
          <ComparisonTable
            label="Comparison"
            place="comparison"
            picture="Budget | actual"
            :about="state"
            :comparison="data.comparison"
            :query="data.query"
            :actual="counted(ACTUAL)"
            :against="versionSource(data.kept.id)"
            :against-name="data.kept.name"
            :by-hand="data.byHand"
          />
        </div>
        <aside v-if="largest.length > 0" class="largest" aria-label="Largest differences">
          <h2>Largest differences</h2>
          <ol>
            <li v-for="item in largest" :key="item.key">
              <span>
                {{ item.label }} <span v-if="item.where" class="quiet">{{ item.where }}</span>
              </span>
              <span class="figures" :class="item.bad ? 'bad' : 'good'">
                <span v-if="item.bad" class="diamond" role="img" aria-label="unfavourable:">◇</span
                >{{ formats.signed(item.amount, display, unit) }}
              </span>
            </li>
          </ol>
        </aside>
      </div>
      <EmbedDialog
        v-model="embedding"
        :measured="MEASURES[data.query.measure].name"
        :query="{
          of: 'comparison',
          origin: books ? 'books' : 'all',
          measure: data.query.measure,
          rows: [...data.query.rows],
          version: data.kept.id,
        }"
      />
    </template>
  </RoomPage>
</template>

<style scoped>
.diamond {
  font-size: 11px;
  margin-right: 2px;
}
.beside {
  flex: 1;
  display: flex;
  gap: 18px;
  min-height: 0;
}
.grid-place {
  flex: 1;
  min-width: 0;
  min-height: 0;
}
.largest {
  width: 232px;
  flex: none;
  padding-left: 16px;
  border-left: 1px solid var(--line);
  overflow: auto;
}
@media (max-width: 1100px) {
  .largest {
    width: 184px;
  }
}
.largest ol {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  border-top: 1px solid var(--ink);
}
.largest li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
</style>
