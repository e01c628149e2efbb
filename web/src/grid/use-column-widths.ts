import { watchThrottled } from '@vueuse/core';
import { computed, shallowRef, watch, type ComputedRef } from 'vue';
import { useLayout } from '../people/use-layout.ts';
import type { DrawnColumn } from './grid-line.ts';
import { USUAL, widthsNeeded, type RowsLooked } from './column-widths.ts';
import type { GridColumn } from './plan-grid.ts';
import { widened } from './windowed.ts';

/** How much a column has at the least when it is dragged. */
const LEAST = 40;
/** Rows are looked at for their widths no more often than this. */
const LOOK_MS = 500;

/**
 * How wide the columns of a grid are: as wide as their numbers and headings need, then as wide as
 * the room allows, unless somebody dragged them; that is remembered for the person.
 * @param name of the grid, under which widths are remembered
 */
export function useColumnWidths(
  name: () => string,
  columns: () => readonly GridColumn[],
  rows: () => RowsLooked,
  nameWidth: () => number,
  room: () => number,
) {
  const layout = useLayout();
  const keyOf = (column: string): string => `${name()} ${column}`;

  const needed = (): number[] => widthsNeeded(columns(), rows());
  const natural = shallowRef(needed());
  /** Columns do not move for nothing: the widths are others only where one is. */
  function look(): void {
    const now = needed();
    const old = natural.value;
    const same = now.length === old.length && now.every((width, place) => width === old[place]);
    if (!same) natural.value = now;
  }
  watch(columns, look);
  // Numbers change with every edit: whether they need more room is looked at now and then.
  watchThrottled(rows, look, { throttle: LOOK_MS, trailing: true });
  const wide = computed(() => widened(natural.value, room() - nameWidth()));
  const drawn: ComputedRef<readonly DrawnColumn[]> = computed(() =>
    columns().map((column, index) => ({
      column,
      index,
      width: layout.widthOf(keyOf(column.key)) ?? wide.value[index] ?? USUAL,
    })),
  );
  const drag = (column: string, width: number): void =>
    layout.setWidth(keyOf(column), Math.max(LEAST, Math.round(width)));
  return {
    drawn,
    /** What the columns leave to the names, where nobody has dragged one. */
    left: computed(() => room() - wide.value.reduce((sum, width) => sum + width, 0)),
    drag,
    /** Wider or narrower by some pixels, as by the keyboard. */
    widen(key: string, by: number): void {
      const now = drawn.value.find(({ column }) => column.key === key);
      if (now) drag(key, now.width + by);
    },
    /** Whether somebody has set its width. */
    isSet: (column: string): boolean => layout.widthOf(keyOf(column)) !== undefined,
    /** As wide as its numbers are again. */
    forget: (column: string): void => layout.setWidth(keyOf(column), undefined),
  };
}
