<script setup lang="ts">
import type { TargetNode } from '@dravex/contract';
import { computed } from 'vue';
import { WORDS } from '../format/words.ts';
import SheetTable from '../kit/SheetTable.vue';
import SidePanel from '../shell/SidePanel.vue';
import { useFrame } from '../shell/use-frame.ts';
import { isPossible } from './possible.ts';
import { TEXTS } from './texts.ts';

/** Whether targets can be reached: against capacity, forecast and the best twelve months so far. */
const props = defineProps<{ nodes: readonly TargetNode[] }>();
const emit = defineEmits<{ close: [] }>();
const { formats } = useFrame();
const all = computed(() => isPossible(props.nodes));
const outliers = computed(() => all.value.filter(({ outlier }) => outlier));
const capacity = computed(() => all.value.some(({ ofCapacity }) => ofCapacity !== null));
const percent = (share: number | null): string => formats.value.show(share, 'percent');
const found = computed(() => {
  const count = outliers.value.length;
  if (all.value.length === 0) return TEXTS.nobodyHasTargetYet;
  if (count === 0) return TEXTS.everyTargetIsWithinReach;
  return count === 1 ? TEXTS.oneTargetIsOutOf : TEXTS.targetsAreOutOfLine(count);
});
</script>

<template>
  <SidePanel :heading="TEXTS.isItPossible" :width="390" @close="emit('close')">
    <p>{{ found }}</p>
    <p class="quiet">
      {{ TEXTS.eachTargetAsShareOf }}
    </p>
    <SheetTable :about="TEXTS.targetsAgainstForecastBestTwelve">
      <thead>
        <tr>
          <th scope="col">{{ TEXTS.teamPerson }}</th>
          <th scope="col">{{ WORDS.forecast }}</th>
          <th scope="col">{{ TEXTS.bestYear }}</th>
          <th v-if="capacity" scope="col">{{ TEXTS.capacity }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in all" :key="one.node.id">
          <td>
            {{ one.node.name }}
            <span class="verdict" :class="{ waits: one.outlier }">{{ one.verdict }}</span>
          </td>
          <td>{{ percent(one.ofForecast) }}</td>
          <td>{{ percent(one.ofBest) }}</td>
          <td v-if="capacity" class="number">{{ percent(one.ofCapacity) }}</td>
        </tr>
      </tbody>
    </SheetTable>
  </SidePanel>
</template>

<style scoped>
p {
  margin: 0;
}
td,
th {
  padding-inline: 4px !important;
}
.verdict {
  display: block;
  font-size: 11px;
  color: var(--ink-quiet);
}
.verdict.waits {
  color: var(--ember-ink);
}
</style>
