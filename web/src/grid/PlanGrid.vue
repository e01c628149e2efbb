<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, nextTick, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { GridLine, type DrawnColumns, type LineSelection } from './grid-line.ts';
import type { GridColumn, GridEdit, GridPlace, GridRow } from './plan-grid.ts';
import PrintedTable from './PrintedTable.vue';
import { blockOf, type Spot } from './spots.ts';
import { useColumnWidths } from './use-column-widths.ts';
import { useGridTyping } from './use-grid-typing.ts';
import { beginnings, columnsInSight, rowsInSight } from './windowed.ts';

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
  /** Whether the column of totals is typed into as well. */
  totalEditable?: boolean;
  /** Whether rows can be put in order by a column. */
  sortable?: boolean;
  /** Where they can be by their names too: an arrow where they are, else empty. */
  nameOrdered?: string;
  /** Why cells were refused, by `row column`. */
  refused?: ReadonlyMap<string, string>;
  /** What was typed and is not kept yet, by `row column`. */
  waiting?: ReadonlyMap<string, string>;
  nameWidth?: number;
}>();
const emit = defineEmits<{
  edit: [edits: GridEdit[]];
  toggle: [key: string];
  /** Somebody went to a cell. */
  place: [place: GridPlace];
  /** Rows are to be put in order by a column. */
  order: [column: string];
  pin: [row: string];
  /** Somebody asks what the number of a cell is made of. */
  explain: [place: GridPlace];
  /** A cell is open for typing, or not any more. */
  editing: [open: boolean];
  /** Several cells are selected, or one again. */
  select: [cells: readonly (number | null)[]];
  say: [text: string];
}>();

const ROW = 28;
/** Rows drawn above and below those in sight, so that scrolling meets them. */
const AROUND = 6;
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
const { width: frameWidth, height: frameHeight } = useElementSize(scroller);
const scrolled = shallowRef({ top: 0, left: 0 });
function onScroll(): void {
  const { scrollTop: top = 0, scrollLeft: left = 0 } = scroller.value ?? {};
  scrolled.value = { top, left };
}

const nameWidth = computed(() => props.nameWidth ?? 196);
const widths = useColumnWidths(
  () => props.label,
  () => props.columns,
  () => ({ totals: below.value, some: props.rows }),
  () => nameWidth.value,
  () => frameWidth.value,
);
const pinnedColumns = computed(() => widths.drawn.value.filter(({ column }) => column.total));
const scrolling = computed(() => widths.drawn.value.filter(({ column }) => !column.total));
const starts = computed(() => beginnings(scrolling.value.map(({ width }) => width)));
const pinnedWidth = computed(
  () => nameWidth.value + pinnedColumns.value.reduce((sum, { width }) => sum + width, 0),
);
/** The columns in sight; the same object while they are, so that rows need not be drawn anew. */
const inSight = computed(() => {
  const room = frameWidth.value - pinnedWidth.value;
  return columnsInSight(starts.value, scrolled.value.left, Math.max(room, 0));
});
const drawnColumns = computed<DrawnColumns>((old) => {
  const { from, to } = inSight.value;
  const made: DrawnColumns = {
    nameWidth: nameWidth.value,
    pinned: pinnedColumns.value,
    scrolling: scrolling.value.slice(from, to),
    before: starts.value[from] ?? 0,
    whole: starts.value.at(-1) ?? 0,
  };
  const same =
    old?.pinned === made.pinned &&
    old.nameWidth === made.nameWidth &&
    old.whole === made.whole &&
    old.before === made.before &&
    old.scrolling.length === made.scrolling.length &&
    old.scrolling.every((column, place) => column === made.scrolling[place]);
  return same ? old : made;
});
const sheetWidth = computed(() => pinnedWidth.value + drawnColumns.value.whole);
/** The height in which rows scroll, between the heading and the rows that stay. */
const roomHeight = computed(
  () => frameHeight.value - ROW * (1 + above.value.length + below.value.length),
);
const drawnRows = computed(() => {
  const { from, to } = rowsInSight(
    scrolled.value.top,
    Math.max(roomHeight.value, 0),
    ROW,
    props.rows.length,
    AROUND,
  );
  return props.rows.slice(from, to).map((row, place) => ({ row, place: from + place }));
});

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
  page: () => Math.floor(roomHeight.value / ROW) - 1,
  editable: (column) =>
    props.editable === true && (column.total !== true || props.totalEditable === true),
  edit: (edits) => emit('edit', edits),
  visit: (place) => emit('place', place),
  fold: (row) => emit('toggle', row.key),
  explain: (place) => emit('explain', place),
  leave: (back) => (back ? before.value : after.value)?.focus(),
  say: (text) => emit('say', text),
});
const { mode, selected } = typing;
/** What stands in the field, for its width. */
const typed = ref('');
watch(mode, (now, old) => {
  if ((now === 'rest') !== (old === 'rest')) emit('editing', now !== 'rest');
});
const focused = ref(false);

