<script setup lang="ts">
import { DRIVERS, type Driver, type DriverKind, type DriverUse } from '@dravex/core';
import { computed, ref } from 'vue';

/**
 * All drivers: by what they feed (those that streams read, one's own, those that feed nothing), or
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
  { name: 'Counts', kinds: ['count', 'wholeCount'] },
  { name: 'Money', kinds: ['money', 'moneyPerUnit'] },
  { name: 'Percentages', kinds: ['percent'] },
  { name: 'Numbers', kinds: ['ratio'] },
  { name: 'Choices', kinds: ['yesNo', 'choice'] },
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
    { name: 'Read by streams', lines: lines.filter((line) => feeds(line) && !own(line)) },
    { name: 'Your own', lines: lines.filter(own) },
    {
      name: 'Feed nothing',
      lines: lines.filter((line) => !feeds(line) && !own(line)),
    },
  ].filter((group) => group.lines.length > 0);
});
function said({ use }: { use: DriverUse | undefined }): string {
  if (!use || use.streams === 0) {
    if (use && use.formulas.length > 0) return 'read by a formula only';
    // The group says that they feed nothing; what is set all the same is said of each.
    if (!use || (BUILT_IN.has(use.code) && (by.value === 'use' || use.assumptions > 0))) {
      return use && use.assumptions > 0 ? `${use.assumptions} assumptions without effect` : '';
    }
    return 'feeds nothing';
  }
  const streams = `${use.streams} ${use.streams === 1 ? 'stream' : 'streams'}`;
  if (use.missing > 0) return `missing in ${use.missing} of ${streams}`;
  return use.byDefault > 0 ? `${streams}, ${use.byDefault} by default` : streams;
}
</script>

<template>
  <nav class="tree" aria-label="Drivers">
    <p class="by" role="group" aria-label="Drivers in order of">
      <button type="button" class="link" :aria-pressed="by === 'use'" @click="by = 'use'">
        by use
      </button>
      <button type="button" class="link" :aria-pressed="by === 'kind'" @click="by = 'kind'">
        by kind
      </button>
    </p>
    <div role="tablist" aria-label="Driver" aria-orientation="vertical">
      <template v-for="group in groups" :key="group.name">
        <p class="group" role="presentation">{{ group.name }}</p>
        <button
          v-for="line in group.lines"
          :key="line.driver.code"
          type="button"
          role="tab"
          class="tab"
          :aria-selected="line.driver.code === chosen"
          :aria-label="line.driver.name"
          :title="said(line)"
          @click="emit('choose', line.driver.code)"
        >
          <span class="name">{{ line.driver.formula ? 'ƒ ' : '' }}{{ line.driver.name }}</span>
          <span
            class="said"
            :class="{
              waits:
                (line.use?.missing ?? 0) > 0 ||
                ((line.use?.streams ?? 0) === 0 && (line.use?.assumptions ?? 0) > 0),
            }"
            >{{ said(line) }}</span
          >
        </button>
      </template>
    </div>
    <button v-if="editable" type="button" class="chip add" @click="emit('add')">
      + a driver of your own
    </button>
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
  display: flex;
  gap: 12px;
  margin: 0 0 0 8px;
  font-size: 12px;
}
.by button {
  min-height: 24px;
}
.by [aria-pressed='true'] {
  color: var(--ink);
  font-weight: 620;
  border-bottom-color: transparent;
}
.group {
  font-size: 11px;
  color: var(--ink-quiet);
  margin: 8px 0 2px 8px;
}
.group:first-child {
  margin-top: 0;
}
.tab {
  display: block;
  width: 100%;
  font: inherit;
  text-align: left;
  color: var(--ink);
  background: none;
  border: 0;
  border-left: 2px solid transparent;
  padding: 3px 6px;
  cursor: pointer;
}
.tab[aria-selected='true'] {
  background: var(--surface);
  font-weight: 620;
  border-left-color: var(--ember);
}
.name,
.said {
  display: block;
}
.said {
  font-size: 11px;
  font-weight: 400;
  color: var(--ink-quiet);
}
.said.waits {
  color: var(--ember-ink);
}
.add {
  margin: 10px 0 0 6px;
}
</style>
