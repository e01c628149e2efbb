<script setup lang="ts">
import { monthFrom } from '@dravex/core';
import { computed } from 'vue';
import { longMonth } from '../format/periods.ts';
import type { OverrideLine } from '../computation/forecast-answers.ts';
import { WORDS } from '../format/words.ts';
import { useFrame } from '../shell/use-frame.ts';
import Term from '../kit/Term.vue';
import SidePanel from '../shell/SidePanel.vue';
import ForecastRecord from './ForecastRecord.vue';
import { TEXTS } from './texts.ts';

/** Manual overrides of the forecast, with reasons; removed one by one, or all. */
const props = defineProps<{ lines: readonly OverrideLine[]; editable: boolean }>();
const emit = defineEmits<{ drop: [lines: readonly OverrideLine[] | 'all']; close: [] }>();
const { formats, scope } = useFrame();

/** Cells of one typing stand together: the same reason, person and measure. */
const groups = computed(() => {
  const found = new Map<string, OverrideLine[]>();
  for (const line of props.lines) {
    const { by, why, measure } = line.override;
    const key = JSON.stringify([by, why, measure]);
    found.set(key, [...(found.get(key) ?? []), line]);
  }
  return [...found].flatMap(([key, lines]) => {
    const [first] = lines;
    return first ? [{ key, lines, ...first.override }] : [];
  });
});
const show = ({ override, computed: before }: OverrideLine, which: 'typed' | 'computed'): string =>
  formats.value.show(
    which === 'typed' ? override.value : before,
    override.measure === 'units' ? 'units' : 'price',
  );
const SHOWN = 12;
</script>

<template>
  <SidePanel :heading="TEXTS.manualOverrides" @close="emit('close')">
    <p class="quiet">
      <Term of="override">{{ TEXTS.manualOverrides }}</Term>
      {{ TEXTS.stayWhenDriversChangeEmptying }}
    </p>
    <ForecastRecord :scope="scope" />
    <section v-for="group in groups" :key="group.key">
      <p>
        {{ group.why === '' ? TEXTS.noReasonGiven : `“${group.why}”` }}
        <span class="quiet">{{ TEXTS.cellsOf(group.by, group.lines.length, group.measure) }}</span>
        <v-btn v-if="editable" variant="plain" @click="emit('drop', group.lines)">
          {{ TEXTS.removeThese }}
        </v-btn>
      </p>
      <ul>
        <li
          v-for="line in group.lines.slice(0, SHOWN)"
          :key="`${line.override.combination} ${line.override.month}`"
        >
          <span class="what"
            >{{ line.label }}, {{ longMonth(monthFrom(line.override.month)) }}</span
          >
          <b>{{ show(line, 'typed') }}</b>
          <span class="quiet">{{ TEXTS.calculated(show(line, 'computed')) }}</span>
          <v-btn v-if="editable" variant="plain" @click="emit('drop', [line])">
            {{ WORDS.remove }}
          </v-btn>
        </li>
        <li v-if="group.lines.length > SHOWN" class="quiet">
          {{ TEXTS.andMoreCells(group.lines.length - SHOWN) }}
        </li>
      </ul>
    </section>
    <v-btn v-if="editable && lines.length > 0" color="primary" @click="emit('drop', 'all')">
      {{ TEXTS.removeAll(lines.length) }}
    </v-btn>
  </SidePanel>
</template>

<style scoped>
li {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
  padding: 3px 0;
  border-bottom: 1px solid var(--line-soft);
}
.what {
  width: 100%;
}
b {
  font-variant-numeric: tabular-nums;
}
</style>
