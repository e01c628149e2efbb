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
import { computed, ref } from 'vue';
import { DASH } from '../format/numbers.ts';
import { longMonth, spanInWords } from '../format/periods.ts';
import {
  cellsOnDemand,
  type Dress,
  type GridCell,
  type GridColumn,
  type GridPlace,
  type GridRow,
} from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import { displayOf, measureInWords, typedCell } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { inOrder, useRowOrder } from '../grid/use-order.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import EmptyState from '../kit/EmptyState.vue';
import { usePlanner } from '../people/use-planner.ts';
import EmbedDialog from '../reporting/EmbedDialog.vue';
import EmptyFilter from '../shell/EmptyFilter.vue';
import FileItems from '../shell/FileItems.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import { growthOf } from '../trace/nodes.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';
import { comparisonHeadline } from './headline.ts';

const plan = usePlan();
const {
  span,
  scope,
  measure,
  rows: rowCodes,
  rowHeading,
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

/** Columns by key, with what the trace is asked for their numbers. */
const COLUMNS = {
  actual: 'actual',
  plan: 'plan',
  variance: 'variance',
  percent: 'variance',
  mark: 'variance',
} as const;
type ColumnKey = keyof typeof COLUMNS;
const all = computed(() => data.value?.comparison.rows ?? []);
const { order, turnOrder, arrowOf } = useRowOrder();
const rows = computed(() =>
  inOrder(all.value, order.value, (row, column) => sizeOf(row, column as ColumnKey)),
);
const { visible, toggle, unfold } = useFolding(rows, 1, 'comparison');
const display = computed(() => displayOf(data.value?.query.measure ?? 'revenue'));
const widest = computed(() =>
  Math.max(0, ...visible.value.map(({ variance }) => Math.abs(variance?.amount ?? 0))),
);

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

function sizeOf(
  { actual, plan: planned, variance }: ComparisonRow,
  column: ColumnKey,
): number | null {
  switch (column) {
    case 'actual':
      return actual.value;
    case 'plan':
      return planned.value;
    case 'percent':
      return variance?.percent ?? null;
    default:
      return variance?.amount ?? null;
  }
}
const columns = computed<GridColumn[]>(() => {
  const head = (key: ColumnKey, heading: string, part: Partial<GridColumn> = {}): GridColumn => ({
    key,
    heading,
    size: 96,
    ...arrowOf(key),
    ...part,
  });
  return [
    head('actual', 'Actual', { closed: true }),
    head('plan', data.value?.kept.name ?? 'Budget'),
    head('variance', 'Variance'),
    head('percent', 'in %'),
    head('mark', 'Budget | actual', { size: 112, align: 'center' }),
  ];
});
/** The rows whose actual sales were entered by hand only. */
const handRows = computed(
  () =>
    new Set(
      data.value?.byHand?.rows.flatMap(({ key, total }) => ((total.value ?? 0) > 0 ? [key] : [])),
    ),
);
function toRow(row: ComparisonRow & { folded?: boolean }, strong: boolean): GridRow {
  const now = formats.value;
  const [shown, size] = [display.value, unit.value];
  const scale = widest.value;
  const byHand = handRows.value;
  const { variance } = row;
  const number = (value: number | null, dress: Dress): GridCell => ({
    text: now.show(value, shown, size),
    ...typedCell(value, shown, size, now),
    dress,
    title: now.full(value, shown),
  });
  return {
    key: row.key,
    label: row.label,
    level: row.level,
    parent: row.parent,
    folded: row.folded ?? false,
    strong,
    cells: cellsOnDemand(5, (index): GridCell => {
      const judged = variance ? { judgement: variance.judgement } : {};
      switch (index) {
        case 0:
          return number(row.actual.value, byHand.has(row.key) ? 'typed' : 'books');
        case 1:
          return number(row.plan.value, 'kept');
        case 2: {
          const cell = number(variance?.amount ?? null, 'plain');
          return {
            ...cell,
            ...judged,
            text: variance ? now.signed(variance.amount, shown, size) : DASH,
          };
        }
        case 3: {
          const percent = variance?.percent ?? null;
          const text = variance ? now.signed(percent, 'percent') : DASH;
          return { ...typedCell(percent, 'percent', 1, now), ...judged, text, dress: 'plain' };
        }
        default: {
          const mark = variance && {
            kind: 'difference' as const,
            should: row.plan.value ?? 0,
            is: row.actual.value ?? 0,
            widest: scale,
          };
          return { text: '', typed: '', dress: 'plain', ...(mark ? { mark } : {}) };
        }
      }
    }),
  };
}
const gridRows = computed(() => visible.value.map((row) => toRow(row, row.level === 0)));
const totals = computed(() => {
  const total = data.value?.comparison.total;
  return total ? [toRow({ ...total, parent: false }, true)] : [];
});
/** What the trace is asked for a number. */
function ask({ row: key, column }: GridPlace): Asked | undefined {
  const answer = data.value;
  const span = answer?.comparison.span;
  const { total = null } = answer?.comparison ?? {};
  const row = total?.key === key ? total : all.value.find((one) => one.key === key);
  if (!answer || !span || !row) return undefined;
  const side = COLUMNS[column as ColumnKey];
  const { query, kept } = answer;
  const scope = inBoth(plan.tree, row.scope, query.scope);
  const asked = { measure: query.measure, scope, span };
  const against = versionSource(kept.id);
  const actual: TraceQuestion = { kind: 'table', source: counted(ACTUAL), ...asked };
  const planned: TraceQuestion = { kind: 'table', source: against, ...asked };
  if (column === 'percent') {
    const node = growthOf(
      `Difference from ${kept.name}`,
      { label: 'Actual', value: row.actual.value, question: actual },
      { label: kept.name, value: row.plan.value, question: planned },
      display.value,
    );
    const what = measureInWords(query.measure, 1, formats.value);
    return { kind: 'node', node, about: `${what}, ${spanInWords(span)}` };
  }
  const part = books.value ? { books: true as const } : {};
  if (side === 'variance') return questioned({ kind: 'variance', against, ...part, ...asked });
  return questioned(side === 'actual' ? actual : planned);
}
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
          <PlanGrid
            label="Comparison"
            :about="state"
            :heading="rowHeading"
            :columns="columns"
            :rows="gridRows"
            :totals="totals"
            sortable
            :ask="ask"
            :findable="rows"
            @toggle="toggle"
            @unfold="unfold"
            @order="turnOrder"
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
