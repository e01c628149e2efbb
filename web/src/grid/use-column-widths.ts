import { useLocalStorage } from '@vueuse/core';
import { computed, type ComputedRef } from 'vue';
import type { DrawnColumn } from './grid-line.ts';
import type { GridColumn, GridRow } from './plan-grid.ts';
import { widened } from './windowed.ts';

/** How wide a column is where nothing says it, and the least there is when it is dragged. */
const USUAL = 66;
const LEAST = 40;
/** Of a figure of the grid's text, with the room left and right of it. */
const FIGURE = 7.3;
const AROUND = 18;
/** So many rows are looked at for the longest numbers. */
const LOOKED_AT = 60;

function longest(rows: readonly GridRow[], index: number): number {
  let most = 0;
  for (const row of rows) most = Math.max(most, row.cells.at(index)?.text.length ?? 0);
  return most;
}

/**
 * How wide the columns of a grid are: as wide as their numbers and headings need, then as wide as
 * the room allows, unless somebody dragged them; that is remembered in this browser.
 * @param name of the grid, under which widths are remembered
 */
export function useColumnWidths(
  name: () => string,
  columns: () => readonly GridColumn[],
  rows: () => { readonly totals: readonly GridRow[]; readonly some: readonly GridRow[] },
  nameWidth: () => number,
  room: () => number,
) {
  const dragged = useLocalStorage<Record<string, number>>('dravex.widths', {});
  const keyOf = (column: string): string => `${name()} ${column}`;

  const natural = computed(() => {
    const { totals, some } = rows();
    const looked = [...totals, ...some.slice(0, LOOKED_AT)];
    return columns().map(({ heading, size = USUAL }, index) =>
      Math.ceil(
        Math.max(
          size,
          longest(looked, index) * FIGURE + AROUND,
          heading.length * FIGURE + AROUND - 2,
        ),
      ),
    );
  });
  const drawn: ComputedRef<readonly DrawnColumn[]> = computed(() => {
    const wide = widened(natural.value, room() - nameWidth());
    return columns().map((column, index) => ({
      column,
      index,
      width: dragged.value[keyOf(column.key)] ?? wide[index] ?? USUAL,
    }));
  });
  function drag(column: string, width: number): void {
    dragged.value = { ...dragged.value, [keyOf(column)]: Math.max(LEAST, Math.round(width)) };
  }
  /** As wide as its numbers are again. */
  function forget(column: string): void {
    const { [keyOf(column)]: _, ...rest } = dragged.value;
    dragged.value = rest;
  }
  return { drawn, drag, forget };
}
