<script setup lang="ts">
import VGrid, {
  type ColumnRegular,
  type DataType,
  type HyperFunc,
  type VNode,
} from '@revolist/vue3-datagrid';
import { useDebounceFn, useMutationObserver, useResizeObserver, useThrottleFn } from '@vueuse/core';
import { computed, nextTick, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import PrintedTable from './PrintedTable.vue';
import type { GridCell, GridColumn, GridEdit, GridPlace, GridRow, GridVisit } from './plan-grid.ts';

/** The table of the plan: rows of a tree by columns, with typing, paste, fill and delete. */
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
  /** Why cells were refused, by `row column`. */
  refused?: ReadonlyMap<string, string>;
  nameWidth?: number;
}>();
const emit = defineEmits<{
  edit: [edits: GridEdit[]];
  toggle: [key: string];
  place: [place: GridVisit];
  /** A column's heading was pressed. */
  heading: [column: string];
  pin: [row: string];
  /** A cell is open for typing, or not any more. */
  editing: [open: boolean];
}>();

type Model = DataType & { __row: GridRow };

const NAME = '__name';
const grid = ref<{ $el?: GridElement }>();

/**
 * Makes rows as the grid's library wants them: an object with a property a column, which answers
 * with what is typed there. The answers are made when they are asked for, because of thousands of
 * rows only those in sight are.
 */
function modelsFor(columns: readonly GridColumn[]): (row: GridRow) => Model {
  const shape: PropertyDescriptorMap = {};
  columns.forEach(({ key }, index) => {
    shape[key] = {
      enumerable: true,
      get(this: Model) {
        return this.__row.cells.at(index)?.typed ?? '';
      },
    };
  });
  const prototype: object = Object.create(null, shape) as object;
  return (row) => {
    const model = Object.create(prototype) as DataType;
    model['__row'] = row;
    model[NAME] = row.label;
    return model as Model;
  };
}

const open = ref(false);
/** What the grid shows. While a cell is open nothing moves under the hands of who types in it. */
const NO_TOTALS: readonly GridRow[] = [];
const shown = shallowRef({
  rows: props.rows,
  above: props.pinned ?? NO_TOTALS,
  totals: props.totals ?? NO_TOTALS,
  columns: props.columns,
});
watch([() => props.rows, () => props.pinned, () => props.totals, () => props.columns, open], () => {
  const { rows, pinned: above = NO_TOTALS, totals = NO_TOTALS, columns } = props;
  const next = { rows, above, totals, columns };
  const keys = ['rows', 'above', 'totals', 'columns'] as const;
  if (!open.value && keys.some((key) => next[key] !== shown.value[key])) show(next);
});
const modelOf = computed(() => modelsFor(shown.value.columns));
const asModels = (rows: readonly GridRow[]): Model[] => rows.map((row) => modelOf.value(row));
const source = shallowRef(asModels(shown.value.rows));
const below = shallowRef(asModels(shown.value.totals));
const above = shallowRef(asModels(shown.value.above));

/** Whether rows are the same ones in the same order, whatever their numbers are. */
const sameRows = (a: readonly GridRow[], b: readonly GridRow[]): boolean =>
  a.length === b.length && a.every(({ key }, place) => key === b[place]?.key);

/**
 * Shows other rows. Where only their numbers are others, the rows that the grid has get them and
 * it draws what is in sight: thousands of rows are not handed over anew for one edit.
 */
