<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { dayInWords } from '../format/periods.ts';
import { pagesOf } from './pages.ts';
import type { GridColumn, GridRow } from './plan-grid.ts';
import { TEXTS } from './texts.ts';

/**
 * A table as it is printed: all of its rows, which the grid on the screen only draws while they
 * are in sight, and all of its columns, on as many pages as they need. Made when somebody prints.
 */
const props = defineProps<{
  label: string;
  heading: string;
  columns: readonly GridColumn[];
  rows: readonly GridRow[];
  totals?: readonly GridRow[] | undefined;
  /** What every page says of itself: workspace, scope, period, version, unit. */
  about: readonly string[];
}>();

const pages = computed(() => pagesOf(props.columns));
const all = computed(() => [...props.rows, ...(props.totals ?? [])]);
/** The same with the day. */
const words = computed(() => {
  const today = dayInWords(new Date().toISOString().slice(0, 10));
  return [...props.about, TEXTS.printedOn(today)].join(', ');
});
const count = computed(() => props.columns.filter(({ total }) => total !== true).length);

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
  <template v-if="printing">
    <table
      v-for="page in pages"
      :key="page.from"
      class="printed sheet-table"
      :aria-label="pages.length > 1 ? TEXTS.columnsTo(label, page.from, page.to) : label"
    >
      <thead>
        <tr>
          <th :colspan="page.places.length + 1" class="about">
            {{ words
            }}<template v-if="pages.length > 1">{{
              TEXTS.columnsToOf(page.from, page.to, count)
            }}</template>
          </th>
        </tr>
        <tr>
          <th scope="col">{{ heading }}</th>
          <th v-for="place in page.places" :key="place" scope="col">
            {{ columns[place]?.heading }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="row in all"
          :key="row.key"
          :class="{ outer: row.strong, total: totals?.includes(row) && row.strong }"
        >
          <td :style="{ paddingLeft: `${8 + row.level * 12}px` }">
            {{ row.label }}<template v-if="row.tail">, {{ row.tail }}</template>
          </td>
          <td v-for="place in page.places" :key="place">
            {{ row.cells.at(place)?.text }} {{ row.cells.at(place)?.beside }}
          </td>
        </tr>
      </tbody>
    </table>
  </template>
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
  .printed + .printed {
    break-before: page;
  }
  .printed tr {
    break-inside: avoid;
  }
  .printed .about {
    text-align: left;
    font-weight: 400;
  }
}
</style>
