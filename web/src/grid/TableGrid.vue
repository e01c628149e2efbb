<script setup lang="ts">
import { computed } from 'vue';
import { inBoth, type Source, type Span, type Table, type TableQuery } from '@dravex/core';
import { columnHeading } from '../format/periods.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useTrace } from '../trace/use-trace.ts';
import type { Dress, GridEdit, GridPlace, GridRow, TableEdit } from './plan-grid.ts';
import PlanGrid from './PlanGrid.vue';
import { TOTAL, toGridRow, withTotal } from './table-rows.ts';
import { useFolding } from './use-folding.ts';
import { useOrder } from './use-order.ts';

/** A table of the core in the plan grid, to be read: rows that fold, the total at the lower end. */
const props = defineProps<{
  label: string;
  table: Table;
  query: TableQuery;
  /** Where the numbers come from: what the trace is asked for. */
  source: Source;
  /** Whose numbers columns without time, and the totals, hold. */
  dress: Dress;
  /** How many cells with entries lie below each number. */
  entries?: Table | undefined;
  editable?: boolean;
  refused?: ReadonlyMap<string, string>;
  waiting?: ReadonlyMap<string, string>;
  /** Rows below the total. */
  below?: readonly GridRow[];
  /** A column's own heading, where it is not that of its period. */
  headingOf?: (key: string) => string | undefined;
}>();

const emit = defineEmits<{
  edit: [edits: TableEdit[]];
  /** A number of a row below the total was asked for, with the months it stands for. */
  below: [row: string, place: number, span: Span];
}>();

const plan = usePlan();
const trace = useTrace();
const { formats, unit, calendar, rowHeading } = useFrame();

const all = computed(() => props.table.rows);
const {
  ordered: rows,
  turn,
  arrowOf,
} = useOrder(all, (row, column) => {
  const place = props.table.columns.findIndex(({ key }) => key === column);
  return (column === TOTAL ? row.total : row.cells[place])?.value ?? null;
});
const { visible, toggle } = useFolding(rows, 1, props.label);
const overTime = computed(() => props.query.columns === 'time');

const columns = computed(() =>
  withTotal(
    overTime.value ? 'Total' : 'All',
    props.table.columns.map((column) => {
      const own = props.headingOf?.(column.key);
      return {
        key: column.key,
        ...arrowOf(column.key),
        heading: own ?? columnHeading(column, props.query.span, calendar.value.fiscalStart),
        closed: column.period !== null && column.period.to <= plan.closedThrough,
        ...(overTime.value ? {} : { size: 116 }),
        ...(own === undefined ? {} : { size: 84 }),
      };
    }),
    arrowOf(TOTAL),
  ),
);
const entriesByRow = computed(
  () =>
    new Map(
      props.entries
        ? [...props.entries.rows, props.entries.total].map((row) => [row.key, row])
        : [],
    ),
);
/** Whether entries lie below a number of the table. */
function hasEntries(
  byRow: ReadonlyMap<string, Table['total']>,
  row: string,
  column: string,
): boolean {
  const own = byRow.get(row);
  if (!own) return false;
  const place = props.table.columns.findIndex(({ key }) => key === column);
  return ((column === TOTAL ? own.total : own.cells[place])?.value ?? 0) > 0;
}
const showing = computed(() => ({
  // Cells are made when they come into sight: what they are made from is taken hold of here.
  hasEntries: hasEntries.bind(undefined, entriesByRow.value),
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
/** The scope and the months of a number. */
function placeOf({ row, column }: GridPlace): Pick<TableEdit, 'scope' | 'span'> | undefined {
  const { table, query } = props;
  const found = row === table.total.key ? table.total : table.rows.find(({ key }) => key === row);
  if (!found) return undefined;
  const at = table.columns.find(({ key }) => key === column);
  const member = at && !at.period ? [Number(at.key)] : [];
  const scope = inBoth(plan.tree, inBoth(plan.tree, found.scope, query.scope), member);
  return { scope, span: at?.period ?? query.span };
}

function visit(place: GridPlace): void {
  const found = placeOf(place);
  if (!found) {
    const index = props.table.columns.findIndex(({ key }) => key === place.column);
    const span = props.table.columns[index]?.period ?? props.query.span;
    if (trace.open) emit('below', place.row, index + 1, span);
    return;
  }
  const { source, query } = props;
  const { from, to } = found.span;
  const span = { from, to };
  const question = {
    kind: 'table',
    source,
    measure: query.measure,
    scope: found.scope,
    span,
  } as const;
  if (trace.open) trace.ask(question);
  else trace.follow(question);
}

function edit(edits: readonly GridEdit[]): void {
  emit(
    'edit',
    edits.flatMap((one) => {
      const found = placeOf(one);
      return found ? [{ ...one, ...found }] : [];
    }),
  );
}
</script>

<template>
  <PlanGrid
    :label="label"
    :heading="rowHeading"
    :columns="columns"
    :rows="gridRows"
    :totals="totals"
    :editable="editable"
    :total-editable="editable"
    :refused="refused"
    :waiting="waiting"
    sortable
    @toggle="toggle"
    @order="turn"
    @place="visit"
    @edit="edit"
    @editing="plan.editing = $event"
    @trace="trace.unfold()"
    @select="plan.selection = $event"
    @say="(text) => (plan.said = { text })"
  />
</template>
