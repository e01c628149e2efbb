<script setup lang="ts">
import {
  grownOn,
  inBoth,
  type MeasuredCode,
  type MeasuredColumn,
  type MeasuredQuery,
  type MeasuredRow,
  type MeasuredTable,
  type Span,
  type Table,
  MEASURES,
  MEASURE_CODES,
  FORECAST,
} from '@dravex/core';
import { useEventListener } from '@vueuse/core';
import { computed, toRef } from 'vue';
import { columnHeading } from '../format/periods.ts';
import { cellsOnDemand, type Dress, type GridCell } from '../grid/plan-grid.ts';
import type { GridEdit, GridPlace, GridRow, TableEdit } from '../grid/plan-grid.ts';
import PlanGrid from '../grid/PlanGrid.vue';
import { TOTAL, typedCell, withTotal } from '../grid/table-rows.ts';
import { useFolding } from '../grid/use-folding.ts';
import { usePlan } from '../plan/use-plan.ts';
import { isTypedInto } from '../shell/use-keys.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useTrace } from '../trace/use-trace.ts';

/** The forecast's table in the plan grid: one or several measures, on rows or on columns. */
const props = defineProps<{
  table: MeasuredTable;
  query: MeasuredQuery;
  /** How many cells are typed over below each number. */
  entries?: Table | undefined;
  editable?: boolean;
  refused?: ReadonlyMap<string, string>;
  waiting?: ReadonlyMap<string, string>;
  below?: readonly GridRow[];
  /** Rows that stay in sight at the upper end, by their keys. */
  pinned: readonly string[];
  /** Rows down to this level are open. */
  depth: number;
}>();
const emit = defineEmits<{
  edit: [edits: (TableEdit & { measure: MeasuredCode })[]];
  /** A number of a row below the total was asked for, with the months it stands for. */
  below: [row: string, place: number, span: Span];
  order: [column: string];
  pin: [row: string];
}>();

const plan = usePlan();
const trace = useTrace();
const { formats, unit, calendar, rowHeading } = useFrame();

const across = computed(() => props.query.columns === 'measures');
const overTime = computed(() => props.query.columns === 'time');
const rows = computed(() => props.table.rows);
const { visible, toggle } = useFolding(rows, toRef(props, 'depth'), 'forecast');

const ARROWS = { true: '↓', false: '↑' } as const;
/** Where rows are in order by a column: which way. */
function ordered(key: string): { ordered?: string } {
  const { order } = props.query;
  return order?.column === key ? { ordered: ARROWS[`${order.descending}`] } : {};
}
/** A measure's name with its unit, for the head of its column. */
function measureHeading(code: MeasuredCode): string {
  const { name, display } = MEASURES[code];
  if (display === 'percent') return name;
  if (display === 'price') return `${name}, ${formats.value.currency}`;
  const size = unit.value === 1 ? '' : unit.value === 1000 ? 'thousand ' : 'million ';
  return display === 'money'
    ? `${name}, ${size}${formats.value.currency}`
    : size === ''
      ? name
      : `${name}, ${size.trim()}`;
}
const headingOf = (column: MeasuredColumn): string =>
  column.measure
    ? measureHeading(column.measure)
    : columnHeading(column, props.query.span, calendar.value.fiscalStart);
const columns = computed(() => {
  const own = props.table.columns.map((column) => ({
    key: column.key,
    heading: headingOf(column),
    ...ordered(column.key),
    closed: column.period !== null && column.period.to <= plan.closedThrough,
    ...(across.value
      ? { size: 40 + 6.4 * headingOf(column).length }
      : overTime.value
        ? {}
        : { size: 116 }),
  }));
  if (across.value) return own;
  const heading = overTime.value ? 'Total' : 'All';
  return withTotal(heading, own, ordered(TOTAL));
});

/** Only sums of money and units are typed over; the rest follows from them. */
const isTyped = (code: MeasuredCode): boolean => code === 'revenue' || code === 'units';
const typedOver = computed(
  () =>
    new Map(
      props.entries
        ? [...props.entries.rows, props.entries.total].map((row) => [row.key, row])
        : [],
    ),
);
function isTypedOver(over: typeof typedOver.value, row: MeasuredRow, place: number): boolean {
  const own = over.get(row.line ? row.key.slice(0, row.key.lastIndexOf(' ')) : row.key);
  if (!own) return false;
  return ((across.value || place < 0 ? own.total : own.cells[place])?.value ?? 0) > 0;
}
const several = computed(() => props.query.measures.length > 1 && !across.value);

function dressOf(
  over: typeof typedOver.value,
  row: MeasuredRow,
  place: number,
  incomplete: boolean,
  code: MeasuredCode,
): Dress {
  if (incomplete) return 'missing';
  if (isTyped(code) && isTypedOver(over, row, place)) return 'entries';
  const { period } = props.table.columns[place] ?? { period: null };
  const closed = period
    ? period.to <= plan.closedThrough
    : props.query.span.to <= plan.closedThrough;
  return closed ? 'books' : 'forecast';
}