/** What of a row is selected; nothing while the focus is elsewhere but the active cell. */
const selections = computed(() => {
  const now = selected.value;
  if (!now) return undefined;
  return { ...blockOf(now), active: now.active };
});
let kept = new Map<number, LineSelection>();
/** By row, the same object as long as it says the same. */
const bySelection = computed(() => {
  const made = new Map<number, LineSelection>();
  const block = selections.value;
  if (block) {
    for (let row = block.top; row <= block.bottom; row += 1) {
      const next = {
        from: block.left,
        to: block.right,
        active: row === block.active.row ? block.active.column : -1,
        end: row === block.bottom && props.editable ? block.right : -1,
      };
      const old = kept.get(row);
      const same =
        old?.from === next.from &&
        old.to === next.to &&
        old.active === next.active &&
        old.end === next.end;
      made.set(row, same ? old : next);
    }
  }
  kept = made;
  return made;
});

type ByRow = ReadonlyMap<string, ReadonlyMap<string, string>>;
function byRow(cells: ReadonlyMap<string, string> | undefined): ByRow {
  const rows = new Map<string, Map<string, string>>();
  for (const [place, text] of cells ?? []) {
    const cut = place.lastIndexOf(' ');
    const row = place.slice(0, cut);
    rows.set(row, (rows.get(row) ?? new Map<string, string>()).set(place.slice(cut + 1), text));
  }
  return rows;
}
const refusedByRow = computed(() => byRow(props.refused));
const waitingByRow = computed(() => byRow(props.waiting));

