<script setup lang="ts">
import { notForecastInWords, stillSold } from '../format/not-forecast.ts';
import { forecastOperations, reportingOperations } from '@dravex/contract';
import { MEASURES, monthText } from '@dravex/core';
import { computed, ref } from 'vue';
import { WORDS } from '../format/words.ts';
import FiguresGrid from '../grid/FiguresGrid.vue';
import RowsChoice from '../grid/RowsChoice.vue';
import Choice from '../kit/Choice.vue';
import { usePlanner } from '../people/use-planner.ts';
import TypedQuestion from '../plan/TypedQuestion.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import EmbedDialog from '../reporting/EmbedDialog.vue';
import { addressOf } from '../shell/client.ts';
import EmptyFilter from '../shell/EmptyFilter.vue';
import FileItem from '../shell/FileItem.vue';
import FileItems from '../shell/FileItems.vue';
import RoomPage from '../shell/RoomPage.vue';
import { useFrame } from '../shell/use-frame.ts';
import ViewsChoice from '../views/ViewsChoice.vue';
import { useWork } from '../writing/use-work.ts';
import { useWriting } from '../writing/use-writing.ts';
import ForecastCharts from './ForecastCharts.vue';
import LevelsChoice from './LevelsChoice.vue';
import LikeDialog from './LikeDialog.vue';
import MeasuresChoice from './MeasuresChoice.vue';
import MethodPanel from './MethodPanel.vue';
import NewStreams from './NewStreams.vue';
import NextSteps from './NextSteps.vue';
import NotForecastPanel from './NotForecastPanel.vue';
import OverridesPanel from './OverridesPanel.vue';
import { TEXTS } from './texts.ts';
import { CHARTS, isOfParts, useArrangement } from './use-arrangement.ts';
import { useOverrides } from './use-overrides.ts';
import { useForecastPage } from './use-page.ts';
import { alone, useByHand, useFigures, useForecastLine } from './use-tables.ts';

const plan = usePlan();
const planner = usePlanner();
const { setScope, scope, rows, books, grainOfWeeks } = useFrame();
const line = useForecastLine();
const arrangement = useArrangement();
const {
  data,
  failure: failing,
  headline,
  state,
  chart,
  below,
  askBelow,
} = useForecastPage(arrangement);
const { data: grid, failure: failingGrid, settled } = useFigures(() => line.value, arrangement);

const dimensions = computed(() =>
  (plan.workspace?.plan.dimensions ?? []).map(({ code, name }) => ({
    value: code,
    name: name.toLowerCase(),
  })),
);
const GRAINS = ['week', 'month', 'quarter'] as const;
const supplyAs = (grain: (typeof GRAINS)[number]): string => {
  const { from, to } = data.value?.query.span ?? { from: 0, to: 0 };
  const months = { from: monthText(from), to: monthText(to) };
  const inputs = { workspaceId: plan.workspaceId, format: 'csv', grain, ...months };
  return `/api${addressOf(reportingOperations.saveSupply, inputs)}`;
};

const beginning = ref(false);
const beginningLike = ref(false);
function beginLike(): void {
  beginning.value = false;
  beginningLike.value = true;
}
const embedding = ref(false);
const notForecast = useAnswer([() => plan.tick], () => plan.compute().notForecast());
const unforecast = computed(() => notForecast.data.value ?? []);
const toForecast = computed(() => stillSold(unforecast.value));
const { busy: making, failure: refusing, write } = useWriting();
const work = useWork();
const countOf = (lines: number): string =>
  TEXTS.forecastLinesOf(lines, lines.toLocaleString(plan.locale));
/** Adds forecast lines for what is sold and not forecast; it can be undone. */
const propose = (combinations: number[]) =>
  write(
    () =>
      work.during(TEXTS.creating(countOf(combinations.length)), (said) =>
        plan.ask(
          forecastOperations.proposeStreams,
          {},
          { combinations },
          { onShare: (share) => (said.share = share) },
        ),
      ),
    ({ streams }) => {
      plan.said = {
        text: TEXTS.added(countOf(streams)),
        undo: 'forecast',
      };
      return open('');
    },
  );

const { message, failed, refused, waiting, doubts, settle, why, edit, drop } =
  useOverrides(settled);
