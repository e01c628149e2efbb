<script setup lang="ts">
import {
  DRIVER_STEPS,
  REVENUE_STEPS,
  shownSteps,
  type ComparedBridge,
  type DriverBridge,
} from '@dravex/core';
import { computed } from 'vue';
import { inFull, shownStep } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import type { Line } from '../grid/grid-file.ts';
import SheetTable from '../kit/SheetTable.vue';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** Why revenue differs, step by step from one side to the other; what is shown adds up. */
const props = defineProps<{
  /** By items, or by drivers. */
  bridge: ComparedBridge | DriverBridge;
  /** What the sides are called. */
  actual: string;
  plan: string;
}>();
const { unit, formats } = useFrame();

const money = (value: number): string => formats.value.show(value, 'money', unit.value);
const signed = (value: number): string => formats.value.signed(value, 'money', unit.value);
const count = (items: number): string => TEXTS.items(items);

const PAIRS_NAMED = 2;
/** A step with what it is called, and what it means. */
interface Step {
  readonly step: string;
  readonly name: string;
  readonly said: string;
  readonly value: number;
  readonly shown: number;
}
const shown = computed(() => {
  const size = shownStep('money', unit.value);
  const { bridge } = props;
  return 'mix' in bridge ? byItems(bridge, size) : byDrivers(bridge, size);
});
/** The pairs with the largest changes, each with its own. */
function pairsInWords({ pairs }: ComparedBridge): string {
  const named = pairs.slice(0, PAIRS_NAMED).map(({ name, plan, actual }) => {
    const change = signed(actual - plan);
    return pairs.length > 1 ? `${name} ${change}` : name;
  });
  const more = pairs.length - named.length;
  return [...named, ...(more > 0 ? [TEXTS.more(more)] : [])].join(', ');
}
function byItems(bridge: ComparedBridge, size: number) {
  const more = bridge.units - bridge.plannedUnits;
  const few = TEXTS.units(formats.value.show(Math.abs(more), 'units'), more);
  const words = {
    volume: [TEXTS.volume, TEXTS.atAveragePrice(few)],
    mix: [TEXTS.mix, TEXTS.dearerOrCheaperItemsSold],
    price: [TEXTS.price, TEXTS.sameItemsAtOtherPrices],
    replaced: [TEXTS.replaced, pairsInWords(bridge)],
    new: [WORDS.new, count(bridge.newItems)],
    discontinued: [TEXTS.discontinued, count(bridge.discontinuedItems)],
    withoutUnits: [TEXTS.withoutUnits, TEXTS.itemsThatAreNotCounted],
  } as const;
  return inSteps(bridge, REVENUE_STEPS, words, size);
}
function byDrivers(bridge: DriverBridge, size: number) {
  const words = {
    grossUnits: [TEXTS.grossUnits, TEXTS.moreOrFewerSoldBefore],
    entered: [TEXTS.visitsAndOthers, TEXTS.moreOrFewerEnteredFunnel],
    conversion: [TEXTS.conversion, TEXTS.moreOrFewerOfThem],
    returnRate: [TEXTS.returns, TEXTS.moreOrFewerCameBack],
    subscribersBefore: [TEXTS.subscribersBefore, TEXTS.moreOrFewerThereAt],
    newSubscribers: [WORDS.newSubscribers, TEXTS.moreOrFewerCame],
    churnRate: [WORDS.churn, TEXTS.moreOrFewerLeft],
    listPrice: [TEXTS.listPrice, TEXTS.anotherPrice],
    discount: [TEXTS.discount, TEXTS.moreOrLessOffPrice],
    notExplained: [TEXTS.notExplained, TEXTS.begunEndedOrWithoutUnits],
  } as const;
  return inSteps(bridge, DRIVER_STEPS, words, size);
}
function inSteps<S extends string>(
  bridge: Readonly<Record<S | 'plan' | 'actual', number>>,
  names: readonly S[],
  words: Readonly<Record<S, readonly [name: string, said: string]>>,
  size: number,
) {
  const { plan, actual, ...sizes } = shownSteps<string>(bridge, names, size);
  const steps = names.map((step): Step => {
    const [name, said] = words[step];
    return { step, name, said, value: bridge[step], shown: sizes[step] ?? 0 };
  });
  return { plan: plan ?? 0, actual: actual ?? 0, steps };
}
const steps = computed(() => {
  let at = shown.value.plan;
  return shown.value.steps.flatMap(({ shown: size, value, ...step }) => {
    const from = at;
    at += size;
    return value === 0 && size === 0 ? [] : [{ ...step, size, from, to: at }];
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

/** The steps as lines of a file, in full. */
function lines(): Line[] {
  const { bridge, plan, actual } = props;
  return [
    [TEXTS.step, TEXTS.whatItIs, WORDS.revenueIn(formats.value.unitName(1))],
    [plan, '', inFull(bridge.plan)],
    ...shown.value.steps.flatMap(({ name, said, value }) =>
      value === 0 ? [] : [[name, said, inFull(value)]],
    ),
    [actual, '', inFull(bridge.actual)],
  ];
}
defineExpose({ lines });
</script>

<template>
  <SheetTable class="bridge dense" :about="TEXTS.fromToRevenue(plan, actual)">
    <tbody>
      <tr class="side">
        <th scope="row">{{ plan }}</th>
        <td class="number">{{ money(shown.plan) }}</td>
        <td class="bars" aria-hidden="true">
          <span class="bar plan" :style="place(scale.start, shown.plan)" />
        </td>
      </tr>
      <tr v-for="{ step, name, said, size, from, to } in steps" :key="step">
        <th scope="row">
          {{ name }} <span class="quiet">{{ said }}</span>
        </th>
        <td class="number" :class="size < 0 ? 'bad' : size > 0 ? 'good' : ''">
          <span v-if="size < 0" class="diamond" role="img" :aria-label="TEXTS.unfavourable">◇</span>
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
