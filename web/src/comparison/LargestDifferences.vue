<script setup lang="ts">
import {
  inBoth,
  isMaterial,
  type ComparisonRow,
  type Display,
  type Materiality,
  type Scope,
} from '@dravex/core';
import { computed } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';

/** The single largest differences, with where they are: what to look at first. */
const props = defineProps<{
  rows: readonly ComparisonRow[];
  scope: Scope;
  display: Display;
  least: Materiality;
}>();
const plan = usePlan();
const { unit, formats, setScope } = useFrame();
/** So many are named. */
const MOST = 8;

/** Rows below which nothing is compared any more: lines, or where a target is said as far as it goes. */
const lowest = computed(() =>
  props.rows.filter(({ level, variance }, place) => {
    if (!variance) return false;
    const end = props.rows.findIndex((row, at) => at > place && row.level <= level);
    const below = props.rows.slice(place + 1, end < 0 ? undefined : end);
    return below.every((row) => !row.variance);
  }),
);
const largest = computed(() => {
  const above: ComparisonRow[] = [];
  const found = new Set(lowest.value);
  const named = props.rows.flatMap((row) => {
    above.length = row.level;
    // What it lies in by the other dimensions; of one dimension the outermost.
    const outer = above.findLast(({ scope }) => scope.length < row.scope.length) ?? above[0];
    above.push(row);
    const { variance } = row;
    if (!variance || !found.has(row) || !isMaterial(variance, props.display, props.least)) {
      return [];
    }
    return [
      {
        ...{ key: row.key, label: row.label, where: outer?.label ?? '' },
        ...{ amount: variance.amount, bad: variance.judgement === 'bad' },
        scope: inBoth(plan.tree, row.scope, props.scope),
      },
    ];
  });
  return named.sort((a, b) => Math.abs(b.amount) - Math.abs(a.amount)).slice(0, MOST);
});
</script>

<template>
  <aside class="largest" aria-label="Largest differences">
    <h2>Largest differences</h2>
    <p v-if="largest.length === 0" class="quiet">No difference is as large.</p>
    <ol>
      <li v-for="item in largest" :key="item.key">
        <span>
          <v-btn variant="plain" :title="`Why: only ${item.label}`" @click="setScope(item.scope)">
            {{ item.label }}
          </v-btn>
          <span v-if="item.where" class="quiet where">{{ item.where }}</span>
        </span>
        <span class="figures" :class="item.bad ? 'bad' : 'good'">
          <span v-if="item.bad" class="diamond" role="img" aria-label="unfavourable:">◇</span
          >{{ formats.signed(item.amount, display, unit) }}
        </span>
      </li>
    </ol>
  </aside>
</template>

<style scoped>
.diamond {
  font-size: 11px;
  margin-right: 2px;
}
.largest {
  width: 232px;
  flex: none;
  padding-left: 16px;
  border-left: 1px solid var(--line);
  overflow: auto;
}
@media (max-width: 1100px) {
  .largest {
    width: 184px;
  }
}
.where {
  margin-left: 4px;
}
.largest ol {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  border-top: 1px solid var(--ink);
}
.largest li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
</style>