function show(next: typeof shown.value): void {
  const before = shown.value;
  shown.value = next;
  if (next.columns !== before.columns && !sameColumns(next.columns, before.columns)) {
    source.value = asModels(next.rows);
    below.value = asModels(next.totals);
    above.value = asModels(next.above);
    return;
  }
  const parts = [
    [source, next.rows, before.rows],
    [below, next.totals, before.totals],
    [above, next.above, before.above],
  ] as const;
  let drawn = false;
  for (const [models, rows, old] of parts) {
    if (rows === old) continue;
    if (sameRows(rows, old)) {
      rows.forEach((row, place) => {
        const model = models.value[place];
        if (model) model.__row = row;
      });
      drawn = true;
    } else models.value = asModels(rows);
  }
  if (drawn) void grid.value?.$el?.refresh?.('all');
}
const sameColumns = (a: readonly GridColumn[], b: readonly GridColumn[]): boolean =>
  a.length === b.length && a.every(({ key }, place) => key === b[place]?.key);

function cellOf(model: DataType, column: string): GridCell | undefined {
  const place = shown.value.columns.findIndex(({ key }) => key === column);
  return (model as Model).__row.cells.at(place);
}

function pinButton(h: HyperFunc<VNode>, row: GridRow): VNode {
  const words = row.pinned ? 'Let go of' : 'Pin';
  return h(
    'button',
    {
      class: { pin: true, held: row.pinned === true },
      tabindex: '-1',
      'aria-label': `${words} ${row.label}`,
      title: `${words} ${row.label} (p)`,
      onClick: (event: Event) => {
        event.stopPropagation();
        emit('pin', row.key);
      },
    },
    row.pinned ? '◆' : '◇',
  );
}

function name(h: HyperFunc<VNode>, model: DataType): VNode {
  const { __row: row } = model as Model;
  const fold = row.parent
    ? h(
        'button',
        {
          class: 'fold',
          tabindex: '-1',
          'aria-label': `${row.folded ? 'Open' : 'Fold'} ${row.label}`,
          onClick: (event: Event) => {
            event.stopPropagation();
            emit('toggle', row.key);
          },
        },
        row.folded ? '▸' : '▾',
      )
    : h('span', { class: 'fold' }, '');
  return h(
    'span',
    { class: 'name', style: { paddingLeft: `${row.level * 12}px` }, title: row.label },
    [
      fold,
      h('span', { class: { words: true, 'quiet-words': row.quiet === true } }, row.label),
      ...(row.tail === undefined ? [] : [h('span', { class: 'tail' }, row.tail)]),
      ...(row.pinned === undefined ? [] : [pinButton(h, row)]),
    ],
  );
}

const gridColumns = computed<ColumnRegular[]>(() => [
  {
    prop: NAME,
    name: props.heading,
    size: props.nameWidth ?? 196,
    pin: 'colPinStart',
    readonly: true,
    cellTemplate: (h: HyperFunc<VNode>, { model }: { model: DataType }) => name(h, model),
    cellProperties: ({ model }: { model: DataType }) => ({
      class: { 'name-cell': true, strong: (model as Model).__row.strong },
    }),
    columnProperties: () => ({ class: { 'name-cell': true } }),
  },
  ...shown.value.columns.map((column) => ({
    prop: column.key,
    name: column.heading,
    size: column.size ?? 66,
    readonly: !props.editable || (column.total === true && !props.totalEditable),
    ...(column.total ? { pin: 'colPinStart' as const } : {}),
    cellTemplate: (h: HyperFunc<VNode>, { model }: { model: DataType }) =>
      h('span', { class: 'figure' }, cellOf(model, column.key)?.text ?? ''),
    cellProperties: ({ model }: { model: DataType }) => {
      const row = (model as Model).__row;
      const cell = cellOf(model, column.key);
      const refusal = props.refused?.get(`${row.key} ${column.key}`);
      return {
        class: {
          [`dress-${cell?.dress ?? 'plain'}`]: true,
          closed: column.closed === true,
          total: column.total === true,
          strong: row.strong || column.total === true,
          refused: refusal !== undefined,
        },
        title: refusal ?? cell?.title ?? '',
        'data-cell': `${row.key} ${column.key}`,
      };
    },
    columnProperties: () => ({
      class: { closed: column.closed === true, total: column.total === true },
    }),
  })),
]);

