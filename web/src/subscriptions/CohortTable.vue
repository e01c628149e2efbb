<script setup lang="ts">
import { shortMonth } from '../format/periods.ts';
import SheetTable from '../kit/SheetTable.vue';
import { useFrame } from '../shell/use-frame.ts';
import { keptOf, type CohortRow } from './cohort-row.ts';
import { TEXTS } from './texts.ts';

/** Cohorts one below the other: how many are left, or which part; shaded by the part that is left. */
const props = defineProps<{
  about: string;
  headings: readonly string[];
  rows: readonly CohortRow[];
  /** How many there are, which part that is, or what they bring. */
  as: 'count' | 'percent' | 'money';
}>();
const { formats } = useFrame();
const count = (value: number | null): string => formats.value.show(value, 'units', 1);
function textOf(row: CohortRow, value: number | null): string {
  if (value === null) return '';
  if (props.as === 'percent') return formats.value.show(keptOf(row, value), 'percent');
  // One cohort brings little: in thousands all of them would look alike.
  return props.as === 'money' ? formats.value.show(value, 'money') : count(value);
}
/** Shade says which part is left; of money which part of the month that brought most. */
const most = (row: CohortRow): number => Math.max(0, ...row.cells.map((value) => value ?? 0));
const shade = (row: CohortRow, value: number | null): number =>
  (props.as === 'money' ? keptOf({ size: most(row) }, value) : keptOf(row, value)) ?? 0;
const worseInWords = ({ worse }: CohortRow): string =>
  worse ? TEXTS.lostThoseBeforeWouldHave(count(worse.lost), count(worse.expected)) : '';
</script>

<template>
  <SheetTable :about="about" class="dense">
    <thead>
      <tr>
        <th scope="col" class="words">{{ TEXTS.startedIn }}</th>
        <th scope="col">{{ TEXTS.subscribers }}</th>
        <th v-for="heading in headings" :key="heading" scope="col">{{ heading }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="`${row.start} ${row.before}`">
        <th scope="row" class="words">
          {{ shortMonth(row.start, true) }}
          <span v-if="row.before" class="quiet">{{ TEXTS.thereBefore }}</span>
          <span v-if="row.worse" class="bad" :title="worseInWords(row)">
            <span aria-hidden="true">◇</span> {{ TEXTS.leavesFaster }}
            <span class="hidden-but-read">{{ worseInWords(row) }}</span>
          </span>
        </th>
        <td class="size">{{ count(row.size) }}</td>
        <td
          v-for="(value, place) in row.cells"
          :key="place"
          class="kept"
          :class="{ open: place >= row.forecastFrom }"
          :style="{ '--left': shade(row, value) }"
        >
          {{ textOf(row, value) }}
        </td>
      </tr>
    </tbody>
  </SheetTable>
</template>

<style scoped>
tbody th {
  position: sticky;
  left: 0;
  background: var(--surface);
}
.size {
  font-weight: 620;
}
.bad {
  color: var(--bad);
}
.kept {
  background: color-mix(in srgb, var(--harbour) calc(var(--left) * 22%), transparent);
}
/* What is forecast is written in the forecast's colour, as everywhere. */
.open {
  color: var(--harbour);
  font-style: italic;
}
</style>
