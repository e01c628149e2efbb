<script setup lang="ts">
import {
  MEASURES,
  monthText,
  ratio,
  type Span,
  type Table,
  type TraceQuestion,
  FORECAST,
} from '@dravex/core';
import { computed, ref } from 'vue';
import { closedInWords, columnHeading, spanInWords } from '../format/periods.ts';
import type { GridCell, GridRow } from '../grid/plan-grid.ts';
import FiguresGrid from '../grid/FiguresGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import { displayOf, measureInWords } from '../grid/table-rows.ts';
import { useSession } from '../people/use-session.ts';
import { useAnswer } from '../plan/use-answer.ts';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import StandElsewhere from '../reporting/StandElsewhere.vue';
import Choice from '../shell/Choice.vue';
import DownloadLink from '../shell/DownloadLink.vue';
import ScopeBar from '../shell/ScopeBar.vue';
import { useFrame } from '../shell/use-frame.ts';
import { growthOf } from '../trace/nodes.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';
import ViewsChoice from '../views/ViewsChoice.vue';
import ForecastCharts from './ForecastCharts.vue';
import { forecastHeadline } from './headline.ts';
import LevelsChoice from './LevelsChoice.vue';
import NotForecastPanel from './NotForecastPanel.vue';
import MeasuresChoice from './MeasuresChoice.vue';
import MethodPanel from './MethodPanel.vue';
import NewStreams from './NewStreams.vue';
import OverridesPanel from './OverridesPanel.vue';
import { useOverrides } from './use-overrides.ts';
import { CHARTS, useArrangement } from './use-arrangement.ts';
import { alone, useByHand, useFigures, useForecastTotals } from './use-tables.ts';

const plan = usePlan();
const { formats, unit, subject, subjectOf, calendar, setScope, scope, rows, books, counted } =
  useFrame();
const { data, failure: failing } = useForecastTotals();
const arrangement = useArrangement();
const {
  data: grid,
  failure: failingGrid,
  settled,
} = useFigures(() => counted(FORECAST), arrangement);
const failure = computed(() => failing.value || failingGrid.value);

const display = computed(() => displayOf(data.value?.query.measure ?? 'revenue'));

/** The version and last year only count where they cover the whole window. */
const planTotals = computed(() => {
  const answer = data.value;
  const kept = plan.versions.find(({ name }) => name === answer?.plan?.name);
  if (!answer?.plan || !kept) return undefined;
  return { name: answer.plan.name, total: answer.plan.table.total };
});
const against = computed(() => {
  const answer = data.value;
  if (!answer) return null;
  const planned = planTotals.value?.total;
  const covered = planned?.cells.every(({ value }) => value !== null && value !== 0);
  if (planned && covered && planned.total.value) {
    return { name: 'budget', value: planned.total.value };
  }
  const before = answer.lastYear?.total.total.value;
  return before ? { name: 'last year', value: before } : null;
});

const headline = computed(() => {
  const answer = data.value;
  if (!answer) return '';
  return forecastHeadline(
    {
      subject: subjectOf(answer.query.scope),
      many: answer.query.scope.length > 1,
      measure: answer.query.measure,
      value: answer.table.total.total.value,
      span: answer.query.span,
      closedThrough: plan.closedThrough,
      against: against.value,
    },
    formats.value,
  );
});
const state = computed(() => {
  const answer = data.value;
  if (!answer) return '';
  const { measure, span } = answer.query;
  return `${measureInWords(measure, unit.value, formats.value)}, ${spanInWords(span)}, ${closedInWords(span, plan.closedThrough)}${books.value ? ', books only' : ''}; base scenario`;
});

/** A quiet row below the total; its cells are of another year or a ratio. */
function quietRow(key: string, label: string, texts: readonly string[]): GridRow {
  const cells: GridCell[] = texts.map((text) => ({ text, typed: text, dress: 'mixed' }));
  return { key, label, level: 0, parent: false, folded: false, strong: false, cells };
}
const below = computed(() => {
  const answer = data.value;
  if (!answer) return [];
  const { table, lastYear } = answer;
  if (!lastYear || lastYear.columns.length !== table.columns.length) return [];
  // Beside several measures it would not be clear of which these are.
  const { measures, across } = arrangement;
  if (across.value || measures.value.length > 1 || measures.value[0] !== answer.query.measure)
    return [];
  const now = [table.total.total, ...table.total.cells];
  const before = [lastYear.total.total, ...lastYear.total.cells];
  return [
    quietRow(
      'last-year',
      'Last year',
      before.map(({ value }) => formats.value.show(value, display.value, unit.value)),
    ),
    quietRow(
      'growth',
      'Growth',
      now.map(({ value }, index) => {
        const then = before[index]?.value ?? null;
        const growth = value === null || then === null ? null : ratio(value - then, Math.abs(then));
        return formats.value.show(growth, 'percent');
      }),
    ),
  ];
});