/** The grid never changes its own rows: what was typed goes up, and comes back as new rows. */
function onEdit(event: CustomEvent): void {
  event.preventDefault();
  const detail = event.detail as {
    prop?: string;
    val?: unknown;
    model?: Model;
    data?: Record<number, Record<string, unknown>>;
    models?: Record<number, Model | undefined>;
  };
  const edits: GridEdit[] = [];
  const push = (model: Model | undefined, column: string, value: unknown): void => {
    const known = props.columns.find(({ key }) => key === column);
    if (!model || !known || (known.total && !props.totalEditable)) return;
    const text = String(value ?? '').trim();
    if (text === String(model[column] ?? '')) return;
    edits.push({ row: model.__row.key, column, text });
  };
  // A single edit names its column; a range (pasted, filled, deleted) brings rows of values.
  if (detail.prop !== undefined) {
    const text = String(detail.val ?? '').trim();
    // What changes a number changes all that are selected; a new number goes into its cell.
    const range = isRelative(text) ? selection : [];
    if (range.length > 1) edits.push(...range.map((place) => ({ ...place, text })));
    else push(detail.model, detail.prop, detail.val);
    taken = true;
    closed();
  } else {
    for (const [index, cells] of Object.entries(detail.data ?? {})) {
      for (const [column, value] of Object.entries(cells)) {
        push(detail.models?.[Number(index)], column, value);
      }
    }
  }
  if (edits.length > 0) emit('edit', edits);
}

/** Whether a text changes what is there: `+8%`, `x1.1`, `+=2k`, `+2pt`. */
function isRelative(text: string): boolean {
  return /^([+\-\u2212]=|[x\u00d7]|[+\-\u2212].*(%|pt)$)/i.test(text);
}

/** Whether the next cell is gone to by pointing at it. */
let pointed = false;

/** The cells that were selected when one of them was opened. */
let selection: GridPlace[] = [];

interface GridElement {
  refresh?: (type: 'all') => Promise<void>;
  scrollToColumnProp?: (prop: string) => Promise<void>;
  getBoundingClientRect(): DOMRect;
  querySelector(selector: string): Element | null;
  getSelectedRange?: () => Promise<{ x: number; y: number; x1: number; y1: number } | null>;
}

async function rememberSelection(): Promise<void> {
  selection = [];
  const range = await grid.value?.$el?.getSelectedRange?.();
  if (!range) return;
  const columns = shown.value.columns.filter(({ total }) => !total).slice(range.x, range.x1 + 1);
  const rows = shown.value.rows.slice(range.y, range.y1 + 1);
  selection = rows.flatMap((row) =>
    columns.map((column) => ({ row: row.key, column: column.key })),
  );
}

/** Letters are free for shortcuts: only figures and what belongs to them open a cell. */
function onEditStart(event: CustomEvent): void {
  const { val } = event.detail as { val?: unknown };
  if (typeof val === 'string' && val.length === 1 && !/[\d+\-−.,=x]/.test(val)) {
    event.preventDefault();
    return;
  }
  taken = false;
  void rememberSelection();
  opened();
}

/** How long the grid may take from saying that a cell opens to showing its field. */
const MOUNTED_MS = 400;
let openedAt = 0;

function opened(): void {
  if (open.value) return;
  open.value = true;
  openedAt = performance.now();
  setTimeout(lookForEditor, MOUNTED_MS);
  emit('editing', true);
}

function closed(): void {
  if (!open.value) return;
  open.value = false;
  emit('editing', false);
}

function onFocus(event: CustomEvent): void {
  const { model, column } = event.detail as { model?: Model; column?: { prop?: string } };
  if (model && column?.prop !== undefined && column.prop !== NAME) {
    visited = column.prop;
    emit('place', { row: model.__row.key, column: column.prop, pointed });
    pointed = false;
  }
}

