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

const HARBOUR = '#0F4C5C';
const EMBER = '#C8500E';
const GREY = '#A9A59B';
const INK_QUIET = '#5C6470';
const FONT = { family: "'Figtree Variable', sans-serif", size: 11.5 };

const data = computed<ChartData<'line'>>(() => {
  const plain = { pointRadius: 0, pointHoverRadius: 3, tension: 0 };
  const datasets: ChartData<'line'>['datasets'] = [
    {
      ...plain,
      label: 'Forecast',
      data: [...props.line],
      borderColor: HARBOUR,
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
      borderColor: EMBER,
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
      borderColor: GREY,
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
              colour: String(dataset.borderColor),
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
    for (const { text, x, y, colour } of labels) {
      ctx.fillStyle = colour === GREY ? INK_QUIET : colour;
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
      ticks: { font: FONT, color: INK_QUIET, maxRotation: 0 },
      border: { display: false },
    },
    y: {
      beginAtZero: true,
      border: { display: false },
      grid: { color: '#EBE7DE' },
      ticks: {
        font: FONT,
        color: INK_QUIET,
        maxTicksLimit: 4,
        callback: (value) => props.show(Number(value)),
      },
    },
  },
  plugins: {
    tooltip: {
      animation: false,
      backgroundColor: '#1F2430',
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
                backgroundColor: 'rgba(220, 215, 203, 0.38)',
                borderWidth: 0,
                drawTime: 'beforeDatasetsDraw',
                label: {
                  display: true,
                  drawTime: 'afterDatasetsDraw',
                  content: 'closed',
                  position: { x: 'start', y: 'start' },
                  font: { ...FONT, weight: 'normal' },
                  color: INK_QUIET,
                },
              },
            }
          : {},
    },
  },
}));
</script>

<template>
  <div class="chart" role="img" :aria-label="label">
    <Line :data="data" :options="options" :plugins="[endLabels]" />
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
