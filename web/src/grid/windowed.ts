/** Which of many rows or columns are in sight; only those are drawn. */

/** The first one in sight and the one after the last. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** Rows of one height: those in sight and a few around them. */
export function rowsInSight(
  scrolled: number,
  height: number,
  rowHeight: number,
  count: number,
  around: number,
): Stretch {
  const from = Math.max(0, Math.floor(scrolled / rowHeight) - around);
  const to = Math.min(count, Math.ceil((scrolled + height) / rowHeight) + around);
  return { from: Math.min(from, to), to };
}

/** Where columns of several widths begin; one more than there are, the last is where all end. */
export function beginnings(widths: readonly number[]): number[] {
  const starts = [0];
  for (const width of widths) starts.push((starts.at(-1) ?? 0) + width);
  return starts;
}

/** The columns that any part of a stretch of pixels shows. */
export function columnsInSight(starts: readonly number[], left: number, width: number): Stretch {
  const count = starts.length - 1;
  let from = 0;
  while (from < count - 1 && (starts[from + 1] ?? 0) <= left) from += 1;
  let to = from;
  while (to < count && (starts[to] ?? 0) < left + width) to += 1;
  return { from, to };
}

/**
 * Widths that use the room there is: what is left over is divided among the columns, each at most
 * half as wide again.
 */
export function widened(widths: readonly number[], room: number): number[] {
  const whole = widths.reduce((sum, width) => sum + width, 0);
  const factor = whole === 0 ? 1 : Math.min(1.5, Math.max(1, room / whole));
  return widths.map((width) => Math.floor(width * factor));
}