function toRow(row: MeasuredRow & { folded?: boolean }, strong: boolean): GridRow {
  const shift = across.value ? 0 : 1;
  const { formats: now } = { formats: formats.value };
  const size = unit.value;
  // Cells are made when they come into sight: what they are made from is taken hold of here.
  const over = typedOver.value;
  return {
    key: row.key,
    label: row.line ? MEASURES[row.measure].name : row.label,
    ...(several.value && !row.line ? { tail: MEASURES[row.measure].name.toLowerCase() } : {}),
    level: row.level + (row.line ? 1 : 0),
    parent: row.parent && !row.line,
    folded: row.folded ?? false,
    strong: strong && !row.line,
    quiet: row.line,
    pinned: row.line ? undefined : props.pinned.includes(row.key),
    cells: cellsOnDemand(row.cells.length + shift, (index): GridCell => {
      const place = index - shift;
      const cell = (place < 0 ? row.total : row.cells[place]) ?? row.total;
      const code = props.table.columns[place]?.measure ?? row.measure;
      const { display } = MEASURES[code];
      const { value, incomplete } = cell;
      return {
        text: now.show(value, display, size) + (incomplete && value !== null ? '*' : ''),
        ...typedCell(value, display, size, now),
        dress: dressOf(over, row, place, incomplete, code),
        title: `${now.full(value, display)}${incomplete ? ', incomplete: an input below is missing' : ''}`,
      };
    }),
  };
}
const gridRows = computed(() => visible.value.map((row) => toRow(row, row.level === 0)));
const pins = computed(() => {
  const wanted = new Set(props.pinned);
  const isPinned = ({ key, line }: MeasuredRow): boolean =>
    wanted.has(line ? key.slice(0, key.lastIndexOf(' ')) : key);
  return rows.value.filter(isPinned).map((row) => ({
    ...toRow({ ...row, parent: false, level: 0, label: labelOf(row) }, false),
    key: `pin ${row.key}`,
  }));
});
/** A pinned row stands without those above it: it names them. */
function labelOf({ scope, label }: MeasuredRow): string {
  return scope.length > 1 ? plan.tree.label(scope) : label;
}
const totals = computed(() => [
  ...props.table.totals.map((row) => ({
    ...toRow({ ...row, parent: false, label: several.value ? 'All' : row.label }, true),
    pinned: undefined,
  })),
  ...(props.below ?? []),
]);

const plainKey = (key: string): string => key.replace(/^pin /, '');
/** The measure, the scope and the months of a number. */
function placeOf({ row, column }: GridPlace) {
  const { table, query } = props;
  const key = plainKey(row);
  const found = [...table.totals, ...table.rows].find((one) => one.key === key);
  if (!found) return undefined;
  const at = table.columns.find((one) => one.key === column);
  const member = at && !at.period && !at.measure ? [Number(at.key)] : [];
  const scope = inBoth(plan.tree, inBoth(plan.tree, found.scope, query.scope), member);
  const measure = at?.measure ?? found.measure;
  const span = at?.period ?? query.span;
  const before = grownOn(measure, query.span, at?.period ?? null, query.grain);
  return {
    measure,
    scope,
    span: { from: span.from, to: span.to },
    before: before && { from: before.from, to: before.to },
    whole: inBoth(plan.tree, query.scope, member),
  };
}

function visit(place: GridPlace): void {
  visited = plainKey(place.row);
  const found = placeOf(place);
  if (!found) {
    const index = props.table.columns.findIndex(({ key }) => key === place.column);
    const span = props.table.columns[index]?.period ?? props.query.span;
    if (trace.open) emit('below', place.row, index + 1, span);
    return;
  }
  const { measure, scope, span, before, whole } = found;
  const source = FORECAST;
  const plain = MEASURE_CODES.find((code) => code === measure);
  const question = plain
    ? { kind: 'table' as const, source, measure: plain, scope, span }
    : { kind: 'measured' as const, source, measure, scope, span, before, whole };
  if (trace.open) trace.ask(question);
  else trace.follow(question);
}

function edit(edits: readonly GridEdit[]): void {
  emit(
    'edit',
    edits.flatMap((one) => {
      const found = placeOf(one);
      return found ? [{ ...one, row: plainKey(one.row), ...found }] : [];
    }),
  );
}

/** The row somebody was in last, which `p` pins. */
let visited = '';
function pinVisited(event: KeyboardEvent): void {
  if (event.key !== 'p' || event.ctrlKey || event.metaKey || event.altKey) return;
  if (isTypedInto(event.target)) return;
  const row = rows.value.find(({ key }) => key === visited);
  if (!row) return;
  emit('pin', row.line ? row.key.slice(0, row.key.lastIndexOf(' ')) : row.key);
}
useEventListener(document, 'keydown', pinVisited);
</script>

<template>
  <PlanGrid
    label="Forecast"
    :heading="rowHeading"
    :columns="columns"
    :rows="gridRows"
    :pinned="pins"
    :totals="totals"
    :editable="editable"
    :total-editable="editable"
    :refused="refused"
    :waiting="waiting"
    sortable
    :name-width="several ? 250 : undefined"
    @toggle="(key) => toggle(plainKey(key))"
    @place="visit"
    @edit="edit"
    @order="(key) => emit('order', key)"
    @pin="(key) => emit('pin', plainKey(key))"
    @editing="plan.editing = $event"
    @trace="trace.unfold()"
    @select="plan.selection = $event"
    @say="(text) => (plan.said = { text })"
  />
</template>
