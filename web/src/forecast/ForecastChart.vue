<script setup lang="ts">
import {
  CategoryScale,
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartData,
  type ChartOptions,
  type Plugin,
} from 'chart.js';
import annotation from 'chartjs-plugin-annotation';
import { computed } from 'vue';
import { Line } from 'vue-chartjs';
import { colour, isDark } from '../shell/use-theme.ts';

Chart.register(
  CategoryScale,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  annotation,
);

/** A line over time: the books solid, the forecast dashed in the same hue. */
const props = defineProps<{
  label: string;
  headings: readonly string[];
  /** How many of the columns are closed. */
  closed: number;
  line: readonly (number | null)[];
  plan?: { name: string; values: readonly (number | null)[] } | undefined;
  lastYear?: readonly (number | null)[] | undefined;
  show: (value: number) => string;
}>();

/** Colours by their roles, in the theme that is in force. */
const hues = computed(() => {
  isDark();
  return {
    harbour: colour('harbour'),
    ember: colour('ember-ink'),
    thin: colour('thin'),
    quiet: colour('ink-quiet'),
    line: colour('line-soft'),
    ink: colour('ink'),
    surface: colour('surface'),
    closed: colour('closed'),
  };
});
const FONT = { family: "'Figtree Variable', sans-serif", size: 11.5 };

const data = computed<ChartData<'line'>>(() => {
  const plain = { pointRadius: 0, pointHoverRadius: 3, tension: 0 };
  const datasets: ChartData<'line'>['datasets'] = [
    {
      ...plain,
      label: 'Forecast',
      data: [...props.line],
      borderColor: hues.value.harbour,
      borderWidth: 2.5,
      order: 1,
      segment: {
        borderDash: ({ p1DataIndex }) => (p1DataIndex >= props.closed ? [5, 4] : undefined),
      },
    },
  ];
  if (props.plan) {
    datasets.push({
      ...plain,
      label: props.plan.name,
      data: [...props.plan.values],
      borderColor: hues.value.ember,
      borderWidth: 1.5,
      stepped: 'middle',
      order: 2,
    });
  }
  if (props.lastYear) {
    datasets.push({
      ...plain,
      label: 'Last year',
      data: [...props.lastYear],
      borderColor: hues.value.thin,
      borderWidth: 1.2,
      order: 3,
    });
  }
  return { labels: [...props.headings], datasets };
});

/** Names stand at the ends of their lines, kept apart where the lines meet. */
const endLabels: Plugin<'line'> = {
  id: 'endLabels',
  afterDatasetsDraw(chart) {
    const labels = chart.data.datasets.flatMap((dataset, index) => {
      const points = chart.getDatasetMeta(index).data;
      const end = dataset.data.findLastIndex((value) => value !== null);
      const point = points[end];
      return point
        ? [
            {
              text: dataset.label ?? '',
              x: point.x + 8,
              y: point.y,
              hue: String(dataset.borderColor),
            },
          ]
        : [];
    });
    labels.sort((a, b) => a.y - b.y);
    labels.forEach((label, index) => {
      const above = labels[index - 1];
      if (above && label.y - above.y < 14) label.y = above.y + 14;
    });
    const { ctx } = chart;
    ctx.save();
    ctx.font = `600 11.5px ${FONT.family}`;
    ctx.textBaseline = 'middle';
    for (const { text, x, y, hue } of labels) {
      ctx.fillStyle = hue === hues.value.thin ? hues.value.quiet : hue;
      ctx.fillText(text, x, y);
    }
    ctx.restore();
  },
};

const options = computed<ChartOptions<'line'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  animation: false,
  layout: { padding: { right: 108, top: 8 } },
  interaction: { mode: 'index', intersect: false },
  scales: {
    x: {
      grid: { display: false },
      ticks: { font: FONT, color: hues.value.quiet, maxRotation: 0 },
      border: { display: false },
    },
    y: {
      beginAtZero: true,
      border: { display: false },
      grid: { color: hues.value.line },
      ticks: {
        font: FONT,
        color: hues.value.quiet,
        maxTicksLimit: 4,
        callback: (value) => props.show(Number(value)),
      },
    },
  },
  plugins: {
    tooltip: {
      animation: false,
      backgroundColor: hues.value.ink,
      titleColor: hues.value.surface,
      bodyColor: hues.value.surface,
      titleFont: FONT,
      bodyFont: FONT,
      callbacks: {
        label: ({ dataset, parsed, dataIndex }) => {
          const books = dataset.label === 'Forecast' && dataIndex < props.closed;
          return `${books ? 'Actual' : (dataset.label ?? '')}  ${props.show(parsed.y ?? 0)}`;
        },
      },
    },
    annotation: {
      annotations:
        props.closed > 0
          ? {
              closed: {
                type: 'box',
                xMin: 0,
                xMax: Math.min(props.closed, props.headings.length) - 0.5,
                backgroundColor: hues.value.closed,
                borderWidth: 0,
                drawTime: 'beforeDatasetsDraw',
                label: {
                  display: true,
                  drawTime: 'afterDatasetsDraw',
                  content: 'closed',
                  position: { x: 'start', y: 'start' },
                  font: { ...FONT, weight: 'normal' },
                  color: hues.value.quiet,
                },
              },
            }
          : {},
    },
  },
}));
</script>

<template>
  <div class="chart">
    <Line :aria-label="label" :data="data" :options="options" :plugins="[endLabels]" />
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
