<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref } from 'vue';
import type { GridColumn, GridRow } from './plan-grid.ts';

/**
 * A table as it is printed: all of its rows, which the grid on the screen only draws while they
 * are in sight. Made when somebody prints.
 */
defineProps<{
  label: string;
  heading: string;
  columns: readonly GridColumn[];
  rows: readonly GridRow[];
  totals?: readonly GridRow[] | undefined;
}>();

const printing = ref(false);
const begin = (): void => void (printing.value = true);
const end = (): void => void (printing.value = false);
const media = window.matchMedia('print');
const follow = (): void => void (printing.value = media.matches);
onMounted(() => {
  window.addEventListener('beforeprint', begin);
  window.addEventListener('afterprint', end);
  media.addEventListener('change', follow);
});
onBeforeUnmount(() => {
  window.removeEventListener('beforeprint', begin);
  window.removeEventListener('afterprint', end);
  media.removeEventListener('change', follow);
});
</script>

<template>
  <table v-if="printing" class="printed sheet-table" :aria-label="label">
    <thead>
      <tr>
        <th scope="col">{{ heading }}</th>
        <th v-for="column in columns" :key="column.key" scope="col">{{ column.heading }}</th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="row in [...rows, ...(totals ?? [])]"
        :key="row.key"
        :class="{ outer: row.strong, total: totals?.includes(row) && row.strong }"
      >
        <td :style="{ paddingLeft: `${8 + row.level * 12}px` }">
          {{ row.label }}<template v-if="row.tail">, {{ row.tail }}</template>
        </td>
        <td v-for="(column, index) in columns" :key="column.key">
          {{ row.cells.at(index)?.text }}
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.printed {
  display: none;
}
@media print {
  .printed {
    display: table;
    font-size: 10px;
  }
  .printed td {
    height: auto;
    padding: 2px 4px;
  }
  .printed tr {
    break-inside: avoid;
  }
}
</style>
