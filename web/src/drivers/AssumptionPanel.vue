<script setup lang="ts">
import type { KeptAssumption } from '@dravex/contract';
import {
  monthFrom,
  valueIn,
  type Assumption,
  type Driver,
  type DriverRow,
  type Month,
} from '@dravex/core';
import { computed } from 'vue';
import type { Formats } from '../format/numbers.ts';
import { longMonth } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';

/** Which assumption holds in the chosen cell, and which it holds over. */
const props = defineProps<{
  driver: Driver;
  row: DriverRow | undefined;
  month: Month | undefined;
  scope: readonly number[];
  formats: Formats;
}>();

const plan = usePlan();
const covering = useAnswer(
  [() => props.driver.code, () => props.row?.key, () => props.month, () => plan.tick],
  async () => {
    if (!props.row || props.month === undefined) return [];
    return plan.compute().covering(props.driver.code, props.scope, props.month);
  },
);

function display(value: number | null | undefined): string {
  if (props.driver.kind === 'percent') return props.formats.show(value, 'percent');
  return props.formats.show(value, props.driver.kind === 'moneyPerUnit' ? 'price' : 'units');
}

function valueNow(assumption: Assumption): string {
  return display(props.month === undefined ? null : valueIn(assumption, props.month));
}

/** When and where it was set, in words. */
function months({ from, to, profile }: Assumption): string {
  if (profile.kind === 'months') {
    const keys = Object.keys(profile.values).sort();
    const [start] = keys;
    const end = keys.at(-1);
    if (!start || !end) return '';
    if (keys.length === 1) return `typed for ${longMonth(monthFrom(start))}`;
    return `month by month, ${keys.length} months to ${longMonth(monthFrom(end))}`;
  }
  const start = from ? ` from ${longMonth(monthFrom(from))}` : '';
  const end = to ? ` to ${longMonth(monthFrom(to))}` : '';
  if (profile.kind === 'value') return `one value${start || end ? start + end : ' for all months'}`;
  const held = profile.steps
    .filter((s) => props.month !== undefined && monthFrom(s.from) <= props.month)
    .at(-1);
  return held ? `step of ${longMonth(monthFrom(held.from))}` : `steps${start}`;
}

function kept(assumption: Assumption): KeptAssumption | undefined {
  return plan.assumptions.get(assumption.id);
}

function by(assumption: Assumption): string {
  const row = kept(assumption);
  if (!row) return 'being saved';
  const at = new Date(row.at);
  return `${row.by}, ${at.toLocaleDateString(plan.frame?.locale, { day: 'numeric', month: 'short' })} ${at.toTimeString().slice(0, 5)}`;
}

const many = computed(() => (props.row?.streams ?? 0) > 1);
const holds = computed(() => covering.data.value ?? []);
</script>

<template>
  <aside class="panel" aria-label="Which assumption holds">
    <template v-if="row && month !== undefined">
      <p class="quiet">
        {{ many ? `${row.streams} streams` : 'One stream' }}, {{ longMonth(month) }}
      </p>
      <h2>{{ driver.name }}, {{ scope.length > 0 ? plan.tree.label(scope) : 'everything' }}</h2>
      <p v-if="many && !row.leaf" class="quiet first">
        What holds in its first stream; others may have their own.
      </p>
      <ol v-if="holds.length > 0">
        <li
          v-for="(assumption, place) in holds"
          :key="assumption.id"
          :class="{ held: place === 0 }"
        >
          <div class="line">
            <span>{{
              assumption.scope.length > 0 ? plan.tree.label(assumption.scope) : 'Everything'
            }}</span>
            <b class="figures">{{ valueNow(assumption) }}</b>
          </div>
          <p class="quiet">
            <template v-if="place === 0">holds: </template>{{ months(assumption) }}
          </p>
          <p v-if="assumption.note" class="quiet">“{{ assumption.note }}”</p>
          <p class="quiet">{{ by(assumption) }}</p>
        </li>
      </ol>
      <p v-else class="first">
        <template v-if="driver.default !== null">
          Nothing is assumed here; the default of {{ display(driver.default) }} holds.
        </template>
        <span v-else class="waits">Nothing is assumed here: this input is missing.</span>
      </p>
    </template>
    <p v-else class="quiet">
      Choose a cell to see which assumption holds in it. Type to change it: a rate or a price holds
      for all streams below the row, a number of units is spread over them.
    </p>
  </aside>
</template>

<style scoped>
.panel {
  width: 236px;
  flex: none;
  padding: 2px 0 0 16px;
  border-left: 1px solid var(--line);
  overflow: auto;
  font-size: 12.5px;
}
h2 {
  margin: 2px 0 8px;
}
.first {
  margin-bottom: 8px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--ink);
}
li {
  padding: 7px 0;
  border-bottom: 1px solid var(--line);
  color: var(--ink-quiet);
}
li.held {
  color: var(--ink);
}
li:not(.held) b {
  font-weight: 400;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
</style>
