<script setup lang="ts">
import type { FunnelLine } from '@dravex/core';
import { computed } from 'vue';
import { columnHeading } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import GroupedTable, { type GroupedLine, type LineGroup } from '../kit/GroupedTable.vue';
import { TEXTS } from './texts.ts';

/** The funnels of the scope: what enters from where, what passes each step, and what it brings. */
const plan = usePlan();
const { formats, unit, calendar, scope, span, grain } = useFrame();
const { data, failure } = useAnswer([scope, span, grain, () => plan.tick], async () => ({
  span: { ...span.value },
  table: await plan.compute().funnels([...scope.value], { ...span.value }, grain.value),
}));
const headings = computed(() =>
  (data.value?.table.periods ?? []).map((period) =>
    columnHeading(
      { key: period.key, label: period.key, period },
      data.value?.span ?? span.value,
      calendar.value.fiscalStart,
    ),
  ),
);
const GROUPS: readonly { kind: FunnelLine['kind']; name: string }[] = [
  { kind: 'source', name: TEXTS.sources },
  { kind: 'step', name: WORDS.steps },
  { kind: 'cost', name: TEXTS.cost },
  { kind: 'units', name: WORDS.units },
  { kind: 'revenue', name: WORDS.revenue },
];
const MONEY: ReadonlySet<string> = new Set(['cost', 'revenue']);
const groups = computed((): LineGroup[] =>
  GROUPS.map(({ kind, name }) => ({
    name: MONEY.has(kind) ? `${name}, ${formats.value.unitName(unit.value)}` : name,
    lines: (data.value?.table.lines ?? []).filter((line) => line.kind === kind).flatMap(linesOf),
  })).filter(({ lines }) => lines.length > 0),
);
/** A line, and below that of a step which part of the step before passes it. */
function linesOf({ kind, name, values, rates, total }: FunnelLine): GroupedLine[] {
  const show = (value: number | null): string =>
    MONEY.has(kind)
      ? formats.value.show(value, 'money', unit.value)
      : formats.value.show(value, 'units', 1);
  const line = { key: `${kind} ${name}`, name, total: show(total), cells: values.map(show) };
  if (rates.length === 0) return [line];
  const cells = rates.map((rate) => formats.value.show(rate, 'percent'));
  return [
    line,
    { key: `${line.key} rate`, name: TEXTS.ofStepBefore, total: '', cells, below: true },
  ];
}
</script>

<template>
  <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
  <p v-else-if="data && data.table.streams === 0" class="quiet">
    {{ TEXTS.noForecastLineHereUses }}
  </p>
  <p v-else-if="data && data.table.periods.length === 0" class="quiet">
    {{ TEXTS.thisPeriodHasNoOpen }}
  </p>
  <div v-else-if="data" class="funnels" tabindex="0" role="region" :aria-label="TEXTS.funnels">
    <GroupedTable
      :about="TEXTS.funnelsOpenMonths(data.table.streams)"
      :headings="headings"
      :groups="groups"
    />
  </div>
</template>

<style scoped>
.funnels {
  overflow: auto;
  height: 270px;
  flex: none;
  background: var(--surface);
  border-top: 1px solid var(--ink);
}
</style>
