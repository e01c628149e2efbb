import { computed } from 'vue';
import type { LineSelection } from './grid-line.ts';
import { blockOf, type Selected } from './spots.ts';

/**
 * What of each row is selected. A row gets the same object as long as it says the same, so that
 * only rows are drawn anew that are selected otherwise.
 * @param fillable whether the end of a block can be dragged to fill
 */
export function useLineSelection(selected: () => Selected | undefined, fillable: () => boolean) {
  let kept = new Map<number, LineSelection>();
  return computed(() => {
    const made = new Map<number, LineSelection>();
    const now = selected();
    if (now) {
      const { top, bottom, left, right } = blockOf(now);
      for (let row = top; row <= bottom; row += 1) {
        const next = {
          from: left,
          to: right,
          active: row === now.active.row ? now.active.column : -1,
          end: row === bottom && fillable() ? right : -1,
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
}

type ByColumn = ReadonlyMap<string, string>;

/** Cells by `row column`, taken apart: by row, and in it by column. */
export function byRow(
  cells: ReadonlyMap<string, string> | undefined,
): ReadonlyMap<string, ByColumn> {
  const rows = new Map<string, Map<string, string>>();
  for (const [place, text] of cells ?? []) {
    const cut = place.lastIndexOf(' ');
    const row = place.slice(0, cut);
    rows.set(row, (rows.get(row) ?? new Map<string, string>()).set(place.slice(cut + 1), text));
  }
  return rows;
}
