<script setup lang="ts">
import {
  inBoth,
  largestDifferences,
  type ComparisonRow,
  type Materiality,
  type Scope,
  type VersionMeasure,
} from '@dravex/core';
import { computed } from 'vue';
import { displayOf } from '../grid/table-rows.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** The single largest differences, with where they are: what to look at first. */
const props = defineProps<{
  rows: readonly ComparisonRow[];
  scope: Scope;
  measure: VersionMeasure;
  least: Materiality;
}>();
const plan = usePlan();
const { unit, formats, setScope } = useFrame();
/** So many are named. */
const MOST = 8;

/** Only what of it is a scope: people are none. */
function show(of: Scope): void {
  const own = of.filter((id) => plan.tree.has(id));
  void setScope(inBoth(plan.tree, own, props.scope));
}
const largest = computed(() =>
  largestDifferences(props.rows, plan.tree, props.measure, props.least, MOST),
);
</script>

<template>
  <aside class="largest" :aria-label="TEXTS.largestDifferences">
    <h2>{{ TEXTS.largestDifferences }}</h2>
    <p v-if="largest.length === 0" class="quiet">{{ TEXTS.noDifferenceIsAsLarge }}</p>
    <ol>
      <li v-for="item in largest" :key="item.key">
        <span>
          <v-btn variant="plain" :title="TEXTS.whyOnly(item.label)" @click="show(item.scope)">
            {{ item.label }}
          </v-btn>
          <span v-if="item.where" class="quiet where">{{ item.where }}</span>
        </span>
        <span class="figures" :class="item.bad ? 'bad' : 'good'">
          <span v-if="item.bad" class="diamond" role="img" :aria-label="TEXTS.unfavourable">◇</span
          >{{ formats.signed(item.amount, displayOf(measure), unit) }}
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
