<script setup lang="ts">
import { computed } from 'vue';

/** A bar shows how much of a target is reached, a tick where the season says it should be. */
const props = defineProps<{ attained: number | null; due: number | null }>();

const WIDTH = 124;
const length = computed(() => Math.min(1, Math.max(0, props.attained ?? 0)) * WIDTH);
const tick = computed(() => (props.due === null ? null : Math.min(1, props.due) * WIDTH));
const behind = computed(
  () => props.due !== null && props.attained !== null && props.attained < props.due * 0.97,
);
</script>

<template>
  <svg :width="WIDTH" height="16" aria-hidden="true">
    <rect x="0" y="4" :width="WIDTH" height="8" class="whole" />
    <rect x="0" y="4" :width="length" height="8" :class="behind ? 'behind' : 'reached'" />
    <line v-if="tick !== null" :x1="tick" y1="1" :x2="tick" y2="15" class="tick" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}
.whole {
  fill: var(--bar-rest);
}
.reached {
  fill: var(--harbour);
}
.behind {
  fill: var(--bad);
}
.tick {
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
