import {
  monthFrom,
  parseMonth,
  PLANNED_FIELDS,
  plannedMovements,
  type BudgetCell,
  type Dimension,
  type PlannedMonth,
  type PlannedProblem,
} from '@dravex/core';
import { MemberCodes } from '../dimensions/codes.ts';
import { inPieces } from '../exchange/bytes.ts';
import { openTableFile } from '../exchange/table-file.ts';
import { badRequest } from '../platform/errors.ts';
import { pausesFor } from '../platform/pauses.ts';

/** A planned cell of a file, with its members instead of a combination. */
export type FileCell = Omit<BudgetCell, 'combination'> & {
  readonly members: number[];
  /** Of a line whose subscriptions are planned. */
  readonly planned?: Pick<PlannedMonth, PlannedField>;
};

const SHOWN_ERRORS = 100;
const FIGURES = ['units', 'revenue', 'cost'] as const;
type PlannedField = (typeof PLANNED_FIELDS)[number];
/** The headings of what is planned of subscriptions; a file has all of them or none. */
const HEADINGS: Readonly<Record<PlannedField, string>> = {
  active: 'active subscribers',
  starters: 'new subscribers',
  lost: 'lost subscribers',
  recurring: 'recurring revenue',
};

function figure(text: string, digits: number): number | undefined {
  const value = Number(text);
  if (text === '' || !/^-?\d+(\.\d+)?$/.test(text)) return undefined;
  const parts = Math.round(value * 10 ** digits);
  return Number.isSafeInteger(parts) ? parts : undefined;
}

/** A version has no more cells; all of them are in memory while they are checked. */
const MOST_ROWS = 200_000;

/** A row of a table by its headings, in small letters. */
interface FileRecord {
  readonly row: number;
  readonly record: Readonly<Record<string, string>>;
}

/** The rows of a table by their headings, many at a time. @throws HttpProblem 400 or 413 */
async function* readRecords(bytes: Buffer): AsyncGenerator<readonly FileRecord[]> {
  const file = await openTableFile(inPieces(bytes), {}, MOST_ROWS + 1);
  let header: readonly string[] | undefined;
  try {
    for await (const batch of file.rows) {
      const [first] = batch;
      header ??= first?.cells.map((cell) => String(cell).trim().toLowerCase());
      const heads = header ?? [];
      yield batch
        .filter((one) => header !== undefined && one.row !== 1)
        .filter(({ cells }) => cells.some((cell) => String(cell).trim() !== ''))
        .map(({ row, cells }) => {
          if (cells.length > heads.length) {
            throw badRequest(
              `The file cannot be read: row ${row} has ${cells.length} cells, the header ${heads.length}`,
            );
          }
          const text = (at: number): string => String(cells[at] ?? '').trim();
          return { row, record: Object.fromEntries(heads.map((head, at) => [head, text(at)])) };
        });
    }
  } finally {
    await file.close();
  }
}

/** What a row plans of a subscription; undefined for a row that leaves all of it empty. */
function readPlanned(
  record: Readonly<Record<string, string>>,
  refuse: (column: string, message: string) => void,
): FileCell['planned'] {
  const texts = PLANNED_FIELDS.map((field) => record[HEADINGS[field]] ?? '');
  if (texts.every((text) => text === '')) return undefined;
  const [active = 0, starters = 0, lost = 0, recurring = 0] = PLANNED_FIELDS.map((field, at) => {
    const text = texts[at] ?? '';
    const value = figure(text, 3);
    if (value === undefined) refuse(HEADINGS[field], `"${text}" is not a number`);
    return (value ?? 0) / 1000;
  });
  return { active, starters, lost, recurring };
}

/** What does not fit together of the subscriptions that a file plans, by the places of its rows. */
function wrongMovements(cells: readonly FileCell[]): PlannedProblem[] {
  const ids = new Map<string, number>();
  const places: number[] = [];
  const months = cells.flatMap(({ members, month, planned }, place) => {
    if (!planned) return [];
    const key = members.join();
    const combination = ids.get(key) ?? ids.size;
    ids.set(key, combination);
    places.push(place);
    return [{ combination, month, ...planned }];
  });
  return plannedMovements(months).problems.map((problem) => ({
    ...problem,
    row: places[problem.row] ?? 0,
  }));
}

