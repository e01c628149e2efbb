<script setup lang="ts">
import {
  grownOn,
  inBoth,
  type MeasuredCode,
  type MeasuredColumn,
  type MeasuredQuery,
  type MeasuredRow,
  type MeasuredTable,
  type Source,
  type Span,
  type Table,
  MEASURES,
  MEASURE_CODES,
  TYPED_CODES,
} from '@dravex/core';
import { useEventListener } from '@vueuse/core';
import { computed, toRef } from 'vue';
import { columnHeading } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import { isTypedInto } from '../shell/use-keys.ts';
import { useFrame } from '../shell/use-frame.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';
import {
  cellsOnDemand,
  type Dress,
  type GridCell,
  type GridEdit,
  type GridPlace,
  type GridRow,
  type TableEdit,
} from './plan-grid.ts';
import PlanGrid from './PlanGrid.vue';
import { measureInWords, TOTAL, typedCell, withTotal } from './table-rows.ts';
import { TEXTS } from './texts.ts';
import { useFolding } from './use-folding.ts';
import { useRowOrder } from './use-order.ts';
import type { RowAction } from './GridMenu.vue';
import { numberKey, type CommentsOn } from '../threads/use-threads.ts';

/** A table of the core in the plan grid: one or several measures, on rows or on columns. */
const props = defineProps<{
  /** Its name, under which it is remembered what is folded. */
  label: string;
  table: MeasuredTable;
  query: MeasuredQuery;
  /** Where the numbers come from: what the trace is asked for. */
  source: Source;
  /** Whose numbers they are; of a forecast those of closed months are from the books. */
  dress: Dress;
  /** How many cells with entries lie below each number. */
  entries?: Table | undefined;
  /** Which numbers were entered by hand only: 1 where they were. */
  byHand?: Table | undefined;
  editable?: boolean;
  refused?: ReadonlyMap<string, string>;
  waiting?: ReadonlyMap<string, string>;
  /** Rows below the total, and how a number of them came about, with the months it stands for. */
  below?: readonly GridRow[];
  askBelow?: (row: string, place: number, span: Span) => Asked | undefined;
  /** Rows that stay in sight at the upper end, by their keys; undefined where none can be pinned. */
  pinned?: readonly string[];
  /** Rows down to this level are open. */
  depth?: number;
  /** Measure, unit, period and state in words, for files and for paper. */
  about?: string;
  /** Whether links to save it as it is shown stand below it. */
  saves?: boolean;
  /** A column's own heading, where it is not that of its period. */
  headingOf?: (key: string) => string | undefined;
  /** Rows in which something is to be checked, by their keys. */
  waits?: ReadonlySet<string> | undefined;
  /** Where numbers are commented on: which have been, and how to look at what was said. */
  comments?: CommentsOn | undefined;
}>();
const emit = defineEmits<{
  edit: [edits: (TableEdit & { measure: MeasuredCode })[]];
  pin: [row: string];
}>();

const plan = usePlan();
const { formats, unit, calendar, rowHeading } = useFrame();
const { turnOrder, arrowOf } = useRowOrder();

const across = computed(() => props.query.columns === 'measures');
const overTime = computed(() => props.query.columns === 'time');
const rows = computed(() => props.table.rows);
const depth = toRef(() => props.depth ?? 1);
const { visible, toggle, unfold } = useFolding(rows, depth, props.label.toLowerCase());

const headingOf = (column: MeasuredColumn): string =>
  column.measure
    ? measureInWords(column.measure, unit.value, formats.value)
    : (props.headingOf?.(column.key) ??
      columnHeading(column, props.query.span, calendar.value.fiscalStart));
const columns = computed(() => {
  const own = props.table.columns.map((column) => ({
    key: column.key,
    heading: headingOf(column),
    ...arrowOf(column.key),
    closed: column.period !== null && column.period.to <= plan.closedThrough,
    ...(across.value || overTime.value ? {} : { size: 116 }),
  }));
  if (across.value) return own;
  const heading = overTime.value ? WORDS.total : TEXTS.all;
  return withTotal(heading, own, arrowOf(TOTAL));
});

/** A table of marks by the keys of its rows. */
type Marks = ReadonlyMap<string, Table['total']>;
function marksOf(table: Table | undefined): Marks {
  return new Map(table ? [...table.rows, table.total].map((row) => [row.key, row]) : []);
}
const marks = computed(() => ({
  typedOver: marksOf(props.entries),
  byHand: marksOf(props.byHand),
}));
/** The row that a further measure is a line of; its own where it is none. */
function rowKey({ key, line }: MeasuredRow): string {
  return line ? key.slice(0, key.lastIndexOf(' ')) : key;
}
function isMarked(all: Marks, row: MeasuredRow, place: number): boolean {
  const own = all.get(rowKey(row));
  return ((across.value || place < 0 ? own?.total : own?.cells[place])?.value ?? 0) > 0;
}
/** What is typed over in a forecast; everything else follows from it, and bears no mark of its own. */
const TYPED: ReadonlySet<string> = new Set(TYPED_CODES);
const several = computed(() => props.query.measures.length > 1 && !across.value);

