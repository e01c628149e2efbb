<script setup lang="ts">
import { computed } from 'vue';
import type { Mark } from './plan-grid.ts';

/** A tick stands where it should be; a dot tied to it, or a bar, shows where it is. */
const props = defineProps<{ mark: Mark; width: number }>();

/** So much room is left at the edges, for the dot and the tick. */
const EDGE = 8;
const drawn = computed(() => {
  const { mark, width } = props;
  const middle = width / 2;
  if (mark.kind === 'difference') {
    const off = mark.widest > 0 ? (mark.is - mark.should) / mark.widest : 0;
    return { from: middle, is: middle + off * (middle - EDGE), tick: middle };
  }
  const at = (value: number): number =>
    mark.full > 0 ? Math.min(1, Math.max(0, value / mark.full)) * (width - EDGE) : 0;
  return { from: 0, is: at(mark.is), tick: mark.should === null ? undefined : at(mark.should) };
});
</script>

<template>
  <svg :width="width" height="20" aria-hidden="true" class="plan-mark">
    <template v-if="mark.kind === 'difference'">
      <line :x1="drawn.from" y1="10" :x2="drawn.is" y2="10" class="tie" />
      <line :x1="drawn.tick" y1="3" :x2="drawn.tick" y2="17" class="tick" />
      <circle :cx="drawn.is" cy="10" r="4" class="dot" />
    </template>
    <template v-else>
      <line x1="0" y1="17.5" :x2="width - EDGE" y2="17.5" class="base" />
      <rect x="0" y="6" :width="drawn.is" height="8" :class="mark.ahead ? 'ahead' : 'now'" />
      <line
        v-if="drawn.tick !== undefined"
        :x1="drawn.tick"
        y1="2"
        :x2="drawn.tick"
        y2="18"
        class="tick"
      />
    </template>
  </svg>
</template>

<style scoped>
.plan-mark {
  display: inline-block;
  vertical-align: middle;
}
.tie {
  stroke: var(--ink);
  stroke-width: 2;
}
.tick {
  stroke: var(--ember);
  stroke-width: 2.5;
}
.dot,
.now {
  fill: var(--harbour);
}
.base {
  stroke: var(--line);
}
.ahead {
  fill: none;
  stroke: var(--harbour);
  stroke-width: 1.6;
  stroke-dasharray: 4 3;
}
</style>
