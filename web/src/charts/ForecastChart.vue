<script setup lang="ts">
import type { ChartData } from 'chart.js';
import { computed } from 'vue';
import { Line } from 'vue-chartjs';
import { WORDS } from '../format/words.ts';
import { closedBox, dashedFrom, endLabels, huesNow, timeOptions } from './chart-look.ts';
import './register.ts';

/** A line over time: the books solid, the forecast dashed in the same hue. */
const props = defineProps<{
  label: string;
  headings: readonly string[];
  /** How many of the columns are closed. */
  closed: number;
  line: readonly (number | null)[];
  /** What the open part of the line is called; a forecast when left out. */
  name?: string;
  plan?: { name: string; values: readonly (number | null)[] } | undefined;
  lastYear?: readonly (number | null)[] | undefined;
  /** Between which values it will probably lie, and how probably in words. */
  band?:
    | {
        name: string;
        low: readonly (number | null)[];
        high: readonly (number | null)[];
      }
    | undefined;
  show: (value: number) => string;
}>();

const hues = computed(huesNow);
const own = computed(() => props.name ?? WORDS.forecast);

const data = computed<ChartData<'line'>>(() => {
  const plain = { pointRadius: 0, pointHoverRadius: 3, tension: 0 };
  const { harbour, ember, thin } = hues.value;
  const datasets: ChartData<'line'>['datasets'] = [
    {
      ...plain,
      label: own.value,
      data: [...props.line],
      borderColor: harbour,
      borderWidth: 2.5,
      order: 1,
      segment: dashedFrom(props.closed),
    },
  ];
  if (props.plan) {
    datasets.push({
      ...plain,
      label: props.plan.name,
      data: [...props.plan.values],
      borderColor: ember,
      borderWidth: 1.5,
      stepped: 'middle',
      order: 2,
    });
  }
  if (props.lastYear) {
    datasets.push({
      ...plain,
      label: WORDS.lastYear,
      data: [...props.lastYear],
      borderColor: thin,
      borderWidth: 1.2,
      order: 3,
    });
  }
  if (props.band) {
    const edge = { ...plain, borderWidth: 0, pointHoverRadius: 0, order: 4 };
    datasets.push(
      { ...edge, data: [...props.band.low], borderColor: 'transparent' },
      {
        ...edge,
        data: [...props.band.high],
        borderColor: 'transparent',
        backgroundColor: `${harbour}26`,
        fill: '-1',
      },
    );
  }
  return { labels: [...props.headings], datasets };
});

const labels = endLabels(() => hues.value);
const options = computed(() =>
  timeOptions(
    hues.value,
    props.show,
    closedBox(props.closed, props.headings.length, hues.value),
    (name, index) => (name === own.value && index < props.closed ? WORDS.actual : name),
  ),
);
</script>

<template>
  <div class="chart">
    <Line :aria-label="label" :data="data" :options="options" :plugins="[labels]" />
  </div>
</template>

<style scoped>
.chart {
  position: relative;
  height: 158px;
  flex: none;
  background: var(--surface);
  border-top: 1px solid var(--ink);
  padding: 2px 4px 4px;
}
</style>
