<script setup lang="ts">
import type { FunnelLine } from '@dravex/core';
import { computed } from 'vue';
import { columnHeading } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';

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
  { kind: 'source', name: 'Enter from' },
  { kind: 'step', name: 'Pass' },
  { kind: 'cost', name: 'Cost of' },
  { kind: 'units', name: 'Units brought by' },
  { kind: 'revenue', name: 'Revenue brought by' },
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
    No stream of this scope is forecast by a funnel. A method is chosen under Methods.
  </p>
  <p v-else-if="data && data.table.periods.length === 0" class="quiet">
    This window has no open month: a funnel is computed for the months ahead.
  </p>
  <div v-else-if="data" class="funnels" tabindex="0" role="region" aria-label="Funnels">
    <table>
      <caption class="quiet">
        {{
          data.table.streams
        }}
        {{
          data.table.streams === 1 ? 'funnel' : 'funnels'
        }}
        of this scope, open months
      </caption>
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
            <th scope="row" class="rate">of what came before</th>
            <td></td>
            <td v-for="(rate, place) in line.rates" :key="place">
              {{ formats.show(rate, 'percent') }}
            </td>
          </tr>
        </template>
      </tbody>
    </table>
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
table {
  border-collapse: collapse;
  font-size: 12px;
  font-variant-numeric: tabular-nums;
}
caption {
  text-align: left;
  padding: 4px 8px;
}
th,
td {
  padding: 2px 8px;
  text-align: right;
  white-space: nowrap;
  font-weight: 400;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--surface);
  color: var(--ink-quiet);
  border-bottom: 1px solid var(--ink);
}
tbody th {
  text-align: left;
  min-width: 190px;
}
.group {
  font-weight: 620;
  padding-top: 6px;
  border-bottom: 1px solid var(--line);
}
.rate {
  padding-left: 20px;
}
.total {
  font-weight: 620;
}
</style>