/** @throws HttpProblem 400 for a header that lacks what every row needs */
function mustName(
  first: Readonly<Record<string, string>>,
  dimensions: readonly Dimension[],
  withSubscriptions: boolean,
): void {
  const missing = [
    ...['month', 'units', 'revenue'].filter((name) => !(name in first)),
    ...(withSubscriptions ? Object.values(HEADINGS).filter((name) => !(name in first)) : []),
    ...dimensions
      .filter(({ code, name }) => !(code in first) && !(name.toLowerCase() in first))
      .map(({ name }) => name.toLowerCase()),
  ];
  if (missing.length > 0) {
    throw badRequest(`The header lacks ${missing.map((name) => `"${name}"`).join(' and ')}`);
  }
}

/** Reading a row, in cells of a table. */
const ROW_IS_AS_LONG_AS = 5;

/**
 * Reads a version's cells from a table: month, one column a dimension, units, revenue and, where it
 * is planned, cost; and for lines whose subscriptions are planned, who is there, who is new, who is
 * lost, and what is paid a month. All of it must be good.
 * @throws HttpProblem 400 naming the first hundred mistakes by row and column, 413 for too many rows
 */
export async function readCells(
  bytes: Buffer,
  dimensions: readonly Dimension[],
  minorDigits: number,
): Promise<FileCell[]> {
  const heading = new Map(dimensions.map(({ code, name }) => [code, name.toLowerCase()]));
  const codes = new MemberCodes(dimensions);
  const errors: { path: string; message: string }[] = [];
  let wrong = 0;
  const refuse = (row: number, column: string, message: string): void => {
    wrong += 1;
    if (errors.length < SHOWN_ERRORS) errors.push({ path: `row ${row}, ${column}`, message });
  };
  const seen = new Set<string>();
  const cells: FileCell[] = [];
  const rows: number[] = [];
  let withSubscriptions = false;

  const take = (record: Readonly<Record<string, string>>, row: number): void => {
    const { members, problems } = codes.leaves(
      (code) => record[heading.get(code) ?? code] ?? record[code],
    );
    for (const { dimension, message } of problems) refuse(row, dimension, message);
    const month = record['month'] ?? '';
    if (parseMonth(month) === undefined) {
      refuse(row, 'month', `"${month}" is not a month such as 2026-04`);
    }
    const [units, revenue, cost] = FIGURES.map((name) => {
      const text = record[name] ?? '';
      const value = figure(text, name === 'units' ? 3 : minorDigits);
      const optional = name === 'cost' && text === '';
      if (value === undefined && !optional) refuse(row, name, `"${text}" is not a number`);
      return value;
    });
    const identity = `${month} ${members.join()}`;
    if (seen.has(identity)) refuse(row, 'month', 'This combination and month stand here twice');
    seen.add(identity);
    const planned = withSubscriptions
      ? readPlanned(record, (column, message) => refuse(row, column, message))
      : undefined;
    rows.push(row);
    cells.push({
      ...(planned ? { planned } : {}),
      members,
      month: parseMonth(month) ?? monthFrom('1970-01'),
      units: (units ?? 0) / 1000,
      revenue: revenue ?? 0,
      cost: cost ?? null,
    });
  };
  const pause = pausesFor();
  for await (const records of readRecords(bytes)) {
    for (const { row, record } of records) {
      if (cells.length === 0) {
        withSubscriptions = Object.values(HEADINGS).some((name) => name in record);
        mustName(record, dimensions, withSubscriptions);
      }
      take(record, row);
      await pause(ROW_IS_AS_LONG_AS);
    }
  }
  if (cells.length === 0) throw badRequest('The file has no rows; nothing was imported');
  for (const { row, field, message } of wrongMovements(cells)) {
    refuse(rows[row] ?? 0, HEADINGS[field], message);
  }
  if (wrong > 0) {
    const [first] = errors;
    throw badRequest(
      `${wrong} cells cannot be imported; the first: ${first?.path ?? ''}: ${first?.message ?? ''}`,
      errors,
    );
  }
  return cells;
}
