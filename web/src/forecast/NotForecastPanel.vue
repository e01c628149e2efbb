<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useFrame } from '../shell/use-frame.ts';
import type { SoldNotForecast } from '../computation/forecast-answers.ts';
import SidePanel from '../shell/SidePanel.vue';

/** Combinations that are sold and not forecast: what they brought, and a click to forecast them. */
const props = defineProps<{
  lines: readonly SoldNotForecast[];
  editable: boolean;
  busy: boolean;
}>();
const emit = defineEmits<{ make: [combinations: number[]]; close: [] }>();
const { formats, unit } = useFrame();

const chosen = ref<number[]>([]);
watch(
  () => props.lines,
  (lines) => (chosen.value = lines.map(({ combination }) => combination)),
  { immediate: true },
);
const total = computed(() => props.lines.reduce((sum, { revenue }) => sum + revenue, 0));
</script>

<template>
  <SidePanel
    about="Not forecast"
    heading="Sold, and not forecast"
    closing="Close the list"
    @close="emit('close')"
  >
    <p class="quiet">
      Revenue of the last twelve closed months, {{ formats.unitName(unit) }}, in all
      {{ formats.show(total, 'money', unit) }}. It counts in actuals; the months ahead have nothing
      for it. A stream starts as volume × price, with units as sold a year before.
    </p>
    <ul>
      <li v-for="line in lines" :key="line.combination">
        <label>
          <input v-if="editable" v-model="chosen" type="checkbox" :value="line.combination" />
          <span class="what">{{ line.label }}</span>
          <b>{{ formats.show(line.revenue, 'money', unit) }}</b>
          <span class="quiet">last in {{ line.last }}</span>
        </label>
      </li>
    </ul>
    <button
      v-if="editable"
      type="button"
      class="primary"
      :disabled="chosen.length === 0 || busy"
      @click="emit('make', [...chosen])"
    >
      Make {{ chosen.length === 1 ? 'a stream of it' : `streams of these ${chosen.length}` }}
    </button>
  </SidePanel>
</template>

<style scoped>
li label {
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: 2px 6px;
  padding: 3px 0;
  border-bottom: 1px solid var(--line-soft);
}
li .quiet {
  grid-column: 2;
}
b {
  font-variant-numeric: tabular-nums;
}
</style>
