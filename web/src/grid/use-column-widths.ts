import { watchThrottled } from '@vueuse/core';
import { computed, shallowRef, watch, type ComputedRef } from 'vue';
import { useLayout } from '../people/use-layout.ts';
import type { DrawnColumn } from './grid-line.ts';
import type { GridColumn, GridRow } from './plan-grid.ts';
import { widened } from './windowed.ts';

/** How wide a column is where nothing says it, and the least there is when it is dragged. */
const USUAL = 66;
const LEAST = 40;
/** Of a figure of the grid's text, with the room left and right of it. */
const FIGURE = 7.3;
/** The same of a letter of a text. */
const LETTER = 6.3;
/** Of the arrow of a column that rows are in order by. */
const ARROW = 14;
const AROUND = 18;
/** So many rows are looked at for the longest numbers, and no more often than this. */
const LOOKED_AT = 24;
const LOOK_MS = 500;

function longest(rows: readonly GridRow[], index: number): number {
  let most = 0;
  for (const row of rows) {
    const { text = '', beside = '' } = row.cells.at(index) ?? {};
    most = Math.max(most, text.length + (beside === '' ? 0 : beside.length + 1));
  }
  return most;
}

/**
 * How wide the columns of a grid are: as wide as their numbers and headings need, then as wide as
 * the room allows, unless somebody dragged them; that is remembered for the person.
 * @param name of the grid, under which widths are remembered
 */
export function useColumnWidths(
  name: () => string,
  columns: () => readonly GridColumn[],
  rows: () => { readonly totals: readonly GridRow[]; readonly some: readonly GridRow[] },
  nameWidth: () => number,
  room: () => number,
) {
  const layout = useLayout();
  const keyOf = (column: string): string => `${name()} ${column}`;

  function needed(): number[] {
    const { totals, some } = rows();
    const looked = [...totals, ...some.slice(0, LOOKED_AT)];
    return columns().map(({ heading, align, ordered, size = USUAL }, index) =>
      Math.ceil(
        Math.max(
          size,
          longest(looked, index) * (align === 'left' ? LETTER : FIGURE) + AROUND,
          heading.length * LETTER + AROUND + (ordered ? ARROW : 0),
        ),
      ),
    );
  }
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
  return {
    drawn,
    /** What the columns leave to the names, where nobody has dragged one. */
    left: computed(() => room() - wide.value.reduce((sum, width) => sum + width, 0)),
    drag: (column: string, width: number): void =>
      layout.setWidth(keyOf(column), Math.max(LEAST, Math.round(width))),
    /** As wide as its numbers are again. */
    forget: (column: string): void => layout.setWidth(keyOf(column), undefined),
  };
}
