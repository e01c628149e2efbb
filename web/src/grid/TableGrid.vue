<script setup lang="ts">
import { computed } from 'vue';
import type { Table, TableQuery } from '@dravex/core';
import { columnHeading } from '../format/periods.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import type { Dress, GridRow } from './plan-grid.ts';
import PlanGrid from './PlanGrid.vue';
import { toGridRow, withTotal } from './table-rows.ts';
import { useFolding } from './use-folding.ts';

/** A table of the core in the plan grid, to be read: rows that fold, the total at the lower end. */
const props = defineProps<{
  label: string;
  table: Table;
  query: TableQuery;
  /** Whose numbers columns without time, and the totals, hold. */
  dress: Dress;
  /** Rows below the total. */
  below?: readonly GridRow[];
  /** A column's own heading, where it is not that of its period. */
  headingOf?: (key: string) => string | undefined;
}>();

const plan = usePlan();
const { formats, unit, calendar, rowHeading } = useFrame();

const rows = computed(() => props.table.rows);
const { visible, toggle } = useFolding(rows, 1);
const overTime = computed(() => props.query.columns === 'time');

const columns = computed(() =>
  withTotal(
    overTime.value ? 'Total' : 'All',
    props.table.columns.map((column) => {
      const own = props.headingOf?.(column.key);
      return {
        key: column.key,
        heading: own ?? columnHeading(column, props.query.span, calendar.value.fiscalStart),
        closed: column.period !== null && column.period.to <= plan.closedThrough,
        ...(overTime.value ? {} : { size: 116 }),
        ...(own === undefined ? {} : { size: 84 }),
      };
    }),
  ),
);
const showing = computed(() => ({
  measure: props.query.measure,
  unit: unit.value,
  formats: formats.value,
  dressOf: (key: string): Dress => {
    const period = props.table.columns.find((column) => column.key === key)?.period;
    return period && period.to <= plan.closedThrough && props.dress === 'forecast'
      ? 'books'
      : props.dress;
  },
}));
const gridRows = computed(() =>
  visible.value.map((row) => toGridRow(row, props.table, showing.value, row.level === 0)),
);
const totals = computed(() => [
  toGridRow({ ...props.table.total, parent: false }, props.table, showing.value, true),
  ...(props.below ?? []),
]);
</script>

<template>
  <PlanGrid
    :label="label"
    :heading="rowHeading"
    :columns="columns"
    :rows="gridRows"
    :totals="totals"
    @toggle="toggle"
  />
</template>
