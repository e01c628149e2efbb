<script setup lang="ts">
import type { PricedPart } from '@dravex/core';
import type { ChartData, ChartOptions, Plugin } from 'chart.js';
import { computed } from 'vue';
import { Scatter } from 'vue-chartjs';
import { FONT, huesNow, seriesHues } from './chart-look.ts';
import { TEXTS } from './texts.ts';
import './register.ts';

/** Parts between volume and price: a tick where each stood a year before, a dot where it is. */
const props = defineProps<{
  label: string;
  parts: readonly PricedPart[];
  showUnits: (value: number) => string;
  showPrice: (value: number) => string;
  unitsHeading: string;
  priceHeading: string;
}>();

const hues = computed(huesNow);
const data = computed<ChartData<'scatter'>>(() => {
  const colours = seriesHues();
  return {
    datasets: props.parts.map(({ name, units, price, before }, place) => {
      const hue = colours[place % colours.length] ?? hues.value.ink;
      return {
        label: name,
        // A tick stands where it was, a dot where it is.
        data: [...(before ? [{ x: before.units, y: before.price }] : []), { x: units, y: price }],
        pointStyle: before ? (['line', 'circle'] as const) : ('circle' as const),
        pointRadius: before ? [6, 5] : 5,
        pointRotation: 90,
        borderColor: hue,
        backgroundColor: hue,
        pointBorderWidth: 2,
        borderWidth: 1,
        showLine: true,
      };
    }),
  };
});

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
}
const HEIGHT = 14;
const meet = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && Math.abs(a.y - b.y) < HEIGHT;

/** Names stand beside their dots, where nothing else stands. */
const names: Plugin<'scatter'> = {
  id: 'names',
  afterDatasetsDraw(chart) {
    const { ctx, chartArea } = chart;
    ctx.save();
    ctx.font = `600 11.5px ${FONT.family}`;
    ctx.textBaseline = 'middle';
    const taken: Box[] = chart.data.datasets.flatMap((_, index) =>
      chart.getDatasetMeta(index).data.map(({ x, y }) => ({ x: x - 6, y, width: 12 })),
    );
    chart.data.datasets.forEach((dataset, index) => {
      const point = chart.getDatasetMeta(index).data.at(-1);
      if (!point) return;
      const text = dataset.label ?? '';
      const { width } = ctx.measureText(text);
      const places = [-9, 9, -18, 18].flatMap((down) =>
        [point.x + 9, point.x - 9 - width].map((x) => ({ x, y: point.y + down, width })),
      );
      const free = places.find(
        (box) =>
          box.x + width < chartArea.right &&
          box.x > chartArea.left &&
          !taken.some((other) => meet(box, other)),
      );
      const [first] = places;
      const box = free ?? first;
      if (!box) return;
      taken.push(box);
      ctx.fillStyle = String(dataset.borderColor);
      ctx.fillText(text, box.x, box.y);
    });
    ctx.restore();
  },
};

/** 1, 2 and 5 times a power of ten: a few round numbers are enough to read proportions. */
function roundTicks(min: number, max: number): { value: number }[] {
  const ticks: { value: number }[] = [];
  for (let power = Math.floor(Math.log10(min)); power <= Math.ceil(Math.log10(max)); power += 1) {
    for (const lead of [1, 2, 5]) {
      const value = lead * 10 ** power;
      if (value >= min && value <= max) ticks.push({ value });
    }
  }
  return ticks;
}
const reach = (values: readonly number[]) => ({
  min: Math.min(...values) / 1.4,
  max: Math.max(...values) * 1.4,
});
const all = computed(() =>
  props.parts.flatMap((part) => [part, ...(part.before ? [part.before] : [])]),
);

const options = computed<ChartOptions<'scatter'>>(() => {
  const { quiet, line, ink, surface } = hues.value;
  const axis = (words: string, show: (value: number) => string, values: readonly number[]) => ({
    type: 'logarithmic' as const,
    ...reach(values),
    title: { display: true, text: words, font: FONT, color: quiet },
    grid: { color: line },
    border: { display: false },
    afterBuildTicks: (scale: { min: number; max: number; ticks: { value: number }[] }) => {
      scale.ticks = roundTicks(scale.min, scale.max);
    },
    ticks: { font: FONT, color: quiet, callback: (value: number | string) => show(Number(value)) },
  });
  return {
    responsive: true,
    maintainAspectRatio: false,
    animation: false,
    layout: { padding: { right: 16, top: 14 } },
    scales: {
      x: axis(
        props.unitsHeading,
        props.showUnits,
        all.value.map(({ units }) => units),
      ),
      y: axis(
        props.priceHeading,
        props.showPrice,
        all.value.map(({ price }) => price),
      ),
    },
    plugins: {
      legend: { display: false },
      tooltip: {
        animation: false,
        backgroundColor: ink,
        titleColor: surface,
        bodyColor: surface,
        bodyFont: FONT,
        callbacks: {
          label: ({ dataset, parsed, dataIndex }) => {
            const was = dataset.data.length > 1 && dataIndex === 0 ? TEXTS.aYearBefore : '';
            return TEXTS.at(
              dataset.label ?? '',
              was,
              props.showUnits(parsed.x ?? 0),
              props.showPrice(parsed.y ?? 0),
            );
          },
        },
      },
    },
  };
});
</script>

<template>
  <Scatter :aria-label="label" :data="data" :options="options" :plugins="[names]" />
</template>
