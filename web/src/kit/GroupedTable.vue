<script setup lang="ts">
import { WORDS } from '../format/words.ts';
import SheetTable from './SheetTable.vue';

/** Lines under headings of their own, a column a period after their totals; numbers as texts. */
export interface GroupedLine {
  readonly key: string;
  readonly name: string;
  readonly total: string;
  readonly cells: readonly string[];
  /** What stands at the end of a month, and carries over: set in bold. */
  readonly strong?: boolean;
  /** A line that says more of the one above it. */
  readonly below?: boolean;
}
export interface LineGroup {
  readonly name: string;
  readonly lines: readonly GroupedLine[];
}
defineProps<{ about: string; headings: readonly string[]; groups: readonly LineGroup[] }>();
</script>

<template>
  <SheetTable :about="about" class="dense">
    <thead>
      <tr>
        <th scope="col"></th>
        <th scope="col">{{ WORDS.total }}</th>
        <th v-for="heading in headings" :key="heading" scope="col">{{ heading }}</th>
      </tr>
    </thead>
    <tbody v-for="group in groups" :key="group.name">
      <tr>
        <th scope="colgroup" class="group" :colspan="headings.length + 2">{{ group.name }}</th>
      </tr>
      <tr
        v-for="line in group.lines"
        :key="line.key"
        :class="{ strong: line.strong, below: line.below, quiet: line.below }"
      >
        <th scope="row">{{ line.name }}</th>
        <td class="total">{{ line.total }}</td>
        <td v-for="(cell, place) in line.cells" :key="place">{{ cell }}</td>
      </tr>
    </tbody>
  </SheetTable>
</template>

<style scoped>
.below th[scope='row'] {
  padding-left: 20px;
  color: var(--ink-quiet);
}
.group {
  font-weight: 620;
  padding-top: 6px;
}
.total,
.strong th,
.strong td {
  font-weight: 620;
}
</style>
