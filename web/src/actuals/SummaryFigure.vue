<script setup lang="ts">
import { type SummaryMeasure, MEASURES } from '@dravex/core';
import { useFrame } from '../shell/use-frame.ts';

/** A number of the summary with what stands beside it: its share, its growth on the year before. */
defineProps<{
  figure: {
    readonly value: number | null;
    readonly share: number | null;
    readonly before: number | null;
    readonly growth: number | null;
  };
  measure: SummaryMeasure;
  shares: boolean;
  compared: boolean;
}>();
const emit = defineEmits<{ open: [] }>();
const { formats, unit } = useFrame();
</script>

<template>
  <button
    type="button"
    class="bare figure"
    :title="formats.full(figure.value, MEASURES[measure].display)"
    @click="emit('open')"
  >
    {{ formats.show(figure.value, MEASURES[measure].display, unit) }}
  </button>
  <span v-if="shares && figure.share !== null" class="beside">{{
    formats.show(figure.share, 'percent')
  }}</span>
  <span
    v-if="compared"
    class="beside"
    :title="`a year before ${formats.show(figure.before, MEASURES[measure].display, unit)}`"
    >{{ formats.signed(figure.growth, 'percent') }}</span
  >
</template>

<style scoped>
.figure:hover {
  text-decoration: underline dotted;
  text-underline-offset: 3px;
}
.beside {
  display: block;
  font-size: 10.5px;
  font-weight: 400;
  color: var(--ink-quiet);
  line-height: 1.1;
}
</style>
