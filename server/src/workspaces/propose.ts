import {
  figureColumn,
  figureNamed,
  type FirstFileChoice,
  type FirstFileLook,
  type ReadingChoice,
  type WorkspaceProposal,
} from '@dravex/contract';
import {
  addDays,
  isTotalRow,
  lastDayOf,
  monthColumns,
  monthFrom,
  monthText,
  readDay,
  readNumber,
  type Cell,
} from '@dravex/core';
import { badRequest } from '../platform/errors.ts';
import { shownFields } from '../exchange/reading.ts';
import { FirstMembers, withFirstFile, type FirstFile } from './first-file.ts';

/** More members than this are no way to cut sales. */
const MOST_MEMBERS = 20_000;
/** How far ahead a first plan looks, in months after the last one with sales. */
const AHEAD = 30;
const SHOWN_ROWS = 30;
const LONGEST_NAME = 100;
/** Numbers of a file are read to thousandths and shown so. */
const DIGITS = 3;

interface Sent {
  readonly fileName: string;
  readonly reading?: FirstFileChoice | undefined;
}

/** Says how a first file would be read, and keeps nothing of it. @throws HttpProblem 400 */
export function lookAtFirstFile(
  chunks: AsyncIterable<Buffer>,
  { fileName, reading = {} }: Sent,
): Promise<FirstFileLook> {
  return withFirstFile(chunks, fileName, reading, (first) =>
    Promise.resolve({
      reading: first.reading,
      sheets: [...first.sheets],
      detected: [...first.detected],
      fields: shownFields(first.fields),
      missing: first.missing.map(({ key }) => key),
      rows: first.table.sample
        .slice(0, SHOWN_ROWS)
        .map(({ row, cells }) => ({ row, cells: [...cells] })),
      mapping: null,
      dimensions: first.dimensions.map((one) => ({ ...one })),
    }),
  );
}

/** The last month that is over on a day: a day in mid-month leaves its month open. */
function closedOn(day: string): string {
  const month = day.slice(0, 7);
  const last = addDays(day, 1).slice(0, 7) !== month;
  return last ? month : monthText(monthFrom(month) - 1);
}

/** @throws HttpProblem 400 naming what the file lacks */
function mustBeComplete({ missing, dimensions, reading, table }: FirstFile): void {
  if (table.sample.length === 0) throw badRequest('The file has a header and no rows');
  const names = [
    ...missing.filter(({ need }) => need !== 'amount').map(({ label }) => label.toLowerCase()),
    ...(missing.some(({ need }) => need === 'amount') ? ['quantity or net amount'] : []),
  ];
  if (names.length > 0) {
    throw badRequest(
      `No column of ${reading.header.length} holds ${names.join(', ')}; say which one does`,
      names.map((path) => ({ path, message: 'no column holds this' })),
    );
  }
  if (dimensions.length === 0) {
    throw badRequest(
      'No column says how sales are divided; choose one as a dimension, such as product',
    );
  }
}

/** What a stretch of a file adds up to, in thousandths; NaN where a field is not held. */
interface Sum {
  lines: number;
  quantity: number;
  'net amount': number;
  cost: number;
}
const AMOUNTS = ['quantity', 'net amount', 'cost'] as const;

/**
 * Reads a first file whole and proposes a workspace: members by dimension, sums by month, and a
 * calendar from the first sale on. Totals among the rows are left out.
 * @throws HttpProblem 400 for a file that does not hold what a sales line needs
 */
