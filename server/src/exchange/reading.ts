/** Understands a table: where its header is, what its columns hold, how its numbers and dates are written. */
import {
  wholeNumberFields,
  type ImportField,
  type Reading,
  type ReadingChoice,
} from '@dravex/contract';
import {
  dateStyleOf,
  decimalSignOf,
  headerPlace,
  isWide,
  joinYears,
  matchColumns,
  monthColumns,
  plainHeading,
  type Cell,
  type DateStyle,
  type DecimalSign,
} from '@dravex/core';
import { badRequest } from '../platform/errors.ts';
import { MOST_COLUMNS, type RawRow } from './raw-row.ts';
import type { TableFile } from './table-file.ts';

/** How many rows are looked at. */
const LOOKED_AT = 200;
/** The header stands among the first of them. */
const HEADER_WITHIN = 30;

/** What stands where the table itself does not tell. */
export interface Customs {
  readonly decimal: DecimalSign;
  readonly dates: DateStyle;
}

/** How people of a locale write. */
export function customsOf(locale: string): Customs {
  const parts = new Intl.NumberFormat(locale).formatToParts(1.5);
  const decimal = parts.find(({ type }) => type === 'decimal')?.value === ',' ? ',' : '.';
  return { decimal, dates: /-US$/i.test(locale) ? 'mdy' : 'dmy' };
}

/** A table that was understood; its rows below the header come as they are asked for. */
export interface UnderstoodTable {
  readonly reading: Reading;
  readonly detected: readonly string[];
  /** Fields that every row needs and that nothing holds. */
  readonly missing: readonly ImportField[];
  /** The first rows below the header. */
  readonly sample: readonly RawRow[];
  readonly rows: AsyncIterable<readonly RawRow[]>;
}

async function firstRows(source: AsyncIterator<readonly RawRow[]>): Promise<RawRow[]> {
  const rows: RawRow[] = [];
  while (rows.length < LOOKED_AT) {
    const { value, done } = await source.next();
    if (done) break;
    rows.push(...value);
  }
  return rows;
}

/**
 * @param title what the file is called, which may say what a wide table holds
 * @throws HttpProblem 400 for a table without rows or with a column named twice
 */
export async function understand(
  file: TableFile,
  title: string,
  fields: readonly ImportField[],
  choice: ReadingChoice,
  customs: Customs,
): Promise<UnderstoodTable> {
  const source = file.rows[Symbol.asyncIterator]();
  const first = await firstRows(source);
  if (first.length === 0) {
    throw badRequest(
      file.sheet === undefined
        ? 'The file is empty; nothing was imported'
        : `The sheet "${file.sheet}" has no cell with anything in it; choose another one`,
    );
  }
  const place =
    choice.headerRow === undefined
      ? headerPlace(
          first.slice(0, HEADER_WITHIN).map(({ cells }) => cells),
          fields,
        )
      : first.findIndex(({ row }) => row === choice.headerRow);
  const headerRow = first[place];
  if (!headerRow) throw badRequest(`There is no row ${choice.headerRow ?? 1} among the first rows`);
  if (headerRow.cells.length > MOST_COLUMNS) {
    throw badRequest(
      `Row ${headerRow.row} has more than the ${MOST_COLUMNS} columns that are read; delete what stands beyond the table, and upload it again`,
    );
  }
  const header = joinYears(
    first[place - 1]?.cells ?? [],
    headerRow.cells.map((cell) => String(cell).trim()),
  );
  const sample = first.slice(place + 1);
  const cells = sample.map((row) => row.cells);

  const shape = choice.shape ?? (isWide(header) ? 'wide' : 'long');
  const months = shape === 'wide' ? monthColumns(header) : new Map<number, string>();
  const above = [title, file.sheet ?? '', ...first.slice(0, place).flatMap((row) => row.cells)];
  const values = choice.values ?? (shape === 'wide' ? valuesOf(above.join(' '), fields) : '');
  const columns = columnsOf(header, cells, fields, choice, months, values);

  const numbers = fields
    .filter(({ content }) => content === 'number')
    .map(({ key }) => columns[key] ?? -1);
  const days = fields
    .filter(({ content }) => content === 'day')
    .map(({ key }) => columns[key] ?? -1);
  const decimalSign = decimalSignOf(texts(cells, [...numbers, ...months.keys()]));
  const usual = file.delimiter === ',' || file.format === 'json' ? '.' : customs.decimal;
  const foundDates = dateStyleOf(texts(cells, days));
  const detected = [
    ...(choice.headerRow === undefined ? ['headerRow'] : []),
    ...(choice.decimal === undefined && decimalSign !== undefined ? ['decimal'] : []),
    ...(choice.dates === undefined && foundDates !== undefined ? ['dates'] : []),
    ...(choice.shape === undefined ? ['shape'] : []),
    ...(choice.encoding === undefined ? ['encoding'] : []),
    ...(choice.delimiter === undefined ? ['delimiter'] : []),
  ];
  const reading: Reading = {
    format: file.format,
    encoding: file.encoding,
    delimiter: file.delimiter,
    sheet: file.sheet,
    headerRow: headerRow.row,
    header,
    decimal: choice.decimal ?? decimalSign ?? usual,
    dates: choice.dates ?? foundDates ?? customs.dates,
    shape,
    values,
    columns,
    constants: choice.constants ?? {},
    byCustomer: choice.byCustomer ?? [],
    fillDown: choice.fillDown ?? false,
    turn: choice.turn ?? [],
  };
  async function* rows(): AsyncGenerator<readonly RawRow[]> {
    if (sample.length > 0) yield sample;
    for (;;) {
      const { value, done } = await source.next();
      if (done) return;
      yield value;
    }
  }
  return { reading, detected, missing: missingFields(fields, reading), sample, rows: rows() };
}