/** Where the active cell is drawn, in the frame: the field lies there. */
const fieldPlace = computed(() => {
  const active = selected.value?.active;
  if (!active) return undefined;
  const column = widths.drawn.value[active.column];
  if (!column) return undefined;
  let left = nameWidth.value;
  if (column.column.total) {
    for (const other of pinnedColumns.value) {
      if (other.index === column.index) break;
      left += other.width;
    }
  } else {
    const place = scrolling.value.findIndex(({ index }) => index === column.index);
    left = pinnedWidth.value + (starts.value[place] ?? 0) - scrolled.value.left;
  }
  const row = active.row - above.value.length;
  let top = ROW * (1 + active.row);
  if (row >= props.rows.length) {
    // The rows that stay at the lower end come right after the last one where all fit.
    const end = Math.min(
      frameHeight.value - ROW * below.value.length,
      ROW * (1 + above.value.length + props.rows.length) - scrolled.value.top,
    );
    top = end + ROW * (row - props.rows.length);
  } else if (row >= 0) top -= scrolled.value.top;
  const within = (at: number, size: number): number => Math.max(0, Math.min(at, size));
  return {
    left: within(left, frameWidth.value - column.width),
    top: within(top, frameHeight.value - ROW),
    width: column.width,
  };
});
const FIGURE = 8;
const fieldStyle = computed(() => {
  const place = fieldPlace.value ?? { left: 0, top: 0, width: 66 };
  const width = Math.max(place.width, typed.value.length * FIGURE + 20);
  // A long text grows to the left, over the cells before it.
  const left = Math.max(0, place.left + place.width - width);
  return { left: `${left}px`, top: `${place.top}px`, width: `${width}px` };
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

/** Brings the active cell, or the corner that moves, into sight. */
function reveal({ row, column }: Spot): void {
  const box = scroller.value;
  if (!box) return;
  const body = row - above.value.length;
  if (body >= 0 && body < props.rows.length) {
    const top = body * ROW;
    if (top < box.scrollTop) box.scrollTop = top;
    else if (top + ROW > box.scrollTop + roomHeight.value) {
      box.scrollTop = top + ROW - roomHeight.value;
    }
  }
  const place = scrolling.value.findIndex(({ index }) => index === column);
  if (place < 0) return;
  const [left, right] = [starts.value[place] ?? 0, starts.value[place + 1] ?? 0];
  const room = frameWidth.value - pinnedWidth.value;
  if (left < box.scrollLeft) box.scrollLeft = left;
  else if (right > box.scrollLeft + room) box.scrollLeft = right - room;
}
watch(
  [selected, frameWidth],
  ([now], [old]) => {
    if (!now) return;
    const moved = now.corner.row !== old?.corner.row || now.corner.column !== old.corner.column;
    reveal(moved && dragging !== 'fill' ? now.corner : now.active);
  },
  { flush: 'post' },
);
watch(selected, (now) => {
  if (!now) return;
  const { top, bottom, left, right } = blockOf(now);
  const count = (bottom - top + 1) * (right - left + 1);
  if (count === 1 || count > MOST_ADDED) {
    emit('select', []);
    return;
  }
  const values: (number | null)[] = [];
  for (let row = top; row <= bottom; row += 1) {
    for (let column = left; column <= right; column += 1) {
      values.push(all.value[row]?.cells.at(column)?.value ?? null);
    }
  }
  emit('select', values);
});

function onKey(event: KeyboardEvent): void {
  // Composing and keys that the room has taken are not the grid's.
  if (event.isComposing || event.defaultPrevented) return;
  if (typing.press(event)) event.preventDefault();
}
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

let dragging: '' | 'select' | 'fill' | 'width' = '';
let widthFrom = { column: '', width: 0, x: 0 };
function spotAt(event: Event): Spot | undefined {
  const cell = (event.target as Element | null)?.closest<HTMLElement>('[data-row]');
  if (!cell || !scroller.value?.contains(cell)) return undefined;
  return { row: Number(cell.dataset['row']), column: Number(cell.dataset['column']) };
}
function takeFocus(): void {
  field.value?.focus({ preventScroll: true });
}
function onPointerDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  const target = event.target as HTMLElement;
  // A press on a bar that scrolls, or into the open field, is none on a cell.
  if (target === scroller.value || target.closest('.field-place')) return;
  event.preventDefault();
  typing.commit();
  takeFocus();
  const edge = target.closest<HTMLElement>('[data-edge]');
  if (edge) {
    const column = widths.drawn.value[Number(edge.dataset['edge'])];
    dragging = 'width';
    widthFrom = { column: column?.column.key ?? '', width: column?.width ?? 0, x: event.clientX };
    return;
  }
  if (target.closest('[data-handle]')) {
    dragging = 'fill';
    return;
  }
  const spot = spotAt(event);
  if (!spot) return;
  const now = selected.value;
  if (event.shiftKey && now) typing.select(now.active, spot);
  else typing.select(spot);
  dragging = 'select';
}
let fillCorner: Spot | undefined;
function onPointerMove(event: PointerEvent): void {
  if (dragging === '' || event.buttons === 0) return;
  if (dragging === 'width') {
    widths.drag(widthFrom.column, widthFrom.width + event.clientX - widthFrom.x);
    return;
  }
  const spot = spotAt(event);
  const now = selected.value;
  if (!spot || !now) return;
  if (dragging === 'fill') fillCorner = spot;
  else if (spot.row !== now.corner.row || spot.column !== now.corner.column) {
    typing.select(now.active, spot);
  }
}
function onPointerUp(): void {
  if (dragging === 'fill' && fillCorner) typing.fillTo(fillCorner);
  fillCorner = undefined;
  dragging = '';
}
function onClick(event: MouseEvent): void {
  const target = event.target as HTMLElement;
  const data = (name: string): string | undefined =>
    target.closest<HTMLElement>(`[data-${name}]`)?.dataset[name];
  const fold = data('fold');
  const pin = data('pin');
  const order = data('order');
  const column = data('heading');
  if (fold !== undefined) emit('toggle', fold);
  else if (pin !== undefined) emit('pin', pin);
  else if (order !== undefined) emit('order', order);
  else if (column !== undefined && data('edge') === undefined) {
    typing.selectColumn(Number(column));
  } else {
    const name = target.closest<HTMLElement>('.name');
    const line = name?.closest<HTMLElement>('[aria-rowindex]');
    const row = Number(line?.getAttribute('aria-rowindex')) - 2;
    if (name && row >= 0) typing.selectRow(row);
  }
}
function onDoubleClick(event: MouseEvent): void {
  const edge = (event.target as HTMLElement).closest<HTMLElement>('[data-edge]');
  if (edge) widths.forget(props.columns[Number(edge.dataset['edge'])]?.key ?? '');
  else {
    const spot = spotAt(event);
    const row = spot && all.value[spot.row];
    const column = spot && props.columns[spot.column];
    if (props.editable) typing.open();
    else if (row && column) emit('explain', { row: row.key, column: column.key });
  }
}
/** A key that was pressed in what lies around the field is the field's. */
async function focusField(): Promise<void> {
  await nextTick();
  takeFocus();
}
defineExpose({ focus: focusField });
</script>

<template>
  <div class="grid-frame no-print">
    <span ref="before" tabindex="-1"></span>
    <div
      ref="scroller"
      class="plan-grid"
      :class="{ focused }"
      @scroll.passive="onScroll"
      @pointerdown="onPointerDown"
      @pointermove="onPointerMove"
      @pointerup="onPointerUp"
      @click="onClick"
      @dblclick="onDoubleClick"
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
        <div class="line head" role="row" aria-rowindex="1">
          <div
            class="cell name"
            role="columnheader"
            aria-colindex="1"
            :style="{ width: `${nameWidth}px` }"
          >
            {{ heading }}
            <span
              v-if="nameOrdered !== undefined"
              class="order"
              :class="{ held: nameOrdered !== '' }"
              role="button"
              :aria-label="`Sort by ${heading}`"
              data-order="name"
              >{{ nameOrdered || '\u2195' }}</span
            >
          </div>
          <div
            v-for="(drawn, place) in drawnColumns.pinned"
            :key="drawn.column.key"
            class="cell pinned-column"
            role="columnheader"
            :aria-colindex="drawn.index + 2"
            :data-heading="drawn.index"
            :data-key="drawn.column.key"
            :style="{
              width: `${drawn.width}px`,
              left: `${nameWidth + drawnColumns.pinned.slice(0, place).reduce((sum, { width }) => sum + width, 0)}px`,
            }"
            :title="drawn.column.heading"
          >
            <span
              v-if="sortable"
              class="order"
              :class="{ held: drawn.column.ordered !== undefined }"
              role="button"
              :aria-label="`Sort by ${drawn.column.heading}`"
              :data-order="drawn.column.key"
              >{{ drawn.column.ordered ?? '\u2195' }}</span>{{ drawn.column.heading }}
            <span class="edge" :data-edge="drawn.index"></span>
          </div>
          <div class="gap" role="presentation" :style="{ width: `${drawnColumns.before}px` }"></div>
          <div
            v-for="drawn in drawnColumns.scrolling"
            :key="drawn.column.key"
            class="cell"
            :class="{ closed: drawn.column.closed }"
            role="columnheader"
            :aria-colindex="drawn.index + 2"
            :data-heading="drawn.index"
            :data-key="drawn.column.key"
            :style="{ width: `${drawn.width}px` }"
            :title="drawn.column.heading"
          >
            <span
              v-if="sortable"
              class="order"
              :class="{ held: drawn.column.ordered !== undefined }"
              role="button"
              :aria-label="`Sort by ${drawn.column.heading}`"
              :data-order="drawn.column.key"
              >{{ drawn.column.ordered ?? '\u2195' }}</span>{{ drawn.column.heading }}
            <span class="edge" :data-edge="drawn.index"></span>
          </div>
        </div>
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
    <span ref="after" tabindex="-1"></span>
  </div>
  <PrintedTable
    :label="label"
    :heading="heading"
    :columns="columns"
    :rows="rows"
    :totals="totals"
  />
