<script setup lang="ts">
import { computed } from 'vue';

/** A bar shows where it is, a tick where it should be; both on one scale from zero. */
const props = defineProps<{ now: number; should: number | null; forecast?: boolean }>();

const WIDTH = 260;
const scale = computed(() => Math.max(props.now, props.should ?? 0, 1) * 1.06);
const length = computed(() => (Math.max(0, props.now) / scale.value) * WIDTH);
const tick = computed(() =>
  props.should === null ? null : (Math.max(0, props.should) / scale.value) * WIDTH,
);
</script>

<template>
  <svg :width="WIDTH" height="22" aria-hidden="true">
    <line x1="0" y1="19.5" :x2="WIDTH" y2="19.5" class="base" />
    <rect x="0" y="6" :width="length" height="10" :class="forecast ? 'ahead' : 'now'" />
    <line v-if="tick !== null" :x1="tick" y1="2" :x2="tick" y2="20" class="tick" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  max-width: 100%;
}
.base {
  stroke: var(--line);
}
.now {
  fill: var(--harbour);
}
.ahead {
  fill: none;
  stroke: var(--harbour);
  stroke-width: 1.6;
  stroke-dasharray: 4 3;
}
.tick {
  stroke: var(--ember);
  stroke-width: 2.5;
}
</style>
