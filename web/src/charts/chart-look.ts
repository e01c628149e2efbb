/** What all charts have in common: type, colours by role, the closed part, names at the ends of lines. */
import type { Chart, ChartOptions, Plugin } from 'chart.js';
import type { AnnotationOptions } from 'chartjs-plugin-annotation';
import { colour, isDark } from '../shell/use-theme.ts';

export const FONT = { family: "'Figtree Variable', sans-serif", size: 11.5 };

/** Colours by their roles, in the theme that is in force. */
export function huesNow() {
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
}
export type Hues = ReturnType<typeof huesNow>;

const SERIES = 8;
/** Colours that tell the parts of a whole apart, as many as anybody can. */
export function seriesHues(): readonly string[] {
  isDark();
  return Array.from({ length: SERIES }, (_, place) => colour(`series-${place + 1}`));
}

/** Months that the books have are shaded. @param closed how many of the columns are closed */
export function closedBox(
  closed: number,
  count: number,
  hues: Hues,
  words = 'closed',
): Record<string, AnnotationOptions> {
  if (closed <= 0) return {};
  return {
    closed: {
      type: 'box',
      xMin: 0,
      xMax: Math.min(closed, count) - 0.5,
      backgroundColor: hues.closed,
      borderWidth: 0,
      drawTime: 'beforeDatasetsDraw',
      label: {
        display: words !== '',
        drawTime: 'afterDatasetsDraw',
        content: words,
        position: { x: 'start', y: 'start' },
        font: { ...FONT, weight: 'normal' },
        color: hues.quiet,
      },
    },
  };
}

interface EndLabel {
  readonly text: string;
  readonly x: number;
  y: number;
  readonly hue: string;
}

/** Writes names beside the ends of lines, kept apart where the lines meet. */
function writeLabels({ ctx, chartArea }: Chart, labels: EndLabel[]): void {
  const STEP = 14;
  labels.sort((a, b) => a.y - b.y);
  labels.forEach((label, index) => {
    const above = labels[index - 1];
    if (above && label.y - above.y < STEP) label.y = above.y + STEP;
  });
  // What was pushed out below comes back up, and pushes those above it.
  let lowest = chartArea.bottom;
  for (const label of [...labels].reverse()) {
    if (label.y > lowest) label.y = lowest;
    lowest = label.y - STEP;
  }
  ctx.save();
  ctx.font = `600 11.5px ${FONT.family}`;
  ctx.textBaseline = 'middle';
  for (const { text, x, y, hue } of labels) {
    ctx.fillStyle = hue;
    ctx.fillText(text, x, y);
  }
  ctx.restore();
}

/** Names at the ends of lines. @param middle whether a name stands in the middle of its stacked band */
export function endLabels(hues: () => Hues, middle = false): Plugin<'line'> {
  return {
    id: 'endLabels',
    afterDatasetsDraw(chart) {
      let below = chart.scales['y']?.getPixelForValue(0) ?? 0;
      const labels = chart.data.datasets.flatMap((dataset, index): EndLabel[] => {
        const points = chart.getDatasetMeta(index).data;
        const end = dataset.data.findLastIndex((value) => value !== null);
        const point = points[end];
        if (!point || !dataset.label) return [];
        const hue = String(dataset.borderColor);
        const y = middle ? (point.y + below) / 2 : point.y;
        below = point.y;
        const { thin, quiet } = hues();
        return [{ text: dataset.label, x: point.x + 8, y, hue: hue === thin ? quiet : hue }];
      });
      writeLabels(chart, labels);
    },
  };
}

/** What charts over time share: bare axes, the tooltip, room for the names at the right. */
export function timeOptions(
  hues: Hues,
  show: (value: number) => string,
  annotations: Record<string, AnnotationOptions>,
  labelOf: (name: string, index: number) => string,
  right = 108,
): ChartOptions<'line'> {
  return {
    responsive: true,
    maintainAspectRatio: false,
    animation: false,
    layout: { padding: { right, top: 8 } },
    interaction: { mode: 'index', intersect: false },
    scales: {
      x: {
        grid: { display: false },
        ticks: { font: FONT, color: hues.quiet, maxRotation: 0 },
        border: { display: false },
      },
      y: {
        beginAtZero: true,
        border: { display: false },
        grid: { color: hues.line },
        ticks: {
          font: FONT,
          color: hues.quiet,
          maxTicksLimit: 4,
          callback: (value) => show(Number(value)),
        },
      },
    },
    plugins: {
      legend: { display: false },
      tooltip: {
        animation: false,
        backgroundColor: hues.ink,
        titleColor: hues.surface,
        bodyColor: hues.surface,
        titleFont: FONT,
        bodyFont: FONT,
        filter: ({ dataset }) => Boolean(dataset.label),
        callbacks: {
          label: ({ dataset, parsed, dataIndex }) =>
            `${labelOf(dataset.label ?? '', dataIndex)}  ${show(parsed.y ?? 0)}`,
        },
      },
      annotation: { annotations },
    },
  };
}

/** Dashed from the first open month on: what is not from the books. */
export const dashedFrom = (closed: number) => ({
  borderDash: ({ p1DataIndex }: { p1DataIndex: number }) =>
    p1DataIndex >= closed ? [5, 4] : undefined,
});