/** Last year's number and the growth, explained by the two years. */
function askBelow(row: string, place: number, { from, to }: Span): Asked | undefined {
  const answer = data.value;
  if (!answer?.lastYear) return undefined;
  const { measure, scope: asked } = answer.query;
  const question = (span: Span): TraceQuestion => ({
    kind: 'table',
    source: counted(FORECAST),
    measure,
    scope: asked,
    span,
  });
  const now = { from, to };
  const before = { from: from - 12, to: to - 12 };
  if (row === 'last-year') return questioned(question(before));
  const valueIn = ({ total }: Table): number | null =>
    (place === 0 ? total.total : total.cells[place - 1])?.value ?? null;
  const node = growthOf(
    'Growth on last year',
    { label: spanInWords(now), value: valueIn(answer.table), question: question(now) },
    { label: spanInWords(before), value: valueIn(answer.lastYear), question: question(before) },
    display.value,
  );
  return { kind: 'node', node, about: measureInWords(measure, 1, formats.value) };
}

const chart = computed(() => {
  const answer = data.value;
  if (!answer || answer.query.columns !== 'time' || answer.table.columns.length < 2)
    return undefined;
  const { table, lastYear } = answer;
  const values = (cells: readonly { value: number | null }[]): (number | null)[] =>
    cells.map(({ value }) => value);
  const planned = planTotals.value;
  const plannedValues = planned?.total.cells.map(({ value }) => (value === 0 ? null : value));
  return {
    headings: table.columns.map((c) =>
      columnHeading(c, answer.query.span, calendar.value.fiscalStart),
    ),
    closed: table.columns.filter(({ period }) => period && period.to <= plan.closedThrough).length,
    line: values(table.total.cells),
    plan:
      planned && plannedValues?.some((value) => value !== null)
        ? { name: planned.name, values: plannedValues }
        : undefined,
    lastYear:
      lastYear && lastYear.columns.length === table.columns.length
        ? values(lastYear.total.cells)
        : undefined,
  };
});

const dimensions = computed(() =>
  (plan.workspace?.plan.dimensions ?? []).map(({ code, name }) => ({
    value: code,
    name: name.toLowerCase(),
  })),
);

const session = useSession();
const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');
const notForecast = useAnswer([() => plan.tick], () => plan.compute().notForecast());
const proposing = ref('');
const making = ref(false);
const beginning = ref(false);
const unforecast = computed(() => notForecast.data.value ?? []);
/** Makes streams for what is sold and not forecast; it can be taken back. */
async function propose(combinations: number[]): Promise<void> {
  proposing.value = '';
  making.value = true;
  try {
    const path = plan.path('/streams/from-sales');
    const { streams } = await plan.save(() =>
      request<{ streams: number }>('POST', path, { combinations }),
    );
    await plan.inLine(plan.catchUp);
    plan.said = { text: `${streams} streams were made from what was sold; Ctrl+Z takes them back` };
    await open('');
  } catch (error) {
    proposing.value = inWords(error);
  } finally {
    making.value = false;
  }
}

const { message, failed, refused, waiting, doubts, settle, why, edit, drop } =
  useOverrides(settled);
/** Totals of money and units are typed over; everything else follows from them. */
const editable = computed(
  () =>
    planner.value &&
    (grid.value?.query.measures.some((code) => code === 'revenue' || code === 'units') ?? false),
);
const { panel, turnPanel: open } = arrangement;
const streams = useAnswer([panel, scope, () => plan.tick], async () =>
  panel.value === 'methods' ? plan.compute().streamsIn(scope.value) : [],
);
const overrides = useAnswer([() => plan.tick], () => plan.compute().overrides());
const typedOver = computed(() => overrides.data.value ?? []);
const byHand = useByHand(grid);
/** How many cells below each number of the table are typed over: they bear a mark. */
const typedTable = useAnswer([() => grid.value?.query, overrides.data], async () => {
  const query = grid.value?.query;
  if (!query || typedOver.value.length === 0) return undefined;
  return plan.compute().overridesTable(alone(query, 'units'));
});
const empty = computed(() => grid.value && grid.value.table.rows.length === 0);
const levels = computed(
  () => Math.max(0, ...(grid.value?.table.rows ?? []).map((r) => r.level)) + 1,
);
</script>