function* texts(rows: readonly (readonly Cell[])[], columns: readonly number[]): Generator<string> {
  for (const cells of rows) {
    for (const column of columns) {
      const cell = cells[column];
      if (typeof cell === 'string' && cell !== '') yield cell;
    }
  }
}

/** What a wide table holds, by what is written above it: the first number field that is named. */
function valuesOf(above: string, fields: readonly ImportField[]): string {
  const words = ` ${plainHeading(above)} `;
  const numbers = wholeNumberFields(fields);
  const named = numbers.find(({ names }) =>
    names.some((name) => words.includes(` ${plainHeading(name)} `)),
  );
  const usual = numbers.find(({ key }) => key === 'net amount') ?? numbers[0];
  return (named ?? usual)?.key ?? '';
}

function columnsOf(
  header: readonly string[],
  rows: readonly (readonly Cell[])[],
  fields: readonly ImportField[],
  choice: ReadingChoice,
  months: ReadonlyMap<number, string>,
  values: string,
): Record<string, number | null> {
  const chosen = choice.columns ?? {};
  const taken = new Set(Object.values(chosen));
  // A field that was given a column, a value or "none" is settled; so is a column that was given away.
  const open = fields.filter(
    ({ key, content }) =>
      chosen[key] === undefined &&
      choice.constants?.[key] === undefined &&
      !choice.byCustomer?.includes(key) &&
      (months.size === 0 || (content !== 'day' && content !== 'number')),
  );
  const free = header.map((name, column) => (taken.has(column) || months.has(column) ? '' : name));
  const cells = rows.map((row) => row.map((cell, column) => (free[column] === '' ? '' : cell)));
  const names = new Map<string, number>();
  for (const name of free) {
    const heading = plainHeading(name);
    names.set(heading, (names.get(heading) ?? 0) + 1);
  }
  const matched = matchColumns(free, cells, open);
  for (const [key, column] of matched) {
    const heading = plainHeading(header[column] ?? '');
    if ((names.get(heading) ?? 0) > 1 && choice.columns === undefined) {
      throw badRequest(`The header names "${heading}" twice, and both could be the ${key}`);
    }
  }
  return Object.fromEntries(
    fields.map(({ key }) => [
      key,
      months.size > 0 && key === values ? null : (chosen[key] ?? matched.get(key) ?? null),
    ]),
  );
}

/** Whether a field follows from the customer, whom a column names. */
export function followsCustomer(
  { columns, byCustomer = [] }: Pick<Reading, 'columns' | 'byCustomer'>,
  key: string,
): boolean {
  return byCustomer.includes(key) && typeof columns['customer'] === 'number';
}

/** The fields that a reading lacks. */
export function missingFields(fields: readonly ImportField[], reading: Reading): ImportField[] {
  const held = ({ key, content }: ImportField): boolean =>
    reading.columns[key] !== null ||
    reading.constants[key] !== undefined ||
    followsCustomer(reading, key) ||
    (reading.shape === 'wide' && (content === 'day' || key === reading.values));
  const amounts = fields.filter(({ need }) => need === 'amount');
  const needed = fields.filter(({ need }) => need === 'always');
  return [
    ...needed.filter((field) => !held(field)),
    ...(amounts.length > 0 && !amounts.some(held) ? amounts : []),
  ];
}

/** Fields as a person is shown them: not by which names they are found. */
export function shownFields(fields: readonly ImportField[]) {
  return fields.map(({ key, label, need, content, less }) => ({ key, label, need, content, less }));
}