/** Whose numbers a column has, before anybody changed them. */
function ownDress(place: number): Dress {
  if (props.dress !== 'forecast') return props.dress;
  const { period } = props.table.columns[place] ?? { period: null };
  const { to } = period ?? props.query.span;
  const asKept = props.source.kind === 'forecast' && props.source.kept;
  return to <= plan.closedThrough && !asKept ? 'books' : 'forecast';
}
/** How a number is dressed, and what its tooltip says of that. */
function dressOf(
  { typedOver, byHand }: typeof marks.value,
  row: MeasuredRow,
  place: number,
  incomplete: boolean,
  code: MeasuredCode,
): { readonly dress: Dress; readonly why: string } {
  if (incomplete) return { dress: 'missing', why: TEXTS.incompleteInputBelowIsMissing };
  const counts = props.dress !== 'forecast' || TYPED.has(code);
  if (counts && isMarked(typedOver, row, place)) return { dress: 'entries', why: '' };
  const dress = ownDress(place);
  return dress === 'books' && isMarked(byHand, row, place)
    ? { dress: 'typed', why: TEXTS.enteredByHandNotIn }
    : { dress, why: '' };
}

function toRow(row: MeasuredRow & { folded?: boolean }, strong: boolean): GridRow {
  const shift = across.value ? 0 : 1;
  const [now, size] = [formats.value, unit.value];
  // Cells are made when they come into sight: what they are made from is taken hold of here.
  const marked = marks.value;
  const { table, comments } = props;
  const isCommented = (at: GridPlace): boolean => {
    const found = comments && comments.open.size > 0 ? placeOf(at) : undefined;
    return found !== undefined && (comments?.open.has(numberKey(found)) ?? false);
  };
  return {
    key: row.key,
    label: row.line ? MEASURES[row.measure].name : row.label,
    ...(several.value && !row.line ? { tail: MEASURES[row.measure].name.toLowerCase() } : {}),
    level: row.level + (row.line ? 1 : 0),
    parent: row.parent && !row.line,
    folded: row.folded ?? false,
    strong: strong && !row.line,
    quiet: row.line,
    waits: props.waits?.has(row.key) ?? false,
    pinned: row.line ? undefined : props.pinned?.includes(row.key),
    cells: cellsOnDemand(row.cells.length + shift, (index): GridCell => {
      const place = index - shift;
      const cell = (place < 0 ? row.total : row.cells[place]) ?? row.total;
      const code = props.table.columns[place]?.measure ?? row.measure;
      const { display } = MEASURES[code];
      const { value, incomplete } = cell;
      const { dress, why } = dressOf(marked, row, place, incomplete, code);
      return {
        text: now.show(value, display, size) + (incomplete && value !== null ? '*' : ''),
        ...typedCell(value, display, size, now),
        dress,
        title: now.full(value, display) + why,
        commented: isCommented({ row: row.key, column: table.columns[place]?.key ?? TOTAL }),
      };
    }),
  };
}
const gridRows = computed(() => visible.value.map((row) => toRow(row, row.level === 0)));
const pins = computed(() => {
  const wanted = new Set(props.pinned ?? []);
  const inSight = rows.value.filter((row) => wanted.has(rowKey(row)));
  return inSight.map((row) => ({
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
    ...toRow({ ...row, parent: false, label: several.value ? TEXTS.all : row.label }, true),
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
    span: { from: span.from, to: span.to, days: span.days },
    before: before && { from: before.from, to: before.to, days: before.days },
    whole: inBoth(plan.tree, query.scope, member),
  };
}

/** How a number came about. */
function ask(place: GridPlace): Asked | undefined {
  const found = placeOf(place);
  if (!found) {
    const index = props.table.columns.findIndex(({ key }) => key === place.column);
    const span = props.table.columns[index]?.period ?? props.query.span;
    return props.askBelow?.(place.row, index + 1, span);
  }
  const { measure, scope, span, before, whole } = found;
  const { source } = props;
  const plain = MEASURE_CODES.find((code) => code === measure);
  return questioned(
    plain
      ? { kind: 'table', source, measure: plain, scope, span }
      : { kind: 'measured', source, measure, scope, span, before, whole },
  );
}

function cellActions(place: GridPlace): RowAction[] {
  const { comments } = props;
  const found = comments && placeOf(place);
  return found ? [{ name: WORDS.comment, act: () => comments.look(found) }] : [];
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
  if (!row || !props.pinned) return;
  emit('pin', rowKey(row));
}
useEventListener(document, 'keydown', pinVisited);
</script>

<template>
  <PlanGrid
    :label="label"
    :about="about"
    :saves="saves"
    :heading="rowHeading"
    :columns="columns"
    :rows="gridRows"
    :pinned="pins"
    :totals="totals"
    :editable="editable"
    :refused="refused"
    :waiting="waiting"
    sortable
    :ask="ask"
    :cell-actions="cellActions"
    :findable="rows"
    @toggle="(key) => toggle(plainKey(key))"
    @unfold="unfold"
    @place="visited = plainKey($event.row)"
    @edit="edit"
    @order="turnOrder"
    @pin="(key) => emit('pin', plainKey(key))"
  />
</template>