function onHeading(event: CustomEvent): void {
  const { prop } = event.detail as { prop?: string };
  if (prop !== undefined && prop !== NAME) emit('heading', prop);
}

/** A refusal changes how cells look, not what the rows are: the grid has to be told. */
onBeforeUnmount(closed);

/** A grid that becomes narrower, because something opens beside it, keeps the cell in sight. */
const place = ref<HTMLElement>();
let visited = '';
/**
 * What the grid's library leaves out for those who do not see: its heading rows are rows, and each
 * part that scrolls has a cell that can be reached by keyboard.
 */
function mendRoles(): void {
  for (const row of place.value?.querySelectorAll('.header-rgRow:not([role])') ?? []) {
    row.setAttribute('role', 'row');
  }
  for (const part of place.value?.querySelectorAll('revogr-viewport-scroll, .vertical-inner') ??
    []) {
    if (!part.querySelector('[tabindex="0"]')) {
      part.querySelector('.rgCell')?.setAttribute('tabindex', '0');
    }
  }
}
/** Whether what stood in the field was taken: the grid shows the field for a while longer. */
let taken = false;
/** The grid does not tell of every way in which a cell is closed: what is there is what counts. */
function lookForEditor(): void {
  const there = Boolean(place.value?.querySelector('revogr-edit input'));
  if (!there) taken = false;
  if (there && !taken) opened();
  else if (!there && performance.now() - openedAt >= MOUNTED_MS - 10) closed();
}
/** While it scrolls the grid draws all the time; roles are mended when it rests. */
const mendSoon = useThrottleFn(mendRoles, 120, true, true);
function drawn(): void {
  lookForEditor();
  void mendSoon();
}
useMutationObserver(place, drawn, { childList: true, subtree: true });
/** How long the grid takes to know its new width; before that it would scroll by the old one. */
const SETTLED_MS = 60;
useResizeObserver(
  place,
  useDebounceFn(async () => {
    const element = grid.value?.$el;
    const focus = element?.querySelector('revogr-focus.focused-cell')?.getBoundingClientRect();
    if (!element || !focus || visited === '' || open.value) return;
    if (focus.right > element.getBoundingClientRect().right) {
      await element.scrollToColumnProp?.(visited);
    }
  }, SETTLED_MS),
);
watch(
  () => props.refused,
  async () => {
    await nextTick();
    await grid.value?.$el?.refresh?.('all');
  },
);
</script>

