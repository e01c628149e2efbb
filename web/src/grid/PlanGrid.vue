<script setup lang="ts">
import { onLongPress } from '@vueuse/core';
import { computed, inject, nextTick, onBeforeUnmount, ref, watch } from 'vue';
import { usePlan, type SelectedCell } from '../plan/use-plan.ts';
import { inWords } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useTrace, type Asked } from '../trace/use-trace.ts';
import { findRow, type FindableRow } from './find-row.ts';
import { saveGrid, SHOWN_TABLE } from './grid-file.ts';
import FindRow from './FindRow.vue';
import { GridHead } from './grid-head.ts';
import { GridLine } from './grid-line.ts';
import GridMenu, { type GridAction, type RowAction } from './GridMenu.vue';
import type { GridColumn, GridEdit, GridPlace, GridRow } from './plan-grid.ts';
import './plan-grid.css';
import PrintedTable from './PrintedTable.vue';
import { blockOf } from './spots.ts';
import { TEXTS } from './texts.ts';
import { useGridPointer } from './use-grid-pointer.ts';
import { useGridTyping } from './use-grid-typing.ts';
import { ROW, useGridView } from './use-grid-view.ts';
import { byRow, useLineSelection } from './use-line-selection.ts';

/**
 * The table of the plan: rows of a tree by columns, with typing, paste, fill and delete. One field
 * has the focus all the time and takes every key; it lies over the active cell. Rows and columns
 * out of sight are not drawn.
 */
const props = defineProps<{
  label: string;
  /** The heading of the rows' names. */
  heading: string;
  columns: readonly GridColumn[];
  rows: readonly GridRow[];
  /** Rows that stay in sight at the upper end. */
  pinned?: readonly GridRow[];
  /** Rows that stay in sight at the lower end. */
  totals?: readonly GridRow[];
  editable?: boolean;
  /** Whether rows can be put in order by a column. */
  sortable?: boolean;
  /** Where they can be by their names too: an arrow where they are, else empty. */
  nameOrdered?: string;
  /** Why cells were refused, by `row column`. */
  refused?: ReadonlyMap<string, string>;
  /** What was typed and is not kept yet, by `row column`. */
  waiting?: ReadonlyMap<string, string>;
  nameWidth?: number | undefined;
  /** Measure, unit, period and state in words, for files and for paper. */
  about?: string | undefined;
  /** Whether links to save it as a file stand below it. */
  saves?: boolean;
  /** All rows that can be found, those included that are folded away; the rows where it is left out. */
  findable?: readonly FindableRow[];
  /** The row that an address leads to: the grid goes there once it is in it. */
  at?: string | undefined;
  /** How the number of a cell came about; the trace follows the active cell. */
  ask?: (place: GridPlace) => Asked | undefined;
  /** Whether nobody can say how its numbers came about: those that come from the server as they are. */
  untraced?: boolean;
  /** What can be done with a row besides, offered by the right button. */
  rowActions?: (row: string) => readonly RowAction[];
  /** What can be done with a cell besides. */
  cellActions?: (place: GridPlace) => readonly RowAction[];
  /** Whether a row can be taken by its name and dropped on another one. */
  moves?: (row: string) => boolean;
}>();
const emit = defineEmits<{
  edit: [edits: GridEdit[]];
  toggle: [key: string];
  /** A row that is folded away is wanted in sight. */
  unfold: [key: string];
  /** Somebody went to a cell. */
  place: [place: GridPlace];
  /** Rows are to be put in order by a column. */
  order: [column: string];
  pin: [row: string];
  /** A row was dropped on another one. */
  move: [row: string, onto: string];
  /** Somebody asks what the number of a cell is made of. */
  explain: [place: GridPlace];
}>();

const plan = usePlan();
const trace = useTrace();
const { scope, subject } = useFrame();

/** So many selected cells are added up at the most. */
const MOST_ADDED = 20_000;

