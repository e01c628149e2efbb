<script setup lang="ts">
import {
  inBoth,
  MEASURES,
  monthFrom,
  type ComparisonRow,
  type TraceQuestion,
  ACTUAL,
  versionSource,
} from '@dravex/core';
import { computed } from 'vue';
import { DASH } from '../format/numbers.ts';
import { longMonth, spanInWords } from '../format/periods.ts';
import RowsChoice from '../grid/RowsChoice.vue';
import { displayOf, measureInWords } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import StandElsewhere from '../reporting/StandElsewhere.vue';
import DownloadLink from '../shell/DownloadLink.vue';
import ScopeBar from '../shell/ScopeBar.vue';
import { useFrame } from '../shell/use-frame.ts';
import TracedFigure from '../trace/TracedFigure.vue';
import { comparisonHeadline } from './headline.ts';
import PlanMark from './PlanMark.vue';

const plan = usePlan();
const {
  span,
  scope,
  measure,
  rows: rowCodes,
  rowHeading,
  version,
  unit,
  formats,
  presets,
  subject,
  subjectOf,
  setSpan,
  setScope,
} = useFrame();

const { data, failure } = useAnswer(
  [span, scope, measure, rowCodes, version, () => plan.tick],
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
    return { query, kept, comparison: await plan.compute().compare(versionSource(kept.id), query) };
  },
);

const rows = computed(() => data.value?.comparison.rows ?? []);
const { visible, toggle } = useFolding(rows, 1);
const display = computed(() => displayOf(data.value?.query.measure ?? 'revenue'));
const widest = computed(() =>
  Math.max(0, ...visible.value.map(({ variance }) => Math.abs(variance?.amount ?? 0))),
);

const headline = computed(() => {
  const answer = data.value;
  if (!answer) return 'Actual against budget';
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
  const cut = comparison.cut
    ? `; both sides cut at the end of ${longMonth(plan.closedThrough)}`
    : '';
  return `${measureInWords(query.measure, unit.value, formats.value)}, ${months}, actual less ${kept.name}${cut}`;
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
  return `${answer.kept.name} covers ${spanInWords({ from: monthFrom(start), to: monthFrom(end) })} only; in the other months of ${months} nothing is planned.`;
});

