<script setup lang="ts">
import { DRIVERS, type Driver, type DriverKind, type DriverUse } from '@dravex/core';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import { TEXTS } from './texts.ts';

/**
 * All drivers: by use (those of the forecast, one's own, those that nothing uses), or
 * by kind.
 */
const props = defineProps<{
  drivers: readonly Driver[];
  uses: readonly DriverUse[];
  chosen: string;
  editable: boolean;
}>();
const emit = defineEmits<{ choose: [code: string]; add: [] }>();

/** By what they feed, or by what their values are. */
const by = ref<'use' | 'kind'>('use');
const KINDS: readonly { name: string; kinds: readonly DriverKind[] }[] = [
  { name: TEXTS.counts, kinds: ['count', 'wholeCount'] },
  { name: TEXTS.money, kinds: ['money', 'moneyPerUnit'] },
  { name: TEXTS.percentages, kinds: ['percent'] },
  { name: TEXTS.numbers, kinds: ['ratio'] },
  { name: TEXTS.choices, kinds: ['yesNo', 'choice'] },
];
const BUILT_IN = new Set(DRIVERS.map(({ code }) => code));
const groups = computed(() => {
  const byCode = new Map(props.uses.map((use) => [use.code, use]));
  const lines = props.drivers.map((driver) => ({ driver, use: byCode.get(driver.code) }));
  const feeds = (line: (typeof lines)[number]): boolean => (line.use?.streams ?? 0) > 0;
  const own = ({ driver }: (typeof lines)[number]): boolean => !BUILT_IN.has(driver.code);
  if (by.value === 'kind') {
    return KINDS.map(({ name, kinds }) => ({
      name,
      lines: lines.filter(({ driver }) => kinds.includes(driver.kind)),
    })).filter((group) => group.lines.length > 0);
  }
  return [
    { name: TEXTS.usedInForecast, lines: lines.filter((line) => feeds(line) && !own(line)) },
    { name: TEXTS.yourOwn, lines: lines.filter(own) },
    {
      name: TEXTS.notUsed,
      lines: lines.filter((line) => !feeds(line) && !own(line)),
    },
  ].filter((group) => group.lines.length > 0);
});
/** A link can lead to a driver far down the list. */
const tree = useTemplateRef<HTMLElement>('tree');
watch(
  [tree, () => props.chosen, by],
  () => tree.value?.querySelector('[aria-selected="true"]')?.scrollIntoView({ block: 'nearest' }),
  { flush: 'post' },
);
function said({ use }: { use: DriverUse | undefined }): string {
  if (!use || use.streams === 0) {
    if (use && use.formulas.length > 0) return TEXTS.usedByFormulaOnly;
    // The group says that they feed nothing; what is set all the same is said of each.
    if (!use || (BUILT_IN.has(use.code) && (by.value === 'use' || use.assumptions > 0))) {
      return use && use.assumptions > 0 ? TEXTS.inputsWithoutEffect(use.assumptions) : '';
    }
    return TEXTS.notUsedLower;
  }
  const streams = TEXTS.forecastLinesOf(use.streams);
  if (use.missing > 0) return TEXTS.missingInOf(use.missing, streams);
  return use.byDefault > 0 ? TEXTS.withTheDefault(streams, use.byDefault) : streams;
}
</script>

<template>
  <nav ref="tree" class="tree" :aria-label="WORDS.drivers">
    <v-btn-toggle
      v-model="by"
      class="by"
      mandatory
      density="compact"
      :aria-label="TEXTS.groupDrivers"
    >
      <v-btn variant="plain" value="use">{{ TEXTS.byUse }}</v-btn>
      <v-btn variant="plain" value="kind">{{ TEXTS.byKind }}</v-btn>
    </v-btn-toggle>
    <v-list role="tablist" :aria-label="TEXTS.driver" aria-orientation="vertical">
      <template v-for="group in groups" :key="group.name">
        <v-list-subheader role="presentation">{{ group.name }}</v-list-subheader>
        <v-list-item
          v-for="line in group.lines"
          :key="line.driver.code"
          role="tab"
          class="tab"
          :active="line.driver.code === chosen"
          :aria-selected="line.driver.code === chosen"
          :aria-label="line.driver.name"
          :title="`${line.driver.formula ? 'ƒ ' : ''}${line.driver.name}`"
          @click="emit('choose', line.driver.code)"
        >
          <v-list-item-subtitle
            v-if="said(line)"
            :class="{
              waits:
                (line.use?.missing ?? 0) > 0 ||
                ((line.use?.streams ?? 0) === 0 && (line.use?.assumptions ?? 0) > 0),
            }"
          >
            {{ said(line) }}
          </v-list-item-subtitle>
        </v-list-item>
      </template>
    </v-list>
    <v-btn v-if="editable" class="add" @click="emit('add')">{{ TEXTS.addDriver }}</v-btn>
  </nav>
</template>

<style scoped>
.tree {
  width: 186px;
  flex: none;
  overflow: auto;
  border-right: 1px solid var(--line);
  padding-right: 8px;
}
.by {
  gap: 12px;
  height: 24px;
  margin-left: 8px;
}
.v-list {
  background: none;
}
.tab {
  border-left: 2px solid transparent;
}
.tab[aria-selected='true'] {
  background: var(--surface);
  font-weight: 620;
  border-left-color: var(--ember);
}
.v-list-item-subtitle {
  font-size: 11px;
  line-height: 1.4;
  letter-spacing: 0;
  opacity: 1;
  color: var(--ink-quiet);
  -webkit-line-clamp: 2;
}
.v-list-item-subtitle.waits {
  color: var(--ember-ink);
}
.add {
  margin: 10px 0 0 6px;
}
</style>