const NONE: readonly GridRow[] = [];
const above = computed(() => props.pinned ?? NONE);
const below = computed(() => props.totals ?? NONE);
const all = computed(() => [...above.value, ...props.rows, ...below.value]);

const scroller = ref<HTMLElement>();
const field = ref<HTMLInputElement>();
const after = ref<HTMLElement>();
const before = ref<HTMLElement>();
const view = useGridView(scroller, {
  label: () => props.label,
  columns: () => props.columns,
  above: () => above.value,
  rows: () => props.rows,
  below: () => below.value,
  nameWidth: () => props.nameWidth,
});
const { drawnColumns, drawnRows, sheetWidth, widths, frameWidth } = view;

const typing = useGridTyping({
  rows: () => all.value,
  columns: () => props.columns,
  field: () => {
    const input = field.value;
    if (!input) return undefined;
    return {
      get value() {
        return input.value;
      },
      set value(text: string) {
        input.value = text;
        typed.value = text;
      },
      toEnd: () => input.setSelectionRange(input.value.length, input.value.length),
    };
  },
  page: () => Math.floor(view.roomHeight.value / ROW) - 1,
  editable: () => props.editable === true,
  edit: (edits) => emit('edit', edits),
  visit(place) {
    emit('place', place);
    const asked = props.ask?.(place);
    if (asked) trace.follow(asked);
  },
  fold: (row) => emit('toggle', row.key),
  find: look,
  explain: (place) => emit('explain', place),
  leave: (back) => (back ? before.value : after.value)?.focus(),
  say: (text) => (plan.said = { text }),
});
const { mode, selected } = typing;

const finder = ref<{ open(): void }>();
function look(): void {
  finder.value?.open();
}
const missed = ref(false);
async function find(words: string, next: boolean): Promise<void> {
  const key = findRow(props.findable ?? all.value, activeCell.value?.row.key, words, next);
  missed.value = key === undefined && words.trim() !== '';
  if (key !== undefined) await bringToRow(key);
}
async function bringToRow(key: string): Promise<void> {
  if (!all.value.some((row) => row.key === key)) {
    emit('unfold', key);
    await nextTick();
  }
  typing.goToRow(key);
}
/** Where an address has led already: whoever moves on stays there. */
let ledTo: string | undefined;
watch(
  [() => props.at, () => props.findable ?? all.value],
  ([key, rows]) => {
    if (key === undefined || key === ledTo || !rows.some((row) => row.key === key)) return;
    ledTo = key;
    void bringToRow(key);
  },
  { immediate: true, flush: 'post' },
);
function found(): void {
  missed.value = false;
  takeFocus();
}
/** What stands in the field, for its width. */
const typed = ref('');
watch(mode, (now, old) => {
  if ((now === 'rest') !== (old === 'rest')) plan.editing = now !== 'rest';
});
const focused = ref(false);

const bySelection = useLineSelection(
  () => selected.value,
  () => props.editable === true,
);
const refusedByRow = computed(() => byRow(props.refused));
const waitingByRow = computed(() => byRow(props.waiting));

/** The field lies over the active cell. */
const fieldStyle = computed(() => {
  const active = selected.value?.active;
  return active ? view.fieldOver(active, typed.value) : { left: '0', top: '0' };
});
const activeCell = computed(() => {
  const active = selected.value?.active;
  const row = active && all.value[active.row];
  const column = active && props.columns[active.column];
  const cell = row?.cells.at(active?.column ?? -1);
  return row && column && cell ? { row, column, cell } : undefined;
});
/** What a screen reader says of the active cell. */
const fieldLabel = computed(() => {
  const { row, column, cell } = activeCell.value ?? {};
  if (!row || !column || !cell) return props.label;
  const place = `${row.key} ${column.key}`;
  const refusal = props.refused?.get(place);
  // A percent says it itself.
  const unit = cell.unit && cell.unit !== '%' ? ` ${cell.unit}` : '';
  return [
    row.tail ? `${row.label}, ${row.tail}` : row.label,
    column.heading,
    `${props.waiting?.get(place) ?? cell.text}${unit}`,
    ...(refusal === undefined ? [] : [refusal]),
  ].join(', ');
});

