/** The key of the row above another one: keys of a tree are ways from the top, `1/5/11`. */
function above(key: string): string {
  return key.split('/').slice(0, -1).join('/');
}

/** Rows of a tree in another order: each among those of the same row, with its own below it. */
export function amongSiblings<Row extends { readonly key: string }>(
  rows: readonly Row[],
  compare: (a: Row, b: Row) => number,
): Row[] {
  const below = new Map<string, Row[]>();
  for (const row of rows) {
    const list = below.get(above(row.key)) ?? [];
    list.push(row);
    below.set(above(row.key), list);
  }
  const walk = (key: string): Row[] =>
    (below.get(key) ?? []).toSorted(compare).flatMap((row) => [row, ...walk(row.key)]);
  return walk('');
}