<template>
  <div ref="place" class="grid-frame">
    <VGrid
      ref="grid"
      class="plan-grid no-print"
      :aria-label="label"
      :source="source"
      :columns="gridColumns"
      :pinned-top-source="above"
      :pinned-bottom-source="below"
      :row-size="28"
      :range="true"
      :readonly="!editable"
      :use-clipboard="true"
      :hide-attribution="true"
      :resize="false"
      :can-move-columns="false"
      :filter="false"
      theme="default"
      @beforeedit="onEdit"
      @beforerangeedit="onEdit"
      @beforeeditstart="onEditStart"
      @afterfocus="onFocus"
      @headerclick="onHeading"
      @pointerdown.capture="pointed = true"
      @keydown.capture="pointed = false"
      @closeedit="closed"
    />
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
  height: 100%;
}
revo-grid.plan-grid {
  --revo-grid-font-family: 'Figtree Variable', sans-serif;
  --revo-grid-font-size: 13px;
  --revo-grid-text: var(--ink);
  --revo-grid-background: var(--surface);
  --revo-grid-border: transparent;
  --revo-grid-cell-border: var(--line-soft);
  --revo-grid-cell-disabled-bg: transparent;
  --revo-grid-cell-padding: 0 8px;
  --revo-grid-divider: var(--ink-quiet);
  --revo-grid-focused-bg: var(--harbour-soft);
  --revo-grid-header-bg: var(--surface);
  --revo-grid-header-border: transparent;
  --revo-grid-header-color: var(--ink-quiet);
  --revo-grid-header-font-size: 12px;
  --revo-grid-header-font-weight: 500;
  --revo-grid-header-height: 28px;
  --revo-grid-header-padding: 0 8px;
  --revo-grid-header-text-align: right;
  --revo-grid-header-text-transform: none;
  --revo-grid-primary: var(--harbour);
  --revo-grid-row-hover: transparent;
  --revo-grid-shadow: transparent;
  --revo-grid-range-handle-bg: var(--harbour);
  --revo-grid-selection-border: var(--harbour);
  --revo-grid-selection-bg: rgb(15 76 92 / 8%);
  --revo-grid-temporary-selection-border: var(--harbour);
  --revo-grid-temporary-range-border: var(--harbour);
  letter-spacing: 0;
  font-variant-numeric: tabular-nums;
  border: 0 !important;
  height: 100%;
  min-height: 120px !important;
  background: var(--surface);
  color: var(--ink);
}
.plan-grid .rgHeaderCell {
  border-right: 0 !important;
  letter-spacing: 0;
}
.plan-grid .header-rgRow {
  height: 28px;
  line-height: 28px;
  border-bottom: 1px solid var(--ink);
  box-shadow: none !important;
}
.plan-grid .rgHeaderCell .header-content {
  display: block;
  width: 100%;
  padding: 0 8px;
}
.plan-grid .rgHeaderCell.name-cell {
  text-align: left;
}
.plan-grid .rgRow {
  line-height: 27px;
  box-shadow: none !important;
}
.plan-grid .rgCell {
  text-align: right;
  color: var(--ink) !important;
  border: 0 !important;
  border-bottom: 1px solid var(--line-soft) !important;
  box-shadow: none !important;
}
.plan-grid .rgCell.name-cell {
  text-align: left;
  padding-left: 8px !important;
}
.plan-grid .rgCell.closed {
  background: var(--closed) !important;
}
.plan-grid .rgCell.total {
  background: var(--surface);
}
.plan-grid .rgCell.strong {
  font-weight: 620;
}
.plan-grid .name {
  display: flex;
  overflow: hidden;
  white-space: nowrap;
}
.plan-grid .name .words {
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
.plan-grid .pin {
  margin-left: auto;
  padding: 0 2px;
  border: 0;
  background: none;
  font-size: 9px;
  color: var(--ink-quiet);
  cursor: pointer;
  opacity: 0;
}
.plan-grid .pin.held,
.plan-grid .rgRow:hover .pin,
.plan-grid .pin:focus-visible {
  opacity: 1;
}
.plan-grid .fold {
  width: 14px;
  flex: none;
  padding: 0;
  border: 0;
  background: none;
  font-size: 10px;
  text-align: left;
  color: var(--ink);
  cursor: pointer;
}
.plan-grid .dress-typed .figure {
  border-bottom: 1.5px solid var(--harbour);
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
.plan-grid .rgCell.refused {
  box-shadow: inset 0 0 0 2px var(--bad) !important;
}
.plan-grid revogr-viewport-scroll.colPinStart {
  box-shadow: none !important;
  border-right: 1px solid var(--ink-quiet);
}
.plan-grid .footer-wrapper .rgRow:first-child .rgCell {
  border-top: 1px solid var(--ink) !important;
}
.plan-grid revogr-focus.focused-cell {
  box-shadow: inset 0 0 0 2px var(--harbour) !important;
  background: rgb(15 76 92 / 8%);
}
.plan-grid .selection-border-range {
  background: rgb(15 76 92 / 8%) !important;
  border-color: var(--harbour) !important;
}
.plan-grid .selection-border-range > div {
  background: var(--harbour) !important;
}
.plan-grid revogr-edit input {
  font: inherit;
  text-align: right;
  padding: 0 7px !important;
  border: 2px solid var(--harbour) !important;
  border-radius: 0;
  background: var(--surface);
}
</style>
