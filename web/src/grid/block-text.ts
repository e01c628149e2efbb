/** Blocks of cells as the clipboard carries them: rows by lines, cells by tabs. */

/** Reads a block; a cell in quotes may hold tabs, lines and doubled quotes. */
export function readBlock(text: string): string[][] {
  const rows: string[][] = [];
  let row: string[] = [];
  let at = 0;
  const plain = text.replace(/\r\n?/g, '\n').replace(/\n$/, '');
  while (at <= plain.length) {
    let cell = '';
    if (plain[at] === '"') {
      at += 1;
      while (at < plain.length && !(plain[at] === '"' && plain[at + 1] !== '"')) {
        if (plain[at] === '"') at += 1;
        cell += plain[at] ?? '';
        at += 1;
      }
      at += 1;
    }
    while (at < plain.length && plain[at] !== '\t' && plain[at] !== '\n') {
      cell += plain[at] ?? '';
      at += 1;
    }
    row.push(cell);
    if (plain[at] !== '\t') {
      rows.push(row);
      row = [];
    }
    at += 1;
  }
  return rows;
}

/** Writes a block. */
export function writeBlock(rows: readonly (readonly string[])[]): string {
  const cell = (text: string): string =>
    /["\t\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
  return rows.map((row) => row.map(cell).join('\t')).join('\n');
}