export function proposeWorkspace(
  chunks: AsyncIterable<Buffer>,
  { fileName, reading: choice = {} }: Sent,
): Promise<WorkspaceProposal> {
  return withFirstFile(chunks, fileName, choice, async (first) => {
    mustBeComplete(first);
    const { reading, table } = first;
    const across = reading.shape === 'wide' ? monthColumns(reading.header) : undefined;
    const all = first.dimensions.map((dimension) => new FirstMembers(dimension));
    const held = [...Object.values(reading.columns), ...(across?.keys() ?? [])].flatMap(
      (column) => column ?? [],
    );
    const sums = new Map<string, Sum>();
    const above = new Map<number, Cell>();
    const counts = { rows: 0, totals: 0, faulty: 0 };
    let [from, to] = ['9999', '0000'];

    const cellOf = (cells: readonly Cell[], column: number): Cell => {
      const cell = cells[column] ?? '';
      if (!reading.fillDown) return cell;
      if (cell !== '') above.set(column, cell);
      return cell === '' ? (above.get(column) ?? '') : cell;
    };
    const less = new Map(first.fields.map((field) => [field.key, field.less ?? '']));
    const one = (cells: readonly Cell[], field: string, month?: number): number => {
      const column =
        month !== undefined && field === reading.values ? month : reading.columns[field];
      if (column === null || column === undefined) return 0;
      const cell = cells[column] ?? '';
      return cell === '' ? 0 : readNumber(cell, reading.decimal, DIGITS);
    };
    const figure = figureColumn(reading);
    const figures = new Set<string>();
    const amount = (cells: readonly Cell[], field: string, month?: number): number => {
      const sign = reading.turn.includes(field) ? -1 : 1;
      if (figure === undefined) {
        return (one(cells, field, month) - one(cells, less.get(field) ?? '')) * sign;
      }
      const named = figureNamed(String(cells[reading.columns['figure'] ?? -1] ?? ''));
      if (named === undefined) return NaN;
      figures.add(named);
      return named === field ? one(cells, figure, month) * sign : 0;
    };
    const isHeld = (field: string): boolean =>
      figures.has(field) ||
      typeof reading.columns[field] === 'number' ||
      (across !== undefined && field === reading.values);
    /** The numbers of a line in the order of AMOUNTS; undefined where one of them is none. */
    const valuesOf = (cells: readonly Cell[], month?: number): number[] | undefined => {
      const values = AMOUNTS.map((field) => amount(cells, field, month));
      return values.some(Number.isNaN) ? undefined : values;
    };
    const take = (day: string, values: readonly number[]): void => {
      if (day < from) from = day;
      if (day > to) to = day;
      const key = day.slice(0, 7);
      const sum = sums.get(key) ?? { lines: 0, quantity: 0, 'net amount': 0, cost: 0 };
      sum.lines += 1;
      AMOUNTS.forEach((field, place) => (sum[field] += values[place] ?? 0));
      sums.set(key, sum);
    };
    /** The lines of a row: one, or one for each month across; undefined where something is wrong. */
    const linesOf = (cells: readonly Cell[]): { day: string; values: number[] }[] | undefined => {
      const dateColumn = reading.columns['date'] ?? -1;
      const days: readonly (readonly [string, number | undefined])[] = across
        ? [...across].flatMap(([column, month]) =>
            (cells[column] ?? '') === '' ? [] : [[lastDayOf(month), column] as const],
          )
        : [[readDay(cellOf(cells, dateColumn), reading.dates) ?? '', undefined]];
      const lines: { day: string; values: number[] }[] = [];
      for (const [day, column] of days) {
        const values = valuesOf(cells, column);
        if (day === '' || !values) return undefined;
        lines.push({ day, values });
      }
      return lines.length > 0 ? lines : undefined;
    };

    for await (const batch of table.rows) {
      for (const { cells } of batch) {
        // A row that is blank but for what is no part of a line is blank.
        if (held.every((column) => (cells[column] ?? '') === '')) continue;
        counts.rows += 1;
        const texts = all.map(({ dimension: { column, value } }) =>
          column === null ? (value ?? '') : String(cellOf(cells, column)).trim(),
        );
        if (isTotalRow(cells)) {
          counts.totals += 1;
          continue;
        }
        const lines = texts.every((text) => text !== '' && text.length <= LONGEST_NAME)
          ? linesOf(cells)
          : undefined;
        if (!lines) {
          counts.faulty += 1;
          continue;
        }
        for (const { day, values } of lines) take(day, values);
        all.forEach((members, place) => members.add(texts[place] ?? ''));
        const many = all.find(({ size }) => size > MOST_MEMBERS);
        if (many) {
          throw badRequest(
            `${many.dimension.name} has more than ${MOST_MEMBERS.toLocaleString('en')} different values; it is no dimension. Do not import it, or choose what it holds instead`,
          );
        }
      }
    }
    if (sums.size === 0) {
      throw badRequest(
        `None of the ${counts.rows} rows has a date such as 2026-10-12, numbers, and a value in every dimension; check which column holds what`,
      );
    }
    const firstMonth = from.slice(0, 7);
    const closed = closedOn(to);
    const closedThrough = closed < firstMonth ? firstMonth : closed;
    const shown = (field: (typeof AMOUNTS)[number], sum: Sum): number | null =>
      isHeld(field) ? sum[field] / 10 ** DIGITS : null;
    return {
      ...counts,
      reading: choiceOf(reading),
      months: [...sums]
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([month, sum]) => ({
          month,
          lines: sum.lines,
          units: shown('quantity', sum),
          revenue: shown('net amount', sum),
          cost: shown('cost', sum),
        })),
      calendar: {
        first: firstMonth,
        last: monthText(monthFrom(closedThrough) + AHEAD),
        closedThrough,
        asOf: to,
        fiscalStart: 1,
      },
      dimensions: all.map((members) => members.made()),
    };
  });
}

/** How the same file is read when it is taken in: nothing is left to be detected once more. */
function choiceOf({
  encoding,
  delimiter,
  sheet,
  headerRow,
  decimal,
  dates,
  shape,
  values,
  columns,
  constants,
  fillDown,
  turn,
}: FirstFile['reading']): ReadingChoice {
  const form = { encoding, delimiter, sheet, headerRow, decimal, dates, shape };
  return { ...form, values, columns, constants, fillDown, turn };
}
