import { useElementSize } from '@vueuse/core';
import { computed, shallowRef, type Ref } from 'vue';
import { namesNeeded } from './column-widths.ts';
import type { DrawnColumns } from './grid-line.ts';
import type { GridColumn, GridRow } from './plan-grid.ts';
import type { Spot } from './spots.ts';
import { useColumnWidths } from './use-column-widths.ts';
import { beginnings, columnsInSight, rowsInSight } from './windowed.ts';

/** The height of every row, and of the heading. */
export const ROW = 28;
/** Rows drawn above and below those in sight, so that scrolling meets them. */
const AROUND = 6;
/** Of a figure that is typed, for the width of the field. */
const FIGURE = 8;

/** What of a grid decides how it is drawn. */
export interface GridParts {
  readonly label: () => string;
  readonly columns: () => readonly GridColumn[];
  /** Rows that stay in sight at the upper end, those that scroll, and those at the lower end. */
  readonly above: () => readonly GridRow[];
  readonly rows: () => readonly GridRow[];
  readonly below: () => readonly GridRow[];
  readonly nameWidth: () => number | undefined;
}

/** What of a grid is in sight, and where: rows of one height, columns of several widths. */
export function useGridView(scroller: Ref<HTMLElement | undefined>, parts: GridParts) {
  const { width: frameWidth, height: frameHeight } = useElementSize(scroller);
  const scrolled = shallowRef({ top: 0, left: 0 });
  function onScroll(): void {
    const { scrollTop: top = 0, scrollLeft: left = 0 } = scroller.value ?? {};
    scrolled.value = { top, left };
  }

  const looked = () => ({ pinned: [...parts.above(), ...parts.below()], others: parts.rows() });
  const leastNames = computed(() => parts.nameWidth() ?? namesNeeded(looked(), frameWidth.value));
  const widths = useColumnWidths(
    parts.label,
    parts.columns,
    looked,
    () => leastNames.value,
    () => frameWidth.value,
  );
  /** Names get what numbers leave. */
  const nameWidth = computed(() => Math.max(leastNames.value, Math.floor(widths.left.value)));
  const pinnedColumns = computed(() => widths.drawn.value.filter(({ column }) => column.total));
  const scrolling = computed(() => widths.drawn.value.filter(({ column }) => !column.total));
  const starts = computed(() => beginnings(scrolling.value.map(({ width }) => width)));
  const pinnedWidth = computed(
    () => nameWidth.value + pinnedColumns.value.reduce((sum, { width }) => sum + width, 0),
  );
  /** How wide the part is in which columns scroll. */
  const roomWidth = computed(() => Math.max(0, frameWidth.value - pinnedWidth.value));
  /** How high the part is in which rows scroll, between the heading and the rows that stay. */
  const roomHeight = computed(
    () => frameHeight.value - ROW * (1 + parts.above().length + parts.below().length),
  );

  /** The columns that are drawn; the same object while they are the same, so that rows stay. */
  const drawnColumns = computed<DrawnColumns>((old) => {
    const { from, to } = columnsInSight(starts.value, scrolled.value.left, roomWidth.value);
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
  const drawnRows = computed(() => {
    const rows = parts.rows();
    const height = Math.max(roomHeight.value, 0);
    const { from, to } = rowsInSight(scrolled.value.top, height, ROW, rows.length, AROUND);
    return rows.slice(from, to).map((row, place) => ({ row, place: from + place }));
  });

  /** Where a column is drawn, in the frame. */
  function leftOf(index: number): number {
    let left = nameWidth.value;
    for (const { index: other, width } of pinnedColumns.value) {
      if (other === index) return left;
      left += width;
    }
    const place = scrolling.value.findIndex((column) => column.index === index);
    return left + (starts.value[place] ?? 0) - scrolled.value.left;
  }
  /** Where a row is drawn, in the frame. */
  function topOf(row: number): number {
    const [above, body, below] = [parts.above(), parts.rows(), parts.below()];
    const place = row - above.length;
    if (place < 0) return ROW * (1 + row);
    if (place < body.length) return ROW * (1 + row) - scrolled.value.top;
    // Rows that stay at the lower end come right after the last one where all fit.
    const end = Math.min(
      frameHeight.value - ROW * below.length,
      ROW * (1 + above.length + body.length) - scrolled.value.top,
    );
    return end + ROW * (place - body.length);
  }
  /** Where the field lies over a cell: inside the frame, and wide enough for what is typed. */
  function fieldOver({ row, column }: Spot, typed: string): Record<string, string> {
    const cell = widths.drawn.value[column]?.width ?? 0;
    const within = (at: number, most: number): number => Math.max(0, Math.min(at, most));
    const left = within(leftOf(column), frameWidth.value - cell);
    const width = Math.max(cell, typed.length * FIGURE + 20);
    return {
      // A long text grows to the left, over the cells before it.
      left: `${Math.max(0, left + cell - width)}px`,
      top: `${within(topOf(row), frameHeight.value - ROW)}px`,
      width: `${width}px`,
    };
  }

  /** Brings a cell into sight. */
  function reveal({ row, column }: Spot): void {
    const box = scroller.value;
    if (!box) return;
    const body = row - parts.above().length;
    if (body >= 0 && body < parts.rows().length) {
      const top = body * ROW;
      const end = top + ROW - roomHeight.value;
      if (top < box.scrollTop) box.scrollTop = top;
      else if (end > box.scrollTop) box.scrollTop = end;
    }
    const place = scrolling.value.findIndex(({ index }) => index === column);
    if (place < 0) return;
    const left = starts.value[place] ?? 0;
    const end = (starts.value[place + 1] ?? 0) - roomWidth.value;
    if (left < box.scrollLeft) box.scrollLeft = left;
    else if (end > box.scrollLeft) box.scrollLeft = end;
  }

  return {
    onScroll,
    widths,
    frameWidth,
    roomHeight,
    drawnColumns,
    drawnRows,
    sheetWidth,
    fieldOver,
    reveal,
  };
}
