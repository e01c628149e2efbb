<script setup lang="ts">
import type { FunnelLine } from '@dravex/core';
import { computed } from 'vue';
import { columnHeading } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import SheetTable from '../kit/SheetTable.vue';

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
  { kind: 'source', name: 'Sources' },
  { kind: 'step', name: 'Steps' },
  { kind: 'cost', name: 'Cost' },
  { kind: 'units', name: 'Units' },
  { kind: 'revenue', name: 'Revenue' },
];
const groups = computed(() =>
  GROUPS.map(({ kind, name }) => ({
    name:
      kind === 'cost' || kind === 'revenue'
        ? `${name}, ${formats.value.unitName(unit.value)}`
        : name,
    kind,
    lines: (data.value?.table.lines ?? []).filter((line) => line.kind === kind),
  })).filter(({ lines }) => lines.length > 0),
);
function show(kind: FunnelLine['kind'], value: number | null): string {
  return kind === 'cost' || kind === 'revenue'
    ? formats.value.show(value, 'money', unit.value)
    : formats.value.show(value, 'units', 1);
}
</script>

<template>
  <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
  <p v-else-if="data && data.table.streams === 0" class="quiet">
    No forecast line here uses a funnel. Choose one under Methods.
  </p>
  <p v-else-if="data && data.table.periods.length === 0" class="quiet">
    This period has no open months: funnels are calculated for the months ahead.
  </p>
  <div v-else-if="data" class="funnels" tabindex="0" role="region" aria-label="Funnels">
    <SheetTable
      :about="`${data.table.streams} ${data.table.streams === 1 ? 'funnel' : 'funnels'}, open months`"
    >
      <thead>
        <tr>
          <th scope="col"></th>
          <th scope="col">Total</th>
          <th v-for="heading in headings" :key="heading" scope="col">{{ heading }}</th>
        </tr>
      </thead>
      <tbody v-for="group in groups" :key="group.kind">
        <tr>
          <th scope="colgroup" class="group" :colspan="headings.length + 2">{{ group.name }}</th>
        </tr>
        <template v-for="line in group.lines" :key="line.name">
          <tr>
            <th scope="row">{{ line.name }}</th>
            <td class="total">{{ show(line.kind, line.total) }}</td>
            <td
              v-for="(value, place) in line.values"
              :key="place"
              :title="formats.full(value, 'units')"
            >
              {{ show(line.kind, value) }}
            </td>
          </tr>
          <tr v-if="line.rates.length > 0" class="quiet">
            <th scope="row" class="rate">of the step before</th>
            <td></td>
            <td v-for="(rate, place) in line.rates" :key="place">
              {{ formats.show(rate, 'percent') }}
            </td>
          </tr>
        </template>
      </tbody>
    </SheetTable>
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
.group {
  font-weight: 620;
  padding-top: 6px;
}
.rate {
  padding-left: 20px !important;
}
.total {
  font-weight: 620;
}
</style>
