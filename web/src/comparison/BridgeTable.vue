<script setup lang="ts">
import { REVENUE_STEPS, shownBridge, type ComparedBridge } from '@dravex/core';
import { computed } from 'vue';
import { shownStep } from '../format/numbers.ts';
import SheetTable from '../kit/SheetTable.vue';
import { useFrame } from '../shell/use-frame.ts';

/** Why revenue differs, step by step from one side to the other; what is shown adds up. */
const props = defineProps<{
  bridge: ComparedBridge;
  /** What the sides are called. */
  actual: string;
  plan: string;
}>();
const { unit, formats } = useFrame();

const money = (value: number): string => formats.value.show(value, 'money', unit.value);
const signed = (value: number): string => formats.value.signed(value, 'money', unit.value);
const count = (items: number): string => `${items} ${items === 1 ? 'item' : 'items'}`;
const NAMES = {
  volume: 'Volume',
  mix: 'Mix',
  price: 'Price',
  new: 'New',
  discontinued: 'Discontinued',
  withoutUnits: 'Without units',
} as const;
const said = computed<Record<keyof typeof NAMES, string>>(() => {
  const { units, plannedUnits, newItems, discontinuedItems } = props.bridge;
  const more = units - plannedUnits;
  return {
    volume: `${formats.value.show(Math.abs(more), 'units')} ${more < 0 ? 'fewer' : 'more'} units, at the average price`,
    mix: 'dearer or cheaper items sold',
    price: 'the same items at other prices',
    new: count(newItems),
    discontinued: count(discontinuedItems),
    withoutUnits: 'items that are not counted',
  };
});
const shown = computed(() => shownBridge(props.bridge, shownStep('money', unit.value)));
const steps = computed(() => {
  let at = shown.value.plan;
  return REVENUE_STEPS.flatMap((step) => {
    const size = shown.value[step];
    const from = at;
    at += size;
    return props.bridge[step] === 0 && size === 0 ? [] : [{ step, size, from, to: at }];
  });
});
/** Where the bars lie: what is far below all of them is cut off, so that the steps are seen. */
const scale = computed(() => {
  const ends = [
    shown.value.plan,
    shown.value.actual,
    ...steps.value.flatMap(({ from, to }) => [from, to]),
  ];
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const start = Math.max(Math.min(0, low), low - 1.2 * (high - low || Math.abs(high) || 1));
  return { start: low >= 0 ? Math.max(0, start) : start, width: high - start || 1 };
});
const place = (from: number, to: number) => {
  const { start, width } = scale.value;
  const [left, right] = [Math.min(from, to), Math.max(from, to)];
  return {
    left: `${((left - start) / width) * 100}%`,
    width: `${Math.max(0.3, ((right - left) / width) * 100)}%`,
  };
};
</script>

<template>
  <SheetTable class="bridge dense" :about="`From ${plan} to ${actual}, revenue`">
    <tbody>
      <tr class="side">
        <th scope="row">{{ plan }}</th>
        <td class="number">{{ money(shown.plan) }}</td>
        <td class="bars" aria-hidden="true">
          <span class="bar plan" :style="place(scale.start, shown.plan)" />
        </td>
      </tr>
      <tr v-for="{ step, size, from, to } in steps" :key="step">
        <th scope="row">
          {{ NAMES[step] }} <span class="quiet">{{ said[step] }}</span>
        </th>
        <td class="number" :class="size < 0 ? 'bad' : size > 0 ? 'good' : ''">
          <span v-if="size < 0" class="diamond" role="img" aria-label="unfavourable:">◇</span>
          {{ signed(size) }}
        </td>
        <td class="bars" aria-hidden="true">
          <span class="bar" :class="size < 0 ? 'less' : 'more'" :style="place(from, to)" />
        </td>
      </tr>
      <tr class="side">
        <th scope="row">{{ actual }}</th>
        <td class="number">{{ money(shown.actual) }}</td>
        <td class="bars" aria-hidden="true">
          <span class="bar is" :style="place(scale.start, shown.actual)" />
        </td>
      </tr>
    </tbody>
  </SheetTable>
</template>

<style scoped>
.bridge {
  flex: none;
  width: 100%;
  background: var(--surface);
  border-top: 1px solid var(--ink);
}
th {
  font-weight: 400;
  text-align: left;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.side th,
.side .number {
  font-weight: 620;
}
tr:not(.side) th {
  padding-left: 22px !important;
}
.number {
  width: 110px;
  text-align: right;
}
.bars {
  position: relative;
  width: 50%;
  padding: 0 !important;
}
.bar {
  position: absolute;
  top: 6px;
  bottom: 6px;
  min-width: 2px;
}
.bar.plan {
  border: 1px solid var(--ember);
  border-right-width: 2px;
}
.bar.is {
  background: var(--harbour);
}
.bar.less {
  background: var(--bad);
}
.bar.more {
  background: var(--good);
}
.diamond {
  font-size: 11px;
}
</style>