watch(
  [selected, frameWidth],
  ([now], [old]) => {
    if (!now) return;
    const moved = now.corner.row !== old?.corner.row || now.corner.column !== old.corner.column;
    view.reveal(moved && !pointer.fills() ? now.corner : now.active);
  },
  { flush: 'post' },
);
watch(selected, (now) => {
  if (!now) return;
  const { top, bottom, left, right } = blockOf(now);
  const count = (bottom - top + 1) * (right - left + 1);
  if (count === 1 || count > MOST_ADDED) {
    plan.selection = [];
    return;
  }
  const cells: SelectedCell[] = [];
  for (let row = top; row <= bottom; row += 1) {
    for (let column = left; column <= right; column += 1) {
      const cell = all.value[row]?.cells.at(column);
      cells.push({ value: cell?.value ?? null, unit: cell?.unit ?? '' });
    }
  }
  plan.selection = cells;
});

function onKey(event: KeyboardEvent): void {
  // Composing and keys that the room has taken are not the grid's.
  if (event.isComposing || event.defaultPrevented) return;
  // The menu is just being opened: keys are meant for it.
  if (menu.value) {
    if (event.key === 'Escape') void closeMenu();
    event.preventDefault();
    return;
  }
  if (typing.press(event)) event.preventDefault();
}
/** What a file or a printed page says of itself. */
const about = computed(() => [
  `${plan.workspace?.name ?? ''}: ${props.label}`,
  ...(scope.value.length > 0 ? [subject.value] : []),
  ...(props.about ? [props.about] : []),
]);
/** Saves the table as it is shown: its rows in their order, those folded away left out. */
async function save(format: 'csv' | 'xlsx'): Promise<void> {
  const { heading, columns, label } = props;
  try {
    await saveGrid(format, label, about.value, { heading, columns, rows: all.value });
  } catch (error) {
    plan.said = { text: error instanceof Error ? error.message : inWords(error) };
  }
}
const pageTable = inject(SHOWN_TABLE, undefined);
if (props.saves && pageTable) {
  pageTable.value = save;
  onBeforeUnmount(() => {
    if (pageTable.value === save) pageTable.value = undefined;
  });
}
const FINGER_STAYS_MS = 500;
/** Where the menu of the right button is open. */
const menu = ref<readonly [number, number]>();
function onMenu(event: MouseEvent): void {
  // Where the menu is called by its key, it is that of the active cell.
  const byKey = event.target === field.value;
  const spot = byKey ? selected.value?.active : pointer.spotAt(event);
  const row = spot?.row ?? pointer.nameAt(event);
  if (row === undefined || mode.value !== 'rest') return;
  event.preventDefault();
  typing.commit();
  // Whoever leaves what is chosen in the menu is back in the table.
  takeFocus();
  const block = selected.value && blockOf(selected.value);
  const column = spot?.column ?? block?.left ?? 0;
  const inside =
    block &&
    row >= block.top &&
    row <= block.bottom &&
    column >= block.left &&
    column <= block.right;
  if (!inside && spot) typing.select(spot);
  else if (!inside) typing.selectRow(row);
  const { left, bottom } = field.value?.getBoundingClientRect() ?? { left: 0, bottom: 0 };
  menu.value = byKey ? [left, bottom] : [event.clientX, event.clientY];
}
// Where there is no right button, a finger that stays where it is opens the menu.
onLongPress(scroller, (event) => event.pointerType === 'touch' && onMenu(event), {
  delay: FINGER_STAYS_MS,
  distanceThreshold: 10,
});
/** Whoever closes the menu is in the table again, unless they went elsewhere. */
async function closeMenu(): Promise<void> {
  menu.value = undefined;
  // While it is open it keeps the focus to itself.
  await nextTick();
  const { activeElement } = document;
  if (activeElement === document.body || activeElement?.closest('.v-menu')) takeFocus();
}
async function choose(action: GridAction): Promise<void> {
  menu.value = undefined;
  takeFocus();
  const place = activeCell.value;
  switch (action) {
    case 'copy':
      await navigator.clipboard.writeText(typing.copied() ?? '');
      return;
    case 'cut':
      await navigator.clipboard.writeText(typing.copied() ?? '');
      typing.clear();
      return;
    case 'paste':
      typing.paste(await navigator.clipboard.readText());
      return;
    case 'clear':
      typing.clear();
      return;
    case 'fillDown':
      typing.fill('down');
      return;
    case 'fillRight':
      typing.fill('right');
      return;
    case 'find':
      look();
      return;
    case 'csv':
    case 'xlsx':
      await save(action);
      return;
    case 'explain':
      if (place) emit('explain', { row: place.row.key, column: place.column.key });
      // The trace follows the active cell: it only has to be opened.
      trace.unfold();
  }
}
/** By how much a column grows or shrinks at once in the menu, in pixels. */
const WIDER = 24;
const moreActions = computed(() => {
  const now = activeCell.value;
  if (!now) return undefined;
  const { row, column } = now;
  const place = { row: row.key, column: column.key };
  // What the small buttons of headings and rows do, for whoever works by keyboard.
  const buttons: RowAction[] = [
    ...(props.sortable
      ? [{ name: TEXTS.sortBy(column.heading), act: () => emit('order', column.key) }]
      : []),
    ...(props.nameOrdered === undefined
      ? []
      : [{ name: TEXTS.sortBy(props.heading), act: () => emit('order', 'name') }]),
    ...(row.pinned === undefined
      ? []
      : [{ name: row.pinned ? TEXTS.unpinRow : TEXTS.pinRow, act: () => emit('pin', row.key) }]),
    { name: TEXTS.widerColumn, act: () => widths.widen(column.key, WIDER) },
    { name: TEXTS.narrowerColumn, act: () => widths.widen(column.key, -WIDER) },
    ...(widths.isSet(column.key)
      ? [{ name: TEXTS.usualWidth, act: () => widths.forget(column.key) }]
      : []),
  ];
  return [
    ...buttons,
    ...(props.cellActions?.(place) ?? []),
    ...(props.rowActions?.(place.row) ?? []),
  ];
});
function onCopy(event: ClipboardEvent): void {
  const text = typing.copied();
  if (text === undefined) return;
  event.preventDefault();
  event.clipboardData?.setData('text/plain', text);
}
function onCut(event: ClipboardEvent): void {
  onCopy(event);
  if (event.defaultPrevented && props.editable) typing.clear();
}
function onPaste(event: ClipboardEvent): void {
  if (typing.paste(event.clipboardData?.getData('text/plain') ?? '')) event.preventDefault();
}
function onInput(): void {
  typed.value = field.value?.value ?? '';
}
function onFocus(): void {
  focused.value = true;
  typing.enter();
}
/** Whoever goes elsewhere has typed what stands there: it is kept, as Enter keeps it. */
function onBlur(): void {
  focused.value = false;
  typing.commit();
}
onBeforeUnmount(() => typing.commit());

