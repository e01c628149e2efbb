/** What of a row it is found by. */
export interface FindableRow {
  readonly key: string;
  readonly label: string;
}

/**
 * The next row whose name holds some words, from the active one on, and again from the first.
 * @param rows in the order of display, those included that are folded away
 * @param active the key of the row where one is
 * @param next whether the active row itself does not count
 * @returns its key; undefined where there is none, and for no words
 */
export function findRow(
  rows: readonly FindableRow[],
  active: string | undefined,
  words: string,
  next: boolean,
): string | undefined {
  const wanted = words.trim().toLowerCase();
  if (wanted === '') return undefined;
  const here = Math.max(
    0,
    rows.findIndex(({ key }) => key === active),
  );
  const from = here + (next ? 1 : 0);
  const inTurn = [...rows.slice(from), ...rows.slice(0, from)];
  return inTurn.find(({ label }) => label.toLowerCase().includes(wanted))?.key;
}
