<script setup lang="ts">
import { METHODS, monthFrom } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { stillSold } from '../format/not-forecast.ts';
import { longMonth } from '../format/periods.ts';
import { useFrame } from '../shell/use-frame.ts';
import type { SoldNotForecast } from '../computation/forecast-answers.ts';
import SidePanel from '../shell/SidePanel.vue';
import { TEXTS } from './texts.ts';

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
  (lines) => {
    chosen.value = stillSold(lines).map(({ combination }) => combination);
  },
  { immediate: true },
);
const total = computed(() => props.lines.reduce((sum, { revenue }) => sum + revenue, 0));
</script>

<template>
  <SidePanel :heading="TEXTS.soldWithoutForecast" @close="emit('close')">
    <p class="quiet">
      {{
        TEXTS.revenueOfLastTwelveClosed(formats.unitName(unit), formats.show(total, 'money', unit))
      }}
    </p>
    <ul>
      <li v-for="line in lines" :key="line.combination">
        <v-checkbox
          v-if="editable"
          v-model="chosen"
          :value="line.combination"
          :label="line.label"
        />
        <span v-else>{{ line.label }}</span>
        <b>{{ formats.show(line.revenue, 'money', unit) }}</b>
        <span class="quiet">
          {{
            TEXTS.lastSoldIn(
              METHODS[line.method].name,
              longMonth(monthFrom(line.last)),
              line.discontinued,
            )
          }}
        </span>
      </li>
    </ul>
    <v-btn
      v-if="editable"
      color="primary"
      variant="flat"
      :disabled="chosen.length === 0 || busy"
      @click="emit('make', [...chosen])"
    >
      {{ TEXTS.add(chosen.length) }}
    </v-btn>
  </SidePanel>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 6px;
  align-items: center;
  padding: 2px 0;
  border-bottom: 1px solid var(--line-soft);
}
li .quiet {
  grid-column: 1 / -1;
  padding-left: 28px;
}
b {
  font-variant-numeric: tabular-nums;
}
</style>
