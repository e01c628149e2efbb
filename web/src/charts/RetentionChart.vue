<script setup lang="ts">
import type { ChartData } from 'chart.js';
import { computed } from 'vue';
import { Line } from 'vue-chartjs';
import { endLabels, FONT, huesNow, timeOptions } from './chart-look.ts';
import { TEXTS } from './texts.ts';
import './register.ts';

/** How many of those who start are left at each age: as observed, as fitted with its band. */
const props = defineProps<{
  label: string;
  /** From age 0 on. */
  observed: readonly (number | null)[];
  fitted: readonly { readonly s: number; readonly low: number; readonly high: number }[];
  /** Cohorts that do worse, each by itself. */
  worse: readonly { readonly name: string; readonly kept: readonly (number | null)[] }[];
  show: (value: number) => string;
}>();
const hues = computed(huesNow);
const BOUNDS = 2;
const data = computed<ChartData<'line'>>(() => {
  const { harbour, thin, ember } = hues.value;
  const bound = { borderWidth: 0, pointRadius: 0, backgroundColor: `${harbour}22` };
  const plain = { pointRadius: 0, pointHoverRadius: 3 };
  return {
    labels: props.observed.map((_, age) => String(age)),
    datasets: [
      { ...bound, data: props.fitted.map(({ low }) => low), fill: false },
      { ...bound, data: props.fitted.map(({ high }) => high), fill: '-1' },
      {
        ...plain,
        label: TEXTS.fitted,
        data: props.fitted.map(({ s }) => s),
        borderColor: harbour,
        borderWidth: 2,
        borderDash: [5, 3],
      },
      {
        ...plain,
        label: TEXTS.observed,
        data: [...props.observed],
        borderColor: thin,
        borderWidth: 2,
      },
      ...props.worse.map(({ name, kept }) => ({
        ...plain,
        label: name,
        data: [...kept],
        borderColor: ember,
        borderWidth: 1.5,
      })),
    ],
  };
});
const options = computed(() => {
  const plain = timeOptions(hues.value, props.show, {}, (name) => name, 120);
  return {
    ...plain,
    scales: {
      ...plain.scales,
      x: {
        ...plain.scales?.['x'],
        title: {
          display: true,
          text: TEXTS.monthsAfterStart,
          color: hues.value.quiet,
          font: FONT,
        },
      },
      y: { ...plain.scales?.['y'], max: 1 },
    },
    plugins: {
      ...plain.plugins,
      tooltip: {
        ...plain.plugins?.tooltip,
        // The bounds of the band are no lines of their own.
        filter: ({ datasetIndex }: { datasetIndex: number }) => datasetIndex >= BOUNDS,
      },
    },
  };
});
const plugin = computed(() => endLabels(() => hues.value));
</script>

<template>
  <Line :aria-label="label" role="img" :data="data" :options="options" :plugins="[plugin]" />
</template>
