<script setup lang="ts">
import { computed } from 'vue';

/** A tick stands where it should be, a dot where it is; one line ties them together. */
const props = defineProps<{
  plan: number;
  actual: number;
  /** The largest difference of the table: the scale of all its rows. */
  widest: number;
}>();

const WIDTH = 132;
const MIDDLE = WIDTH / 2;
const x = computed(() =>
  props.widest > 0 ? MIDDLE + ((props.actual - props.plan) / props.widest) * (MIDDLE - 8) : MIDDLE,
);
</script>

<template>
  <svg :width="WIDTH" height="20" aria-hidden="true" class="plan-mark">
    <line :x1="MIDDLE" y1="10" :x2="x" y2="10" class="tie" />
    <line :x1="MIDDLE" y1="3" :x2="MIDDLE" y2="17" class="tick" />
    <circle :cx="x" cy="10" r="4" class="dot" />
  </svg>
</template>

<style scoped>
.plan-mark {
  display: inline-block;
  vertical-align: middle;
}
.tie,
.tick {
  stroke: var(--ink);
  stroke-width: 2;
}
.tick {
  stroke: var(--ember);
  stroke-width: 2.5;
}
.dot {
  fill: var(--harbour);
}
</style>