</template>

<style>
.grid-frame {
  position: relative;
  height: 100%;
  min-height: 120px;
}
.plan-grid {
  height: 100%;
  overflow: auto;
  overscroll-behavior: contain;
  /* Rows come and go by folding; where one has scrolled to stays. */
  overflow-anchor: none;
  background: var(--surface);
  color: var(--ink);
  font-size: 13px;
  font-variant-numeric: tabular-nums;
  user-select: none;
  cursor: default;
}
.plan-grid .field-anchor {
  position: sticky;
  top: 0;
  left: 0;
  z-index: 4;
  width: 0;
  height: 0;
}
.plan-grid .line {
  display: flex;
  height: 28px;
  line-height: 27px;
  background: var(--surface);
}
.plan-grid .head {
  position: sticky;
  top: 0;
  z-index: 3;
  font-size: 12px;
  font-weight: 500;
  color: var(--ink-quiet);
  border-bottom: 1px solid var(--ink);
}
.plan-grid .rows {
  position: relative;
}
.plan-grid .scrolls {
  position: absolute;
  left: 0;
}
.plan-grid .stays-above,
.plan-grid .stays-below {
  position: sticky;
  z-index: 2;
}
.plan-grid .first-below .cell {
  border-top: 1px solid var(--ink);
}
.plan-grid .cell {
  position: relative;
  flex: none;
  box-sizing: border-box;
  padding: 0 8px;
  overflow: hidden;
  white-space: nowrap;
  text-align: right;
  background: var(--surface);
  border-bottom: 1px solid var(--line-soft);
}
.plan-grid .cell.name,
.plan-grid .pinned-column {
  position: sticky;
  z-index: 1;
}
.plan-grid .cell.name {
  left: 0;
  display: flex;
  text-align: left;
}
.plan-grid .pinned-column {
  border-right: 1px solid var(--ink-quiet);
}
.plan-grid .gap {
  flex: none;
}
.plan-grid .cell.closed {
  background: var(--closed);
}
.plan-grid .cell.strong {
  font-weight: 620;
}
.plan-grid .words {
  overflow: hidden;
  text-overflow: ellipsis;
}
.plan-grid .tail {
  margin-left: 6px;
  font-weight: 400;
  font-size: 12px;
  color: var(--ink-quiet);
}
.plan-grid .quiet-words {
  color: var(--ink-quiet);
}
.plan-grid .fold {
  width: 14px;
  flex: none;
  font-size: 10px;
  cursor: pointer;
}
.plan-grid .pin {
  margin-left: auto;
  padding: 0 2px;
  font-size: 9px;
  color: var(--ink-quiet);
  cursor: pointer;
  opacity: 0;
}
.plan-grid .pin.held,
.plan-grid .line:hover .pin {
  opacity: 1;
}
.plan-grid .order {
  margin-right: 3px;
  cursor: pointer;
  opacity: 0;
}
.plan-grid .order.held,
.plan-grid .head .cell:hover .order {
  opacity: 1;
}
.plan-grid .edge {
  position: absolute;
  top: 0;
  right: 0;
  width: 6px;
  height: 100%;
  cursor: col-resize;
}
.plan-grid .chosen {
  background: var(--harbour-soft);
}
.plan-grid .active {
  box-shadow: inset 0 0 0 1px var(--ink-quiet);
}
.plan-grid.focused .active {
  box-shadow: inset 0 0 0 2px var(--harbour);
}
.plan-grid .handle {
  position: absolute;
  right: 0;
  bottom: 0;
  width: 7px;
  height: 7px;
  background: var(--harbour);
  cursor: crosshair;
}
.plan-grid .good .figure {
  color: var(--good);
}
.plan-grid .bad .figure,
.plan-grid .bad .diamond {
  color: var(--bad);
}
.plan-grid .diamond {
  margin-right: 3px;
  font-size: 11px;
}
.plan-grid .beside {
  margin-left: 6px;
  font-size: 10.5px;
  font-weight: 400;
  color: var(--ink-quiet);
}
.plan-grid .dress-typed .figure {
  border-bottom: 1.5px solid var(--harbour);
}
.plan-grid .dress-waiting .figure {
  border-bottom: 1.5px dotted var(--ember);
  color: var(--ink-quiet);
}
.plan-grid .dress-mixed .figure {
  color: var(--ink-quiet);
}
.plan-grid .dress-entries .figure::before {
  content: '•';
  margin-right: 4px;
  color: var(--harbour);
}
.plan-grid .dress-locked .figure {
  color: var(--ink-quiet);
}
.plan-grid .dress-missing .figure {
  color: var(--ember);
  font-weight: 700;
}
.plan-grid .refused {
  box-shadow: inset 0 0 0 2px var(--bad);
}
.field-place {
  position: absolute;
  z-index: 4;
  height: 28px;
  opacity: 0;
  pointer-events: none;
}
.field-place.open {
  opacity: 1;
  pointer-events: auto;
}
.field-place .field {
  width: 100%;
  height: 28px;
  padding: 0 7px;
  text-align: right;
  font: inherit;
  font-size: 13px;
  font-variant-numeric: tabular-nums;
  color: var(--ink);
  background: var(--surface);
  border: 2px solid var(--harbour);
  border-radius: 0;
  outline: 0;
}
.field-place .unit {
  position: absolute;
  right: 0;
  top: 28px;
  padding: 0 6px;
  font-size: 11px;
  line-height: 18px;
  white-space: nowrap;
  color: var(--surface);
  background: var(--harbour);
}
</style>