function takeFocus(): void {
  field.value?.focus({ preventScroll: true });
}
const pointer = useGridPointer({
  scroller,
  selected: () => selected.value,
  begin() {
    typing.commit();
    takeFocus();
  },
  select: typing.select,
  selectRow: typing.selectRow,
  selectColumn: typing.selectColumn,
  fillTo: typing.fillTo,
  widthOf: (column) => widths.drawn.value[column]?.width ?? 0,
  widen: (column, width) => widths.drag(props.columns[column]?.key ?? '', width),
  forgetWidth: (column) => widths.forget(props.columns[column]?.key ?? ''),
  open({ row, column }) {
    const [at, of] = [all.value[row], props.columns[column]];
    if (props.editable) typing.open();
    else if (at && of) emit('explain', { row: at.key, column: of.key });
  },
  fold: (row) => emit('toggle', row),
  pin: (row) => emit('pin', row),
  order: (column) => emit('order', column),
  movesRow: (row) => props.moves?.(all.value[row]?.key ?? '') ?? false,
  moveRow(row, onto) {
    const [from, to] = [all.value[row], all.value[onto]];
    if (from && to) emit('move', from.key, to.key);
  },
});
</script>

<template>
  <div class="grid-frame no-print">
    <span ref="before" tabindex="-1"></span>
    <div
      ref="scroller"
      class="plan-grid"
      :class="{ focused }"
      @scroll.passive="view.onScroll"
      @pointerdown="pointer.onPointerDown"
      @pointermove="pointer.onPointerMove"
      @pointerup="pointer.onPointerUp"
      @click="pointer.onClick"
      @dblclick="pointer.onDoubleClick"
      @contextmenu="onMenu"
    >
      <div class="field-anchor">
        <div class="field-place" :class="{ open: mode !== 'rest' }" :style="fieldStyle">
          <span v-if="mode !== 'rest' && activeCell?.cell.unit" class="unit">{{
            activeCell.cell.unit
          }}</span>
          <input
            ref="field"
            class="field"
            type="text"
            autocomplete="off"
            spellcheck="false"
            :aria-label="fieldLabel"
            :data-typing="mode"
            :readonly="!editable"
            @keydown="onKey"
            @input="onInput"
            @copy="onCopy"
            @cut="onCut"
            @paste="onPaste"
            @focus="onFocus"
            @blur="onBlur"
          />
        </div>
      </div>
      <div
        class="sheet"
        role="grid"
        :aria-label="label"
        :aria-rowcount="all.length + 1"
        :aria-colcount="columns.length + 1"
        :aria-readonly="!editable"
        aria-multiselectable="true"
        :style="{ width: `${sheetWidth}px` }"
      >
        <GridHead
          :heading="heading"
          :columns="drawnColumns"
          :sortable="sortable"
          :name-ordered="nameOrdered"
        />
        <GridLine
          v-for="(row, index) in above"
          :key="row.key"
          class="stays-above"
          :style="{ top: `${ROW * (index + 1)}px` }"
          :row="row"
          :index="index"
          :columns="drawnColumns"
          :selection="bySelection.get(index)"
          :refused="refusedByRow.get(row.key)"
          :waiting="waitingByRow.get(row.key)"
        />
        <div class="rows" :style="{ height: `${rows.length * ROW}px` }">
          <GridLine
            v-for="{ row, place } in drawnRows"
            :key="row.key"
            class="scrolls"
            :style="{ top: `${place * ROW}px` }"
            :row="row"
            :index="above.length + place"
            :columns="drawnColumns"
            :selection="bySelection.get(above.length + place)"
            :refused="refusedByRow.get(row.key)"
            :waiting="waitingByRow.get(row.key)"
          />
        </div>
        <GridLine
          v-for="(row, index) in below"
          :key="row.key"
          class="stays-below"
          :class="{ 'first-below': index === 0 }"
          :style="{ bottom: `${ROW * (below.length - 1 - index)}px` }"
          :row="row"
          :index="above.length + rows.length + index"
          :columns="drawnColumns"
          :selection="bySelection.get(above.length + rows.length + index)"
          :refused="refusedByRow.get(row.key)"
          :waiting="waitingByRow.get(row.key)"
        />
      </div>
    </div>
    <GridMenu
      :at="menu"
      :editable="editable"
      :untraced="untraced"
      :more="moreActions"
      @close="closeMenu"
      @choose="choose"
    />
    <FindRow ref="finder" :missed="missed" @seek="find" @done="found" />
    <span ref="after" tabindex="-1"></span>
  </div>
  <PrintedTable
    :label="label"
    :heading="heading"
    :columns="columns"
    :rows="rows"
    :totals="totals"
    :about="about"
  />
</template>
