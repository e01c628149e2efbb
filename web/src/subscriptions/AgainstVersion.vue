<script setup lang="ts">
import { computed } from 'vue';
import GroupedTable, { type LineGroup } from '../kit/GroupedTable.vue';
import { useFrame } from '../shell/use-frame.ts';
import { bridgeLines, type Against } from './bridge-lines.ts';
import { bridgeInWords } from './bridge-words.ts';
import { TEXTS } from './texts.ts';

/** The subscriptions of the scope beside a version: how far they are from it, and by what. */
const props = defineProps<{
  /** Undefined where there is no version. */
  against: Against | undefined;
  headings: readonly string[];
}>();
const { formats, unit } = useFrame();
const groups = computed((): LineGroup[] => {
  const { name = '', bridge } = props.against ?? {};
  if (!bridge) return [];
  return bridgeLines(name, bridge).map(({ title, display, lines }) => ({
    name: display === 'money' ? `${title}, ${formats.value.unitName(unit.value)}` : title,
    lines: lines.map((line) => {
      const show = (value: number | null): string =>
        formats.value.show(value, display, display === 'money' ? unit.value : 1);
      const { values, total, ...rest } = line;
      return { ...rest, key: `${title} ${line.name}`, total: show(total), cells: values.map(show) };
    }),
  }));
});
const words = computed(() => {
  const { name = '', bridge } = props.against ?? {};
  return bridge ? bridgeInWords(bridge, name, formats.value) : '';
});
</script>

<template>
  <p v-if="!against" class="quiet">
    {{ TEXTS.thereIsNoVersionTo }}
  </p>
  <p v-else-if="!against.bridge" class="quiet">
    {{ TEXTS.wasSavedWithoutSubscriptionsSave(against.name) }}
  </p>
  <template v-else>
    <p role="status" class="words" data-bridge>{{ words }}.</p>
    <GroupedTable
      :about="TEXTS.recurringRevenueAndForecastOpen(against.name)"
      :headings="headings"
      :groups="groups"
    />
    <p class="quiet words">
      {{ TEXTS.eachStepIsWhatIts }}
    </p>
  </template>
</template>

<style scoped>
.words {
  padding: 8px;
}
</style>
