/** A table to be filled in, as a workbook. */
import type { Writable } from 'node:stream';
import ExcelJS from 'exceljs';
import { pausesFor } from '../platform/pauses.ts';
import { lettersOf } from '../platform/table-file.ts';
import { asSaved, KEY, LINE, type FilledRow, type FilledTable } from './filled-form.ts';

const HEADING_ROW = 4;
const FIRST_ROW = HEADING_ROW + 1;
const WIDTHS = { key: 10, name: 34, number: 14, percent: 10, text: 40 } as const;
const OPEN = { type: 'pattern', pattern: 'solid', fgColor: { argb: 'FFFFF8E6' } } as const;

/** A formula takes so many ranges. */
const MOST_RANGES = 255;

/** Cells of one column as a formula adds them up: those that follow each other as one range. */
function added(column: string, rows: readonly number[]): string {
  const ranges: string[] = [];
  let from = 0;
  rows.forEach((row, place) => {
    if (place === 0 || row !== (rows[place - 1] ?? 0) + 1) from = row;
    if (row + 1 === rows[place + 1]) return;
    ranges.push(from === row ? `${column}${row}` : `${column}${from}:${column}${row}`);
  });
  const sums: string[] = [];
  for (let at = 0; at < ranges.length; at += MOST_RANGES) {
    sums.push(`SUM(${ranges.slice(at, at + MOST_RANGES).join(',')})`);
  }
  return sums.join('+');
}

/**
 * Writes a table row by row: totals are live formulas, what can be filled in is open and marked,
 * everything else locked (without a password); keys and numbers as saved are out of sight.
 * @param to where the workbook goes; it is ended
 */
export async function writeFilledWorkbook(table: FilledTable, to: Writable): Promise<void> {
  const { title, about, heads, columns, rows, digits, wholes, fixed } = table;
  const pause = pausesFor(to);
  const book = new ExcelJS.stream.xlsx.WorkbookWriter({ stream: to, useStyles: true });
  const page = book.addWorksheet('Fill in', {
    views: [{ state: 'frozen', xSplit: 2, ySplit: HEADING_ROW }],
  });
  await page.protect('', {
    selectLockedCells: true,
    selectUnlockedCells: true,
    formatColumns: true,
    formatRows: true,
    sort: true,
    autoFilter: true,
  });
  const decimals = digits > 0 ? `.${(fixed ? '0' : '#').repeat(digits)}` : '';
  const number = { numFmt: `#,##0${decimals}` };
  const percent = { numFmt: '+0.0%;-0.0%;0.0%' };
  const bold = { font: { bold: true } };
  const total = { ...number, ...bold };
  const open = { ...number, fill: OPEN, protection: { locked: false } };

  const kindOf = (head: string) => columns.find((one) => one.head === head)?.kind ?? 'number';
  const all = [KEY, LINE, ...heads, ...columns.map(({ head }) => head), ...heads.map(asSaved)];
  const hidden = new Set([KEY, ...heads.map(asSaved)]);
  page.columns = all.map((head) => ({
    width: head === KEY ? WIDTHS.key : head === LINE ? WIDTHS.name : WIDTHS[kindOf(head)],
    hidden: hidden.has(head),
  }));
  const column = new Map(all.map((head, place) => [head, place + 1]));
  const at = (head: string): number => column.get(head) ?? 1;

  // Words stand in the first column that is seen.
  const words = [title, about];
  words.forEach((text, place) => {
    const cell = page.getRow(place + 1).getCell(at(LINE));
    cell.value = text;
    if (place === 0) cell.style = bold;
    page.getRow(place + 1).commit();
  });
  const heading = page.getRow(HEADING_ROW);
  all.forEach((head, place) => {
    const cell = heading.getCell(place + 1);
    cell.value = head;
    cell.style = { ...bold, border: { bottom: { style: 'thin' } } };
  });
  heading.commit();

  const below = rowsBelow(rows);
  const shown = (value: number | null): number | null => (value === null ? null : value / wholes);
  for (const [place, line] of rows.entries()) {
    const row = page.getRow(FIRST_ROW + place);
    const put = (head: string, value: ExcelJS.CellValue, style: Partial<ExcelJS.Style>): void => {
      const cell = row.getCell(at(head));
      cell.value = value;
      cell.style = style;
    };
    put(KEY, line.key, {});
    put(LINE, line.name, { ...(line.parent ? bold : {}), alignment: { indent: line.level } });
    heads.forEach((head, which) => {
      const value = shown(line.values[which] ?? null);
      if (line.parent) {
        const formula = added(lettersOf(at(head)), below[place] ?? []);
        put(head, { formula, result: value ?? 0 }, total);
      } else put(head, value, line.locked === undefined ? open : number);
      put(asSaved(head), value, number);
    });
    columns.forEach(({ head, kind, formula }, which) => {
      const field = line.beside[which] ?? null;
      if (kind === 'text') {
        if (typeof field === 'string') put(head, field, {});
        return;
      }
      const plain = typeof field === 'number' ? field : null;
      const value = kind === 'number' ? shown(plain) : plain;
      const said = formula?.((other) => `${lettersOf(at(other))}${FIRST_ROW + place}`);
      const style = kind === 'number' ? (line.parent ? total : number) : percent;
      put(head, said === undefined ? value : { formula: said, result: value ?? '' }, style);
    });
    row.commit();
    await pause(all.length);
  }
  page.commit();
  await book.commit();
}

/** The numbers of the rows right below each total, found in one pass. */
function rowsBelow(rows: readonly FilledRow[]): readonly (readonly number[])[] {
  const below: number[][] = rows.map(() => []);
  const open: number[] = [];
  rows.forEach(({ level, parent }, place) => {
    while (open.length > 0 && (rows[open.at(-1) ?? 0]?.level ?? 0) >= level) open.pop();
    const above = open.at(-1);
    if (above !== undefined) below[above]?.push(FIRST_ROW + place);
    if (parent) open.push(place);
  });
  return below;
}