/** The single largest differences, with where they are: what to look at first. */
const largest = computed(() => {
  const above: string[] = [];
  const leaves: { key: string; label: string; where: string; amount: number; bad: boolean }[] = [];
  for (const row of rows.value) {
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

function show(row: ComparisonRow, side: 'actual' | 'plan'): string {
  return formats.value.show(row[side].value, display.value, unit.value);
}
function difference(row: ComparisonRow): string {
  return row.variance ? formats.value.signed(row.variance.amount, display.value, unit.value) : DASH;
}
function percent(row: ComparisonRow): string {
  return row.variance ? formats.value.signed(row.variance.percent, 'percent') : DASH;
}
/** What the trace is asked for one of a row's numbers. */
function ask(row: ComparisonRow, side: 'actual' | 'plan' | 'variance'): TraceQuestion | undefined {
  const answer = data.value;
  const span = answer?.comparison.span;
  if (!answer || !span) return undefined;
  const { query, kept } = answer;
  const scope = inBoth(plan.tree, row.scope, query.scope);
  const asked = { measure: query.measure, scope, span };
  if (side === 'variance') return { kind: 'variance', against: versionSource(kept.id), ...asked };
  return { kind: 'table', source: side === 'actual' ? ACTUAL : versionSource(kept.id), ...asked };
}
</script>

<template>
  <section class="room">
    <ScopeBar :shows="['measure', 'version', 'unit']"><RowsChoice /></ScopeBar>
    <header class="room-head">
      <h1>{{ headline }}</h1>
      <p class="state">{{ state }}</p>
      <p v-if="uncovered" class="waits">{{ uncovered }}</p>
    </header>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <div v-if="!version" class="empty">
      <h2>There is no budget to compare with</h2>
      <p>Keep the forecast as a version first; then actual sales are held against it.</p>
      <RouterLink class="chip" :to="`/w/${plan.workspaceId}/budget`">Go to Budget</RouterLink>
    </div>
    <div v-else-if="data && !data.comparison.span" class="empty">
      <h2>No month of this window is closed</h2>
      <p>
        {{ spanInWords(span) }} is ahead; actual sales are compared up to
        {{ longMonth(plan.closedThrough) }}.
      </p>
      <button
        class="plain"
        type="button"
        @click="setSpan(presets['To date'].from, presets['To date'].to)"
      >
        Show the year to date
      </button>
    </div>
    <div v-else-if="data && data.comparison.rows.length === 0" class="empty">
      <h2>Nothing was sold and nothing was planned here</h2>
      <p>The scope is {{ subject }}.</p>
      <button v-if="scope.length > 0" class="plain" type="button" @click="setScope([])">
        Lift the scope
      </button>
    </div>
    <template v-else-if="data">
      <div class="beside">
        <div
          class="scroll table"
          data-table="comparison"
          tabindex="0"
          role="region"
          aria-label="Comparison"
        >
          <table class="sheet-table">
            <thead>
              <tr>
                <th scope="col"><span class="fold-space" />{{ rowHeading }}</th>
                <th scope="col">Actual</th>
                <th scope="col">Budget</th>
                <th scope="col">Variance</th>
                <th scope="col">in %</th>
                <th scope="col" class="mark-head">plan | actual</th>
                <th class="rest" />
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in visible" :key="row.key" :class="{ outer: row.level === 0 }">
                <td>
                  <span :style="{ paddingLeft: `${row.level * 12}px` }">
                    <button
                      v-if="row.parent"
                      type="button"
                      class="bare fold"
                      :aria-label="`${row.folded ? 'Open' : 'Fold'} ${row.label}`"
                      :aria-expanded="!row.folded"
                      @click="toggle(row.key)"
                    >
                      {{ row.folded ? '▸' : '▾' }}</button><span v-else class="fold-space" />{{
                      row.label
                    }}
                  </span>
                </td>
                <td><TracedFigure :text="show(row, 'actual')" :question="ask(row, 'actual')" /></td>
                <td><TracedFigure :text="show(row, 'plan')" :question="ask(row, 'plan')" /></td>
                <td :class="row.variance?.judgement">
                  <span
                    v-if="row.variance?.judgement === 'bad'"
                    class="diamond"
                    role="img"
                    aria-label="bad:"
                    >◇</span
                  >
                  <TracedFigure :text="difference(row)" :question="ask(row, 'variance')" />
                </td>
                <td :class="row.variance?.judgement">
                  <TracedFigure :text="percent(row)" :question="ask(row, 'variance')" />
                </td>
                <td class="mark">
                  <PlanMark
                    v-if="row.variance"
                    :plan="row.plan.value ?? 0"
                    :actual="row.actual.value ?? 0"
                    :widest="widest"
                    :judgement="row.variance.judgement"
                  />
                </td>
                <td class="rest" />
              </tr>
            </tbody>
            <tfoot v-if="data.comparison.total">
              <tr class="total">
                <td><span class="fold-space" />{{ data.comparison.total.label }}</td>
                <td>
                  <TracedFigure
                    :text="show(data.comparison.total, 'actual')"
                    :question="ask(data.comparison.total, 'actual')"
                  />
                </td>
                <td>
                  <TracedFigure
                    :text="show(data.comparison.total, 'plan')"
                    :question="ask(data.comparison.total, 'plan')"
                  />
                </td>
                <td :class="data.comparison.total.variance?.judgement">
                  <span
                    v-if="data.comparison.total.variance?.judgement === 'bad'"
                    class="diamond"
                    role="img"
                    aria-label="bad:"
                    >◇</span
                  >
                  <TracedFigure
                    :text="difference(data.comparison.total)"
                    :question="ask(data.comparison.total, 'variance')"
                  />
                </td>
                <td :class="data.comparison.total.variance?.judgement">
                  <TracedFigure
                    :text="percent(data.comparison.total)"
                    :question="ask(data.comparison.total, 'variance')"
                  />
                </td>
                <td />
                <td class="rest" />
              </tr>
            </tfoot>
          </table>
        </div>
        <aside v-if="largest.length > 0" class="largest" aria-label="What to look at">
          <h2>What to look at</h2>
          <p class="quiet">The largest single differences</p>
          <ol>
            <li v-for="item in largest" :key="item.key">
              <span>
                {{ item.label }} <span v-if="item.where" class="quiet">{{ item.where }}</span>
              </span>
              <span class="figures" :class="item.bad ? 'bad' : 'good'">
                <span v-if="item.bad" class="diamond" role="img" aria-label="bad:">◇</span
                >{{ formats.signed(item.amount, display, unit) }}
              </span>
            </li>
          </ol>
        </aside>
      </div>
      <div class="files">
        <DownloadLink :query="data.query" name="comparison.csv" :version="data.kept.id" />
        <StandElsewhere
          :measured="MEASURES[data.query.measure].name"
          :query="{
            of: 'comparison',
            measure: data.query.measure,
            rows: [...data.query.rows],
            version: data.kept.id,
          }"
        />
      </div>
    </template>
  </section>
</template>

<style scoped>
.files {
  display: flex;
  gap: 24px;
  align-items: baseline;
}
.fold-space {
  display: inline-block;
  width: 16px;
}
.diamond {
  font-size: 11px;
  margin-right: 2px;
}
.mark-head {
  text-align: center !important;
}
.mark {
  width: 170px;
  padding: 0 10px !important;
}
.rest {
  width: 1%;
}
.beside {
  display: flex;
  gap: 18px;
  min-height: 0;
}
.table {
  flex: 1;
}
.largest {
  width: 232px;
  flex: none;
  padding-left: 16px;
  border-left: 1px solid var(--line);
  overflow: auto;
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
