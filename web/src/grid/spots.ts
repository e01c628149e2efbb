/** Where one is in a grid, and how one moves; by index, of rows and columns in sight and out of it. */

export interface Spot {
  readonly row: number;
  readonly column: number;
}

/** A selection: the cell that takes what is typed, and the opposite corner of its block. */
export interface Selected {
  readonly active: Spot;
  readonly corner: Spot;
}

/** The rows and columns of a block, both ends included. */
export interface Block {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
}

export type Step =
  | 'up'
  | 'down'
  | 'left'
  | 'right'
  | 'next'
  | 'previous'
  | 'pageUp'
  | 'pageDown'
  | 'top'
  | 'bottom'
  | 'rowStart'
  | 'rowEnd'
  | 'first'
  | 'last';

export interface GridSize {
  readonly rows: number;
  readonly columns: number;
  /** How many rows a page has. */
  readonly page: number;
}

const within = (value: number, count: number): number => Math.max(0, Math.min(count - 1, value));

/** The spot inside a grid that is nearest to another one. */
export function inside({ row, column }: Spot, { rows, columns }: GridSize): Spot {
  return { row: within(row, rows), column: within(column, columns) };
}

/**
 * The spot one comes to by a step. `next` and `previous` go on in the next or the row before at an
 * edge; undefined where there is no next one any more, so that a Tab leaves the grid there.
 */
export function stepped(from: Spot, step: Step, size: GridSize): Spot | undefined {
  const { row, column } = from;
  const { rows, columns, page } = size;
  switch (step) {
    case 'next':
      if (column < columns - 1) return { row, column: column + 1 };
      return row < rows - 1 ? { row: row + 1, column: 0 } : undefined;
    case 'previous':
      if (column > 0) return { row, column: column - 1 };
      return row > 0 ? { row: row - 1, column: columns - 1 } : undefined;
    case 'first':
      return { row: 0, column: 0 };
    case 'last':
      return { row: rows - 1, column: columns - 1 };
    case 'top':
      return { row: 0, column };
    case 'bottom':
      return { row: rows - 1, column };
    case 'rowStart':
      return { row, column: 0 };
    case 'rowEnd':
      return { row, column: columns - 1 };
    default: {
      const [down, right] = {
        up: [-1, 0],
        down: [1, 0],
        left: [0, -1],
        right: [0, 1],
        pageUp: [-page, 0],
        pageDown: [page, 0],
      }[step] as [number, number];
      return inside({ row: row + down, column: column + right }, size);
    }
  }
}

/** The block that a selection covers. */
export function blockOf({ active, corner }: Selected): Block {
  return {
    top: Math.min(active.row, corner.row),
    bottom: Math.max(active.row, corner.row),
    left: Math.min(active.column, corner.column),
    right: Math.max(active.column, corner.column),
  };
}

/** The spots of a block, row by row. */
export function spotsOf({ top, bottom, left, right }: Block): Spot[] {
  const spots: Spot[] = [];
  for (let row = top; row <= bottom; row += 1) {
    for (let column = left; column <= right; column += 1) spots.push({ row, column });
  }
  return spots;
}

/** A text and the spot it goes into. */
export interface Placed {
  readonly spot: Spot;
  readonly text: string;
}

/**
 * Lays a pasted block of texts down: one text fills the whole selection, a block begins at its
 * upper left corner, and is repeated where the selection holds it several times.
 * @returns the texts with their spots, and how many rows and columns lay beyond the edge
 */
export function laidDown(
  texts: readonly (readonly string[])[],
  selection: Block,
  size: GridSize,
): { placed: Placed[]; rowsBeyond: number; columnsBeyond: number } {
  const tall = texts.length;
  const wide = Math.max(0, ...texts.map((row) => row.length));
  const times = (length: number, selected: number): number =>
    selected % length === 0 ? selected : length;
  const rows = tall === 0 ? 0 : times(tall, selection.bottom - selection.top + 1);
  const columns = wide === 0 ? 0 : times(wide, selection.right - selection.left + 1);
  const placed: Placed[] = [];
  for (let down = 0; down < rows; down += 1) {
    for (let right = 0; right < columns; right += 1) {
      const spot = { row: selection.top + down, column: selection.left + right };
      const text = texts[down % tall]?.[right % wide];
      if (text === undefined || spot.row >= size.rows || spot.column >= size.columns) continue;
      placed.push({ spot, text });
    }
  }
  return {
    placed,
    rowsBeyond: Math.max(0, selection.top + rows - size.rows),
    columnsBeyond: Math.max(0, selection.left + columns - size.columns),
  };
}

/**
 * Fills a block from its first row (down) or first column (right); a block of one row or column
 * takes from the one before it, as in a spreadsheet.
 * @param textAt what is typed in a cell
 */
export function filled(
  block: Block,
  to: 'down' | 'right',
  textAt: (spot: Spot) => string,
): Placed[] {
  const down = to === 'down';
  const single = down ? block.top === block.bottom : block.left === block.right;
  const from = (down ? block.top : block.left) - (single ? 1 : 0);
  if (from < 0) return [];
  return spotsOf(block).flatMap((spot) => {
    const source = down ? { ...spot, row: from } : { ...spot, column: from };
    const same = source.row === spot.row && source.column === spot.column;
    return same ? [] : [{ spot, text: textAt(source) }];
  });
}
