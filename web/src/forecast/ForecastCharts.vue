<script setup lang="ts">
import { ratio, type PartSeries } from '@dravex/core';
import { computed, ref } from 'vue';
import ForecastChart from '../charts/ForecastChart.vue';
import PartsChart from '../charts/PartsChart.vue';
import PriceVolume from '../charts/PriceVolume.vue';
import SmallMultiples from '../charts/SmallMultiples.vue';
import { DASH } from '../format/numbers.ts';
import { columnHeading } from '../format/periods.ts';
import { displayOf } from '../grid/table-rows.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import FunnelView from './FunnelView.vue';
import { loadKnown } from './load-known.ts';
import SubscriptionView from '../subscriptions/SubscriptionView.vue';
import { TEXTS } from './texts.ts';
import { isOfParts, useArrangement } from './use-arrangement.ts';
import { useForecastLine } from './use-tables.ts';
import SheetTable from '../kit/SheetTable.vue';

/** The forecast as a chart: the total, its parts, each by itself, or price against volume. */
const props = defineProps<{
  heading: string;
  /** The total over the columns of time; undefined where there is nothing to draw. */
  total:
    | {
        headings: readonly string[];
        closed: number;
        line: readonly (number | null)[];
        plan?: { name: string; values: readonly (number | null)[] } | undefined;
        lastYear?: readonly (number | null)[] | undefined;
      }
    | undefined;
}>();
const plan = usePlan();
const { formats, unit, calendar, measure, scope, span, grainOfWeeks, books } = useFrame();
const line = useForecastLine();
const { chart, by } = useArrangement();

/** More than these cannot be told apart. */
const MOST = 8;
const MOST_SMALL = 24;
const apart = computed(() => isOfParts(chart.value));
const { data } = useAnswer(
  [apart, chart, by, measure, scope, span, grainOfWeeks, line, () => plan.tick],
  async () => {
    if (!apart.value) return undefined;
    const query = {
      measure: measure.value,
      by: by.value,
      scope: [...scope.value],
      span: { from: span.value.from, to: span.value.to },
      grain: grainOfWeeks.value,
      most: chart.value === 'multiples' ? MOST_SMALL : MOST,
    };
    await loadKnown(plan, line.value, query, books.value);
    const { span: asked, measure: shown } = query;
    return { span: asked, measure: shown, ...(await plan.compute().parts(line.value, query)) };
  },
);
const headings = computed(() => {
  const answer = data.value;
  return (answer?.columns ?? []).map((column) =>
    columnHeading(column, answer?.span ?? span.value, calendar.value.fiscalStart),
  );
});
const closed = computed(
  () =>
    (data.value?.columns ?? []).filter(({ period }) => period && period.to <= plan.closedThrough)
      .length,
);
/** Prices do not add up: they are drawn line by line. */
const kind = computed(() => {
  const wanted = chart.value === 'share' || chart.value === 'stack' ? chart.value : 'lines';
  return data.value?.measure === 'averagePrice' ? 'lines' : wanted;
});
const parts = computed<readonly PartSeries[]>(() => {
  const own = data.value?.parts ?? [];
  if (kind.value !== 'share') return own;
  const whole = headings.value.map((_, column) =>
    own.reduce((sum, { values }) => sum + (values[column] ?? 0), 0),
  );
  return own.map(({ name, values }) => ({
    name,
    values: values.map((value, column) => ratio(value ?? 0, whole[column] ?? 0)),
  }));
});
const show = (value: number): string =>
  kind.value === 'share' && chart.value === 'share'
    ? formats.value.show(value, 'percent')
    : formats.value.show(value, displayOf(data.value?.measure ?? measure.value), unit.value);
/** Lines that cross at every step would fill the chart with words. */
const MOST_MARKS = 4;
const overtakings = computed(() =>
  kind.value === 'lines' ? (data.value?.overtakings ?? []).slice(0, MOST_MARKS) : [],
);
const overtakingWords = computed(() =>
  (data.value?.overtakings ?? []).map(({ over, under, at }) =>
    TEXTS.aboveFromOn(over, under, headings.value[Math.ceil(at)] ?? ''),
  ),
);
const ownScale = ref(false);
const asTable = ref(false);
const label = computed(() => TEXTS.tableHoldsSameNumbers(props.heading));
</script>

<template>
  <ForecastChart
    v-if="chart === 'total' && total"
    v-bind="total"
    :label="TEXTS.tableBelowHoldsSameNumbers(heading)"
    :show="(value: number) => formats.show(value, displayOf(measure), unit)"
  />
  <FunnelView v-else-if="chart === 'funnel'" />
  <SubscriptionView v-else-if="chart === 'subscriptions'" />
  <template v-else-if="apart && data">
    <p v-if="data.parts.length === 0" class="quiet">{{ TEXTS.noDataToShow }}</p>
    <template v-else>
      <div v-if="asTable" class="as-table" tabindex="0">
        <SheetTable :about="TEXTS.chartAsTable">
          <thead>
            <tr>
              <th scope="col">{{ TEXTS.part }}</th>
              <th v-for="one in headings" :key="one" scope="col">{{ one }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="part in parts" :key="part.name">
              <th scope="row">{{ part.name }}</th>
              <td v-for="(value, place) in part.values" :key="place">
                {{ value === null ? DASH : show(value) }}
              </td>
            </tr>
          </tbody>
        </SheetTable>
      </div>
      <div v-else class="drawing" :class="chart">
        <SmallMultiples
          v-if="chart === 'multiples'"
          :headings="headings"
          :closed="closed"
          :parts="data.parts"
          :last-year="data.lastYear"
          :own-scale="ownScale"
          :show="show"
        />
        <PriceVolume
          v-else-if="chart === 'price'"
          :label="label"
          :parts="data.priced"
          :show-units="(value: number) => formats.show(value, 'units', 1)"
          :show-price="(value: number) => formats.show(value, 'price')"
          :units-heading="TEXTS.unitsInPeriod"
          :price-heading="TEXTS.averagePricePerUnit(formats.currency)"
        />
        <PartsChart
          v-else
          :label="label"
          :kind="kind"
          :headings="headings"
          :closed="closed"
          :parts="parts"
          :overtakings="overtakings"
          :show="show"
        />
      </div>
      <p class="foot no-print">
        <v-btn
          v-if="chart !== 'price'"
          variant="plain"
          :aria-pressed="asTable"
          @click="asTable = !asTable"
        >
          {{ asTable ? TEXTS.showAsChart : TEXTS.showAsTable }}
        </v-btn>
        <v-checkbox
          v-if="chart === 'multiples' && !asTable"
          v-model="ownScale"
          :label="TEXTS.ownScaleForEach"
        />
        <span v-if="chart === 'price'" class="quiet">{{ TEXTS.dotIsThisPeriodTick }}</span>
        <span v-else-if="chart === 'lines' && overtakingWords.length > 0" class="quiet">{{
          overtakingWords.join('; ')
        }}</span>
      </p>
    </template>
  </template>
</template>

<style scoped>
.drawing,
.as-table {
  position: relative;
  height: 220px;
  flex: none;
  background: var(--surface);
  border-top: 1px solid var(--ink);
  padding: 2px 4px 4px;
}
.drawing.multiples,
.as-table {
  overflow: auto;
  height: 250px;
}
.foot {
  display: flex;
  gap: 16px;
  align-items: baseline;
  font-size: 12px;
  margin: 0;
}
</style>
