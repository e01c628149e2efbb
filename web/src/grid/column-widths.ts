import type { GridColumn, GridRow } from './plan-grid.ts';

/** How wide a column is where nothing says it. */
export const USUAL = 66;
/** Of a figure of the grid's text, with the room left and right of it. */
const FIGURE = 7.3;
/** The same of a letter of a text. */
const LETTER = 6.3;
/** Of the arrow of a column that rows are in order by. */
const ARROW = 14;
const AROUND = 18;
/** Of the dot before a number that was adjusted, and of the diamond before a bad difference. */
const DOT = 10;
const DIAMOND = 14;
/** So many rows from the first one on, and so many of all of them, are looked at. */
const FIRST = 24;
const OF_ALL = 12;

/** The rows by which columns are as wide as they are: what is in sight first, and some of the rest. */
function looked(rows: readonly GridRow[]): readonly GridRow[] {
  const step = Math.ceil(rows.length / OF_ALL);
  return rows.filter((_, place) => place < FIRST || place % step === 0);
}

/** How much room the widest cell of a column takes. */
function widest(rows: readonly GridRow[], index: number, letter: number): number {
  let most = 0;
  for (const row of rows) {
    const cell = row.cells.at(index);
    if (!cell) continue;
    const { text, beside = '', dress, judgement } = cell;
    const letters = text.length + (beside === '' ? 0 : beside.length + 1);
    const before = (dress === 'entries' ? DOT : 0) + (judgement === 'bad' ? DIAMOND : 0);
    most = Math.max(most, letters * letter + before);
  }
  return most;
}

export interface RowsLooked {
  /** Rows that stay in sight. */
  readonly pinned: readonly GridRow[];
  readonly others: readonly GridRow[];
}

/** Of names: what they have at the least and at the most, and how much of the frame they may take. */
const NAMES = 196;
const NAMES_AT_MOST = 340;
const OF_FRAME = 0.34;
/** Of a level of a tree, and of what stands before and behind a name. */
const LEVEL = 12;
const AROUND_NAME = 38;

/**
 * How wide the rows' names have to be to be told apart: as long as they are, within reason.
 * @param frame how wide the whole table is
 */
export function namesNeeded({ pinned, others }: RowsLooked, frame: number): number {
  const lengths = [...pinned, ...looked(others)].map(
    ({ label, level, tail }) =>
      (label.length + (tail === undefined ? 0 : tail.length)) * LETTER +
      level * LEVEL +
      AROUND_NAME,
  );
  const most = Math.min(NAMES_AT_MOST, frame * OF_FRAME);
  return Math.max(NAMES, Math.ceil(Math.min(most, Math.max(0, ...lengths))));
}

/** How wide columns have to be for their numbers, with what stands before them, and headings. */
export function widthsNeeded(
  columns: readonly GridColumn[],
  { pinned, others }: RowsLooked,
): number[] {
  const some = [...pinned, ...looked(others)];
  return columns.map(({ heading, align, ordered, size = USUAL }, index) =>
    Math.ceil(
      Math.max(
        size,
        widest(some, index, align === 'left' ? LETTER : FIGURE) + AROUND,
        heading.length * LETTER + AROUND + (ordered ? ARROW : 0),
      ),
    ),
  );
}
