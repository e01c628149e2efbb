<script setup lang="ts">
import type { KeptAdjustment, KeptAssumption } from '@dravex/contract';
import { monthFrom, valueIn, type Adjustment, type Assumption, type Month } from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { whenInWords } from '../format/moments.ts';
import { profileInWords } from '../drivers/profile-words.ts';
import { longMonth } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** Inputs used in a cell of a driver, and which it holds over; each a link to where it is set. */
const props = defineProps<{ driver: string; scope: readonly number[]; month: Month }>();

const plan = usePlan();
const route = useRoute();
const { formats, addressOf } = useFrame();

const known = computed(() =>
  plan.workspace?.plan.drivers.find(({ code }) => code === props.driver),
);
const covering = useAnswer(
  [() => props.driver, () => props.scope, () => props.month, () => plan.tick],
  () => plan.compute().covering(props.driver, props.scope, props.month),
);
const holds = computed(() => covering.data.value ?? []);
const adjusting = useAnswer(
  [() => props.driver, () => props.scope, () => props.month, () => plan.tick],
  () => plan.compute().adjusting(props.driver, props.scope, props.month),
);

const valueNow = (assumption: Assumption): string => inItsUnit(valueIn(assumption, props.month));
/** What an adjustment does: `x 1.04`, `+ 2.00`, `= 9.90`. */
function effectOf({ kind, value }: Adjustment): string {
  if (kind === 'times')
    return `x ${value.toLocaleString(plan.locale, { maximumFractionDigits: 4 })}`;
  const size = inItsUnit(Math.abs(value));
  return kind === 'set' ? `= ${size}` : `${value < 0 ? '\u2212' : '+'} ${size}`;
}

function inItsUnit(value: number | undefined): string {
  if (known.value?.kind === 'percent') return formats.value.show(value, 'percent');
  return formats.value.show(value, known.value?.kind === 'moneyPerUnit' ? 'price' : 'units');
}

/** When it holds, in words. */
function months({ from, to, profile }: Assumption): string {
  if (profile.kind === 'months') {
    const keys = Object.keys(profile.values).sort();
    const [start] = keys;
    const end = keys.at(-1);
    if (!start || !end) return '';
    if (keys.length === 1) return TEXTS.enteredFor(longMonth(monthFrom(start)));
    return TEXTS.monthByMonthMonthsTo(keys.length, longMonth(monthFrom(end)));
  }
  const start = from ? TEXTS.from(longMonth(monthFrom(from))) : '';
  const end = to ? TEXTS.to(longMonth(monthFrom(to))) : '';
  if (profile.kind === 'value') return TEXTS.oneValue(start + end);
  if (profile.kind !== 'steps') return `${profileInWords(profile, formats.value)}${start}${end}`;
  const held = profile.steps.filter((s) => monthFrom(s.from) <= props.month).at(-1);
  return held ? TEXTS.stepOf(longMonth(monthFrom(held.from))) : `steps${start}`;
}

/** When it is laid over, in words. */
const monthsOf = ({ from, to }: Adjustment): string =>
  from !== null && from === to
    ? TEXTS.in(longMonth(monthFrom(from)))
    : `${from ? TEXTS.fromOf(longMonth(monthFrom(from))) : ''}${to ? TEXTS.to(longMonth(monthFrom(to))) : ''}`.trim();

function by(row: KeptAssumption | KeptAdjustment | undefined): string {
  return row ? `${row.by}, ${whenInWords(row.at, plan.locale)}` : TEXTS.beingSaved;
}

/** The driver's grid at the scope of the assumption, in the window that is in force. */
function placeOf(scope: readonly number[]): object {
  const query = { ...route.query, ...addressOf(scope), driver: props.driver };
  return { path: `/w/${plan.workspaceId}/drivers`, query };
}
</script>

<template>
  <section :aria-label="TEXTS.inputsUsed">
    <h3>{{ TEXTS.inputsUsed }}</h3>
    <ol v-if="holds.length > 0">
      <li v-for="(assumption, place) in holds" :key="assumption.id" :class="{ held: place === 0 }">
        <div class="line">
          <RouterLink :to="placeOf(assumption.scope)">
            {{
              assumption.scope.length > 0 ? plan.tree.label(assumption.scope) : TEXTS.wholeCompany
            }}
          </RouterLink>
          <b class="figures">{{ valueNow(assumption) }}</b>
        </div>
        <p class="quiet">
          {{ place === 0 ? TEXTS.inUse(months(assumption)) : months(assumption) }}
        </p>
        <p v-if="assumption.note" class="quiet">“{{ assumption.note }}”</p>
        <p class="quiet">{{ by(plan.assumptions.get(assumption.id)) }}</p>
      </li>
    </ol>
    <p v-else class="quiet">{{ TEXTS.noInputIsSetHere }}</p>
    <template v-if="(adjusting.data.value ?? []).length > 0">
      <h3>{{ TEXTS.adjustments }}</h3>
      <ol>
        <li v-for="one in adjusting.data.value ?? []" :key="one.id">
          <div class="line">
            <RouterLink :to="placeOf(one.scope)">
              {{ one.scope.length > 0 ? plan.tree.label(one.scope) : TEXTS.wholeCompany }}
            </RouterLink>
            <b class="figures">{{ effectOf(one) }}</b>
          </div>
          <p class="quiet">{{ monthsOf(one) }}</p>
          <p v-if="one.note" class="quiet">“{{ one.note }}”</p>
          <p class="quiet">{{ by(plan.adjustments.get(one.id)) }}</p>
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
li:not(.held) b {
  font-weight: 400;
}
</style>
