<script setup lang="ts">
import type { ChartData } from 'chart.js';
import { computed } from 'vue';
import { Line } from 'vue-chartjs';
import { endLabels, FONT, huesNow, timeOptions } from './chart-look.ts';
import { TEXTS } from './texts.ts';
import './register.ts';

/** How many there are over time, and the level at which they end if nothing changes. */
const props = defineProps<{
  label: string;
  headings: readonly string[];
  values: readonly (number | null)[];
  /** Null where there is no such level. */
  plateau: number | null;
  /** What the level is called. */
  plateauName: string;
  show: (value: number) => string;
}>();
const hues = computed(huesNow);
const data = computed<ChartData<'line'>>(() => ({
  labels: [...props.headings],
  datasets: [
    {
      label: TEXTS.activeSubscribers,
      data: [...props.values],
      borderColor: hues.value.harbour,
      borderWidth: 2,
      pointRadius: 0,
      pointHoverRadius: 3,
    },
  ],
}));
const options = computed(() => {
  const { ember, surface } = hues.value;
  const level = props.plateau;
  const plain = timeOptions(
    hues.value,
    props.show,
    level === null
      ? {}
      : {
          plateau: {
            type: 'line',
            yMin: level,
            yMax: level,
            borderColor: ember,
            borderWidth: 1.5,
            borderDash: [5, 4],
            label: {
              display: true,
              content: props.plateauName,
              position: 'start',
              backgroundColor: surface,
              color: ember,
              font: FONT,
              padding: 3,
            },
          },
        },
    (name) => name,
    130,
  );
  const y = plain.scales?.['y'];
  // The level is in sight, however far away it is.
  return { ...plain, scales: { ...plain.scales, y: { ...y, suggestedMax: (level ?? 0) * 1.06 } } };
});
const plugin = computed(() => endLabels(() => hues.value));
</script>

<template>
  <Line role="img" :aria-label="label" :data="data" :options="options" :plugins="[plugin]" />
</template>