/** Totals of money and units are typed over; everything else follows from them. */
const editable = computed(
  () =>
    planner.value &&
    // Months are planned; weeks are read.
    grid.value?.query.grain !== 'week' &&
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
/** Whether closed months show the forecast that was kept of them. */
const kept = computed(() => plan.workspace?.closedMonths === 'instead');
const empty = computed(() => grid.value && grid.value.table.rows.length === 0);
const levels = computed(
  () => Math.max(0, ...(grid.value?.table.rows ?? []).map((r) => r.level)) + 1,
);
</script>

<template>
  <RoomPage
    :heading="headline"
    :state="state"
    :failure="failing || failingGrid || refusing"
    :shows="['version', 'books', 'weeks', 'unit']"
  >
    <template #shown>
      <RowsChoice with-columns :across="arrangement.across.value" @across="arrangement.setAcross" />
      <MeasuresChoice />
      <ViewsChoice room="forecast" />
    </template>
    <template #actions>
      <v-btn
        color="primary"
        variant="flat"
        :aria-pressed="panel === 'methods'"
        @click="open('methods')"
      >
        {{ TEXTS.methods }}
      </v-btn>
      <v-btn v-if="planner" color="primary" @click="beginning = true">{{
        TEXTS.addForecastLines
      }}</v-btn>
      <v-btn color="primary" :aria-pressed="panel === 'typed'" @click="open('typed')">
        {{ typedOver.length === 0 ? TEXTS.noOverrides : TEXTS.overrides(typedOver.length) }}
      </v-btn>
    </template>
    <template #menu>
      <FileItems v-if="grid" :query="grid.query" name="table/measured" :kept="kept" />
      <FileItem
        v-for="grain in data ? GRAINS : []"
        :key="grain"
        :title="TEXTS.wholeUnitsForSupplyPlanning(grain)"
        :address="supplyAs(grain)"
      />
      <v-list-item
        v-if="planner && data"
        role="menuitem"
        :title="WORDS.embedInAnotherPage"
        @click="embedding = true"
      />
    </template>
    <NextSteps />
    <p
      v-if="unforecast.length > 0"
      class="no-print"
      :class="toForecast.length > 0 ? 'waits' : 'quiet'"
    >
      {{ notForecastInWords(unforecast) }}.
      <v-btn variant="plain" @click="open('loose')">{{ TEXTS.show }}</v-btn>{{
        planner && toForecast.length > 0 ? ' or ' : ''
      }}
      <v-btn
        v-if="planner && toForecast.length > 0"
        variant="plain"
        :disabled="making"
        @click="propose(toForecast.map(({ combination }) => combination))"
      >
        {{
          toForecast.length < unforecast.length
            ? TEXTS.addForecastLinesForThose
            : TEXTS.addForecastLinesForAll
        }}
      </v-btn>
    </p>
    <EmptyFilter v-if="empty" :heading="TEXTS.noSalesAndNoForecast" />
    <template v-else-if="data">
      <ForecastCharts v-if="panel !== 'methods'" :heading="headline" :total="chart" />
      <div class="controls no-print">
        <Choice
          :about="TEXTS.chart"
          :label="CHARTS.find(({ value }) => value === arrangement.chart.value)?.name ?? ''"
          :options="CHARTS"
          :chosen="arrangement.chart.value"
          @choose="arrangement.setChart"
        />
        <Choice
          v-if="isOfParts(arrangement.chart.value)"
          :about="TEXTS.partsBy"
          :label="
            TEXTS.by(dimensions.find(({ value }) => value === arrangement.by.value)?.name ?? '')
          "
          :options="dimensions"
          :chosen="arrangement.by.value"
          @choose="arrangement.setBy"
        />
        <LevelsChoice :levels="levels" />
        <v-btn
          :aria-pressed="arrangement.empty.value"
          @click="arrangement.setEmpty(!arrangement.empty.value)"
        >
          {{ TEXTS.emptyRows }}
        </v-btn>
        <p class="message" :class="{ failure: failed }" :role="failed ? 'alert' : 'status'">
          {{ message }}
        </p>
        <v-text-field
          v-if="editable"
          v-model="why"
          maxlength="500"
          width="200"
          :placeholder="TEXTS.reasonForNextOverride"
          :aria-label="TEXTS.reasonForOverride"
        />
      </div>
      <TypedQuestion :doubts="doubts" @settle="settle" />
      <div class="grid-place" data-grid="forecast">
        <div class="fill">
          <FiguresGrid
            v-if="grid"
            :label="WORDS.forecast"
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
          :lines="streams.data.value ?? []"
          :editable="planner"
          :typed-over="typedOver.length"
          @close="open('')"
        />
        <NotForecastPanel
          v-if="panel === 'loose'"
          :lines="unforecast"
          :editable="planner"
          :busy="making"
          @make="propose"
          @close="open('')"
        />
        <OverridesPanel
          v-if="panel === 'typed'"
          :lines="typedOver"
          :editable="planner"
          @drop="drop"
          @close="open('')"
        />
      </div>
      <EmbedDialog
        v-model="embedding"
        :measured="MEASURES[data.query.measure].name"
        :query="{
          of: 'forecast',
          origin: books ? 'books' : 'all',
          measure: data.query.measure,
          rows: [...rows],
          columns: data.query.columns,
          grain: grainOfWeeks,
          closed: kept ? 'kept' : 'actual',
        }"
      />
    </template>
    <NewStreams v-model="beginning" @made="setScope" @like="beginLike" />
    <LikeDialog v-model="beginningLike" @made="setScope" />
  </RoomPage>
</template>

<style scoped>
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
.message {
  margin-left: auto;
  font-size: 12px;
  color: var(--ink-quiet);
}
.message.failure {
  color: var(--bad);
}
</style>
