import type { Response } from 'express';

/** A number that is written with just these digits, as money is. */
export class Figure {
  constructor(readonly digits: string) {}
}

/** A number that follows from others of its line: a workbook has it as a formula. */
export class Derived {
  /**
   * @param field as it is now
   * @param formula of it, from the cells of its line's columns, counted from 0
   */
  constructor(
    readonly field: number | Figure | null,
    readonly formula: (cell: (column: number) => string) => string,
  ) {}
}

export type CsvField = string | number | Figure | Derived | null;
/** A line of a file; numbers stay numbers, null is an empty field. */
export type CsvLine = readonly CsvField[];

/**
 * What a spreadsheet runs as a formula: its signs, also as wide as a letter of Chinese or Japanese,
 * and also behind blanks and marks that nobody sees, which some take away first.
 */
const RUN_AS_FORMULA = /^[\t\r]|^[\s\p{Cf}\p{Cc}]*[=+\-@＝＋－＠﹢﹣﹦﹫]/u;

/**
 * A field by RFC 4180. A text that a spreadsheet would run as a formula gets an apostrophe before
 * it; numbers are written in full, with a dot.
 */
export function csvField(value: CsvField): string {
  if (value === null) return '';
  if (value instanceof Derived) return csvField(value.field);
  if (value instanceof Figure) return value.digits;
  if (typeof value === 'number') return Number.isFinite(value) ? String(value) : '';
  const safe = RUN_AS_FORMULA.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

/** Lines as a file by RFC 4180: commas, CR LF, UTF-8. */
export function toCsv(lines: readonly CsvLine[]): string {
  return lines.map((line) => `${line.map(csvField).join(',')}\r\n`).join('');
}

/** Answers with a file to be saved. */
export function sendCsv(response: Response, fileName: string, lines: readonly CsvLine[]): void {
  response
    .type('text/csv; charset=utf-8')
    .attachment(fileName)
    // A byte order mark, so that spreadsheets read it as UTF-8.
    .send(`\uFEFF${toCsv(lines)}`);
}
