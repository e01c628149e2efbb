<script setup lang="ts">
import { computed } from 'vue';

/** A tick stands where it should be, a dot where it is; the line between them is the difference. */
const props = defineProps<{
  plan: number;
  actual: number;
  /** The largest difference of the table: the scale of all its rows. */
  widest: number;
  judgement: 'good' | 'bad' | 'even';
}>();

const WIDTH = 150;
const MIDDLE = WIDTH / 2;
const x = computed(() =>
  props.widest > 0 ? MIDDLE + ((props.actual - props.plan) / props.widest) * (MIDDLE - 6) : MIDDLE,
);
</script>

<template>
  <svg :width="WIDTH" height="20" aria-hidden="true" :class="judgement">
    <line :x1="MIDDLE" y1="10" :x2="x" y2="10" class="difference" />
    <line :x1="MIDDLE" y1="3" :x2="MIDDLE" y2="17" class="tick" />
    <circle :cx="x" cy="10" r="4" class="dot" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}
.tick {
  stroke: var(--ember);
  stroke-width: 2.5;
}
.dot {
  fill: var(--harbour);
}
.difference {
  stroke: var(--ink-quiet);
  stroke-width: 2;
}
.good .difference {
  stroke: var(--good);
}
.bad .difference {
  stroke: var(--bad);
}
</style>
