import { SALES_LINE_FIELDS } from '@dravex/contract';
import type { Dimension } from '@dravex/core';
import { parse, type CsvError } from 'csv-parse';
import { badRequest } from '../platform/errors.ts';

/** A row of the file: its cells by field or dimension code, and its number as a person counts. */
export interface FileRow {
  readonly row: number;
  readonly width: number;
  cell(column: string): string;
}

/** A file of sales lines whose header was understood. */
export interface SalesFile {
  readonly rows: AsyncIterable<FileRow>;
  readonly width: number;
  /** The decimal sign of this file's numbers. */
  readonly decimal: '.' | ',';
}

const DELIMITERS = [',', ';', '\t'] as const;

/** A file's text. @throws HttpProblem 400 when it is empty or not UTF-8 text */
function decode(bytes: Buffer): string {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw badRequest('The file is not UTF-8 text; save it as CSV in UTF-8 and upload it again');
  }
  if (text.includes('\0')) {
    throw badRequest('The file holds NUL characters, so it is not a text file; save it as CSV');
  }
  if (text.trim() === '') throw badRequest('The file is empty; nothing was taken in');
  return text;
}

function delimiterOf(header: string): string {
  const counts = DELIMITERS.map((delimiter) => header.split(delimiter).length);
  return DELIMITERS[counts.indexOf(Math.max(...counts))] ?? ',';
}

/** Amounts such as `12,5` or `12,50` in a file that is not cut by commas. */
function decimalOf(text: string, delimiter: string): '.' | ',' {
  if (delimiter === ',') return '.';
  const start = text.slice(0, 20_000).split(/\r?\n/).slice(1);
  const cells = start.flatMap((line) => line.split(delimiter));
  return cells.some((cell) => /^-?\d+,\d{1,2}$/.test(cell.trim())) ? ',' : '.';
}

function plain(name: string): string {
  return name
    .trim()
    .toLowerCase()
    .replace(/[\s_-]+/g, ' ');
}

/** Which place each field has. @throws HttpProblem 400 naming what is missing */
function columnsOf(
  header: readonly string[],
  dimensions: readonly Dimension[],
): Map<string, number> {
  const places = new Map<string, number>();
  const twice: string[] = [];
  header.forEach((name, place) => {
    const known = plain(name);
    if (places.has(known)) twice.push(known);
    places.set(known, place);
  });
  const found = new Map<string, number>();
  const missing: string[] = [];
  const look = (column: string, names: readonly string[]): void => {
    const place = names.map((name) => places.get(plain(name))).find((p) => p !== undefined);
    if (place === undefined) missing.push(names[0] ?? column);
    else found.set(column, place);
  };
  for (const { code, name } of dimensions) look(code, [name.toLowerCase(), code]);
  for (const field of SALES_LINE_FIELDS) look(field, [field]);
  if (missing.length === 0) {
    const names = [...dimensions.map(({ name }) => name.toLowerCase()), ...SALES_LINE_FIELDS];
    const [doubled] = twice.filter((name) => names.includes(name));
    if (doubled !== undefined) throw badRequest(`The header names "${doubled}" twice`);
    return found;
  }
  const wanted = dimensions.length + SALES_LINE_FIELDS.length;
  if (missing.length > wanted / 2) {
    throw badRequest(
      `The first row is no header of sales lines: it should name ${[...dimensions.map(({ name }) => name.toLowerCase()), ...SALES_LINE_FIELDS].join(', ')}; nothing was taken in`,
    );
  }
  throw badRequest(
    `The header lacks ${missing.map((name) => `"${name}"`).join(' and ')}; add the column and upload the file again`,
    missing.map((name) => ({ path: name, message: 'this column is missing' })),
  );
}

/**
 * Understands a CSV of sales lines: UTF-8, cut by comma, semicolon or tab, a header in the first
 * row with columns in any order and any case.
 * @throws HttpProblem 400 for a file that is no such thing, saying what and where
 */
export async function readSalesFile(
  bytes: Buffer,
  dimensions: readonly Dimension[],
): Promise<SalesFile> {
  const text = decode(bytes).replace(/^\uFEFF/, '');
  const delimiter = delimiterOf(text.slice(0, text.search(/[\r\n]|$/)));
  const records = parse(text, {
    delimiter,
    relax_column_count: true,
    skip_empty_lines: true,
    info: true,
    max_record_size: 200_000,
    trim: true,
  });
  const lines = readable(records);
  const first = await lines.next();
  if (first.done) throw badRequest('The file is empty; nothing was taken in');
  const columns = columnsOf(first.value.record, dimensions);
  const width = first.value.record.length;

  async function* rows(): AsyncGenerator<FileRow> {
    let row = 1;
    for await (const { record } of { [Symbol.asyncIterator]: () => lines }) {
      row += 1;
      yield {
        row,
        width: record.length,
        cell: (column) => record[columns.get(column) ?? -1] ?? '',
      };
    }
  }
  return { rows: rows(), width, decimal: decimalOf(text, delimiter) };
}

interface Line {
  readonly record: string[];
}

/** Says in our words what the parser could not read. */
async function* readable(records: AsyncIterable<Line>): AsyncGenerator<Line, void> {
  try {
    for await (const line of records) yield line;
  } catch (error) {
    const { lines } = error as CsvError & { lines?: number };
    throw badRequest(
      `The file cannot be read from line ${lines ?? '?'} on: a quotation mark is not closed, or a field is far too long; nothing was taken in`,
    );
  }
}
