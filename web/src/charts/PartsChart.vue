<script setup lang="ts">
import type { ChartData } from 'chart.js';
import type { AnnotationOptions } from 'chartjs-plugin-annotation';
import { computed } from 'vue';
import { Line } from 'vue-chartjs';
import {
  closedBox,
  dashedFrom,
  endLabels,
  FONT,
  huesNow,
  seriesHues,
  timeOptions,
} from './chart-look.ts';
import type { Overtaking, PartSeries } from '@dravex/core';
import { TEXTS } from './texts.ts';
import './register.ts';

/** Parts of a whole over time: stacked to their total, as shares of it, or line by line. */
const props = defineProps<{
  label: string;
  kind: 'stack' | 'share' | 'lines';
  headings: readonly string[];
  closed: number;
  parts: readonly PartSeries[];
  overtakings?: readonly Overtaking[] | undefined;
  show: (value: number) => string;
}>();

const hues = computed(huesNow);
const stacked = computed(() => props.kind !== 'lines');
const data = computed<ChartData<'line'>>(() => {
  const colours = seriesHues();
  return {
    labels: [...props.headings],
    datasets: props.parts.map(({ name, values }, place) => {
      const hue = colours[place % colours.length] ?? hues.value.ink;
      return {
        label: name,
        data: [...values],
        borderColor: hue,
        borderWidth: stacked.value ? 1 : 2,
        pointRadius: 0,
        pointHoverRadius: 3,
        segment: dashedFrom(props.closed),
        ...(stacked.value
          ? { fill: place === 0 ? 'origin' : '-1', backgroundColor: `${hue}30` }
          : {}),
      };
    }),
  };
});

/** The month in which a line gets above another, marked where they cross. */
function marks(): Record<string, AnnotationOptions> {
  const found = (props.overtakings ?? []).map(
    ({ over, under, at }, place): [string, AnnotationOptions] => [
      `over${place}`,
      {
        type: 'line',
        xMin: at,
        xMax: at,
        borderColor: hues.value.ember,
        borderWidth: 1,
        borderDash: [2, 3],
        label: {
          display: true,
          content: TEXTS.over(over, under, props.headings[Math.ceil(at)] ?? ''),
          position: place % 2 === 0 ? 'start' : '82%',
          backgroundColor: hues.value.surface,
          color: hues.value.ember,
          font: FONT,
          padding: 2,
        },
      },
    ],
  );
  return Object.fromEntries(found);
}
const options = computed(() => {
  const annotations = {
    ...closedBox(props.closed, props.headings.length, hues.value),
    ...marks(),
  };
  const plain = timeOptions(hues.value, props.show, annotations, (name) => name, 150);
  const y = { ...plain.scales?.['y'], stacked: stacked.value };
  return {
    ...plain,
    scales: { ...plain.scales, y: props.kind === 'share' ? { ...y, max: 1 } : y },
  };
});
const plugin = computed(() => endLabels(() => hues.value, stacked.value));
</script>

<template>
  <Line :key="kind" :aria-label="label" :data="data" :options="options" :plugins="[plugin]" />
</template>