<template>
  <section class="room">
    <ScopeBar :shows="['version', 'books', 'grain', 'unit']"
      ><RowsChoice
        with-columns
        :across="arrangement.across.value"
        @across="arrangement.setAcross" /><MeasuresChoice
    /></ScopeBar>
    <header class="room-head">
      <h1>{{ headline }}</h1>
      <p class="state">{{ state }}</p>
    </header>
    <p v-if="failure || proposing" class="failure" role="alert">{{ failure || proposing }}</p>
    <p v-if="unforecast.length > 0" class="waits no-print">
      {{ unforecast.length }}
      {{ unforecast.length === 1 ? 'combination was' : 'combinations were' }} sold in the last
      twelve closed months and {{ unforecast.length === 1 ? 'is' : 'are' }} not forecast.
      <button type="button" class="link" @click="open('loose')">Which?</button>{{ ' ' }}
      <button
        v-if="planner"
        type="button"
        class="link"
        :disabled="making"
        @click="propose(unforecast.map(({ combination }) => combination))"
      >
        Make streams of them
      </button>
    </p>
    <div v-if="empty" class="empty">
      <h2>Nothing was sold and nothing is forecast here</h2>
      <p v-if="scope.length > 0">The scope is {{ subject }}.</p>
      <p v-else>There are no sales lines and no streams in this window.</p>
      <button v-if="scope.length > 0" class="plain" type="button" @click="setScope([])">
        Lift the scope
      </button>
    </div>
    <template v-else-if="data">
      <ForecastCharts v-if="panel !== 'methods'" :heading="headline" :total="chart" />
      <div class="controls no-print">
        <button
          type="button"
          class="chip"
          :aria-pressed="panel === 'methods'"
          @click="open('methods')"
        >
          Methods
        </button>
        <button v-if="planner" type="button" class="chip" @click="beginning = true">
          + streams
        </button>
        <button type="button" class="chip" :aria-pressed="panel === 'typed'" @click="open('typed')">
          {{
            typedOver.length === 0
              ? 'Nothing is typed over'
              : `${typedOver.length} cells typed over`
          }}
        </button>
        <Choice
          about="Chart"
          :label="CHARTS.find(({ value }) => value === arrangement.chart.value)?.name ?? ''"
          :options="CHARTS"
          :chosen="arrangement.chart.value"
          @choose="arrangement.setChart"
        />
        <Choice
          v-if="!['total', 'funnel', 'none'].includes(arrangement.chart.value)"
          about="Parts by"
          :label="`by ${dimensions.find(({ value }) => value === arrangement.by.value)?.name ?? ''}`"
          :options="dimensions"
          :chosen="arrangement.by.value"
          @choose="arrangement.setBy"
        />
        <ViewsChoice room="forecast" />
        <LevelsChoice :levels="levels" />
        <button
          type="button"
          class="chip"
          :aria-pressed="arrangement.empty.value"
          @click="arrangement.setEmpty(!arrangement.empty.value)"
        >
          Empty rows
        </button>
        <input
          v-if="editable"
          v-model="why"
          class="why"
          maxlength="500"
          placeholder="why the next number is typed over"
          aria-label="Why it is typed over"
        />
        <p class="message" :class="{ failure: failed }" :role="failed ? 'alert' : 'status'">
          {{ message }}
        </p>
      </div>
      <TypedQuestion :doubts="doubts" @settle="settle" />
      <div class="grid-place" data-grid="forecast">
        <div class="fill">
          <FiguresGrid
            v-if="grid"
            label="Forecast"
            :about="state"
            dress="forecast"
            :source="grid.source"
            :table="grid.table"
            :query="grid.query"
            :entries="typedTable.data.value"
            :by-hand="byHand.data.value"
            :editable="editable"
            :refused="refused"
            :waiting="waiting"
            :below="below"
            :pinned="arrangement.pinned.value"
            :depth="arrangement.depth.value"
            :ask-below="askBelow"
            @pin="arrangement.togglePin"
            @edit="edit"
          />
        </div>
        <MethodPanel
          v-if="panel === 'methods'"
          class="no-print"
          :lines="streams.data.value ?? []"
          :editable="planner"
          :typed-over="typedOver.length"
          @close="open('')"
        />
        <NotForecastPanel
          v-if="panel === 'loose'"
          class="no-print"
          :lines="unforecast"
          :editable="planner"
          :busy="making"
          @make="propose"
          @close="open('')"
        />
        <OverridesPanel
          v-if="panel === 'typed'"
          class="no-print"
          :lines="typedOver"
          :editable="planner"
          @drop="drop"
          @close="open('')"
        />
      </div>
      <div class="files no-print">
        <DownloadLink v-if="grid" :query="grid.query" name="table/measured" />
        <StandElsewhere
          :measured="MEASURES[data.query.measure].name"
          :query="{
            of: 'forecast',
            origin: books ? 'books' : 'all',
            measure: data.query.measure,
            rows: [...rows],
            columns: data.query.columns,
            grain: data.query.grain,
          }"
        />
        <span class="quiet">
          Whole units for supply planning, by
          <a
            v-for="grain in ['week', 'month', 'quarter']"
            :key="grain"
            class="file"
            :href="`/api${plan.path(`/supply.csv?from=${monthText(data.query.span.from)}&to=${monthText(data.query.span.to)}&grain=${grain}`)}`"
            download
            >{{ grain }}</a
          >
        </span>
      </div>
    </template>
    <NewStreams v-model="beginning" @made="setScope" />
  </section>
</template>

<style scoped>
.files {
  display: flex;
  align-items: baseline;
  gap: 24px;
  font-size: 12px;
}
.file {
  margin-right: 8px;
}
.grid-place {
  flex: 1;
  min-height: 120px;
  display: flex;
  gap: 12px;
}
.fill {
  flex: 1;
  min-width: 0;
}
.why {
  flex: 1 1 120px;
  min-width: 0;
  max-width: 220px;
}
.message {
  margin-left: auto;
  font-size: 12px;
  color: var(--ink-quiet);
}
.message.failure {
  color: var(--bad);
}
</style>
