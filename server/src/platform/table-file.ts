/** Tables as files to be saved: CSV for machines, workbooks for people. */
import type { Writable } from 'node:stream';
import ExcelJS from 'exceljs';
import type { Response } from 'express';
import { Derived, Figure, sendCsv, type CsvField, type CsvLine } from './csv.ts';
import { notFound } from './errors.ts';
import { pausesFor } from './pauses.ts';

export type TableFormat = 'csv' | 'xlsx';

/** What an address ends with, as a format. @throws HttpProblem 404 */
export function tableFormat(text: string): TableFormat {
  if (text !== 'csv' && text !== 'xlsx') throw notFound('such kind of file; csv and xlsx are');
  return text;
}

const WORKBOOK = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';
/** Columns are as wide as their longest text, within reason; in characters. */
const [NARROW, WIDE] = [9, 44];

function textOf(field: CsvField): string {
  if (field instanceof Derived) return textOf(field.field);
  if (field === null) return '';
  return field instanceof Figure ? field.digits : String(field);
}

/** The letters of a column, counted from 1. */
export function lettersOf(column: number): string {
  const rest = (column - 1) % 26;
  const before = Math.floor((column - 1) / 26);
  return `${before > 0 ? lettersOf(before) : ''}${String.fromCharCode(65 + rest)}`;
}

/** A number stays a number; money is shown with its currency's digits. */
function put(cell: ExcelJS.Cell, field: CsvField): void {
  if (field instanceof Derived) {
    put(cell, field.field);
    // What is not known stays empty: it does not follow.
    if (field.field === null) return;
    const formula = field.formula((column) => `${lettersOf(column + 1)}${cell.row}`);
    cell.value = { formula, result: Number(textOf(field.field)), date1904: false };
  } else if (field instanceof Figure) {
    const digits = field.digits.split('.')[1]?.length ?? 0;
    cell.value = Number(field.digits);
    cell.numFmt = `#,##0${digits === 0 ? '' : `.${'0'.repeat(digits)}`}`;
  } else if (typeof field === 'number') cell.value = Number.isFinite(field) ? field : null;
  else cell.value = field;
}

/**
 * Writes a workbook with one sheet, row by row: what the table is about, then its headings and
 * lines. The headings stay in sight, and can be filtered.
 * @param to where it goes; it is ended
 */
export async function writeWorkbook(
  to: Writable,
  name: string,
  about: readonly string[],
  [heads = [], ...lines]: readonly CsvLine[],
): Promise<void> {
  const pause = pausesFor(to);
  const book = new ExcelJS.stream.xlsx.WorkbookWriter({ stream: to, useStyles: true });
  const top = about.length + 2;
  // A sheet's name has at most 31 characters and some it cannot have.
  const sheet = book.addWorksheet(name.replace(/[\\/?*[\]:]/g, ' ').slice(0, 31), {
    views: [{ state: 'frozen', xSplit: 1, ySplit: top }],
  });
  sheet.columns = heads.map((head, column) => {
    const texts = [head, ...lines.slice(0, 200).map((line) => line[column] ?? null)];
    const longest = Math.max(...texts.map((field) => textOf(field).length));
    return { width: Math.min(WIDE, Math.max(NARROW, longest + 2)) };
  });
  sheet.autoFilter = { from: { row: top, column: 1 }, to: { row: top, column: heads.length } };
  about.forEach((text, place) => {
    const cell = sheet.getRow(place + 1).getCell(1);
    cell.value = text;
    if (place === 0) cell.font = { bold: true };
    sheet.getRow(place + 1).commit();
  });
  const heading = sheet.getRow(top);
  heads.forEach((head, column) => {
    const cell = heading.getCell(column + 1);
    put(cell, head);
    cell.font = { bold: true };
    cell.border = { bottom: { style: 'thin' } };
  });
  heading.commit();
  for (const [place, line] of lines.entries()) {
    const row = sheet.getRow(top + 1 + place);
    line.forEach((field, column) => put(row.getCell(column + 1), field));
    row.commit();
    await pause(line.length);
  }
  sheet.commit();
  await book.commit();
}

/**
 * Answers with a table as a file to be saved.
 * @param name of the file, without its ending
 * @param about what a person has to know of it: workspace, scope, period, version
 */
export async function sendTable(
  response: Response,
  format: TableFormat,
  name: string,
  about: readonly string[],
  lines: readonly CsvLine[],
): Promise<void> {
  if (format === 'csv') sendCsv(response, `${name}.csv`, lines);
  else await writeWorkbook(asWorkbook(response, name), name, about, lines);
}

/** Says of an answer that it is a workbook to be saved. */
export function asWorkbook(response: Response, name: string): Response {
  return response.type(WORKBOOK).attachment(`${name}.xlsx`);
}
