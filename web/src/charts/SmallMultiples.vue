<script setup lang="ts">
import type { ChartData } from 'chart.js';
import { computed } from 'vue';
import { Line } from 'vue-chartjs';
import { WORDS } from '../format/words.ts';
import { closedBox, dashedFrom, FONT, huesNow, seriesHues, timeOptions } from './chart-look.ts';
import type { PartSeries } from '@dravex/core';
import { TEXTS } from './texts.ts';
import './register.ts';

/** One small chart a part, all on the same scale or each on its own. */
const props = defineProps<{
  headings: readonly string[];
  closed: number;
  parts: readonly PartSeries[];
  /** The same parts a year before. */
  lastYear: readonly PartSeries[];
  ownScale: boolean;
  show: (value: number) => string;
}>();

const hues = computed(huesNow);
const highest = computed(() =>
  Math.max(
    0,
    ...[...props.parts, ...props.lastYear].flatMap(({ values }) => values.map((v) => v ?? 0)),
  ),
);
const dataOf = ({ name, values }: PartSeries): ChartData<'line'> => {
  const before = props.lastYear.find((one) => one.name === name);
  const [harbour = hues.value.harbour] = seriesHues();
  const line = { pointRadius: 0, pointHoverRadius: 3 };
  return {
    labels: [...props.headings],
    datasets: [
      {
        ...line,
        label: name,
        data: [...values],
        borderColor: harbour,
        borderWidth: 2,
        segment: dashedFrom(props.closed),
      },
      ...(before
        ? [
            {
              ...line,
              label: WORDS.lastYear,
              data: [...before.values],
              borderColor: hues.value.thin,
              borderWidth: 1.2,
            },
          ]
        : []),
    ],
  };
};
const options = computed(() => {
  const box = closedBox(props.closed, props.headings.length, hues.value, '');
  const plain = timeOptions(hues.value, props.show, box, (name) => name, 8);
  const { x, y } = plain.scales ?? {};
  return {
    ...plain,
    scales: {
      x: { ...x, ticks: { ...x?.ticks, font: FONT, maxTicksLimit: 3 } },
      y: {
        ...y,
        ticks: { ...y?.ticks, maxTicksLimit: 3 },
        ...(props.ownScale ? {} : { suggestedMax: highest.value }),
      },
    },
  };
});
</script>

<template>
  <ul class="multiples">
    <li v-for="part in parts" :key="part.name">
      <h3>{{ part.name }}</h3>
      <div class="small">
        <Line :aria-label="TEXTS.overTime(part.name)" :data="dataOf(part)" :options="options" />
      </div>
    </li>
  </ul>
</template>

<style scoped>
.multiples {
  margin: 0;
  padding: 4px 8px;
  list-style: none;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 6px 14px;
}
h3 {
  margin: 0;
  font-size: 12px;
  font-weight: 600;
}
.small {
  position: relative;
  height: 92px;
}
</style>
