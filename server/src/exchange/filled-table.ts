/**
 * A table that is saved, filled in with any program, and brought back with a look at every row: each
 * row bears its key and what its numbers were, so that rows can be moved and nothing that changed
 * here meanwhile is lost.
 */
import { MOST_TOLD, type FilledChange, type FilledFile, type ImportField } from '@dravex/contract';
import { readNumber, type Cell, type DecimalSign } from '@dravex/core';
import { setImmediate } from 'node:timers/promises';
import type { Response } from 'express';
import { Figure, sendCsv, type CsvField, type CsvLine } from '../platform/csv.ts';
import { badRequest } from '../platform/errors.ts';
import { asWorkbook, type TableFormat } from '../platform/table-file.ts';
import { asSaved, KEY, LINE, type FilledRow, type FilledTable } from './filled-form.ts';
import { writeFilledWorkbook } from './filled-workbook.ts';
import { customsOf, understand } from './reading.ts';
import { inPieces } from './bytes.ts';
import { openTableFile } from './table-file.ts';

/** The table as lines of a file, each number in full. */
function linesOf({ heads, columns, rows, digits, wholes, fixed }: FilledTable): CsvLine[] {
  const figure = (value: number | null): CsvField => {
    if (value === null) return null;
    return fixed ? new Figure((value / wholes).toFixed(digits)) : value / wholes;
  };
  return [
    [KEY, LINE, ...heads, ...columns.map(({ head }) => head), ...heads.map(asSaved)],
    ...rows.map(({ key, name, values, beside }) => [
      ...[key, name, ...values.map(figure)],
      ...beside.map((field, place) =>
        columns[place]?.kind === 'number' && typeof field === 'number' ? figure(field) : field,
      ),
      ...values.map(figure),
    ]),
  ];
}

/** Answers with the table as a file. */
export async function sendFilled(
  response: Response,
  format: TableFormat,
  table: FilledTable,
): Promise<void> {
  if (format === 'csv') {
    sendCsv(response, `${table.title}.csv`, linesOf(table));
    return;
  }
  asWorkbook(response, table.title);
  await writeFilledWorkbook(table, response);
}

/** A row of a file as it stands there. */
interface ReadRow {
  readonly row: number;
  readonly key: string;
  readonly values: readonly Cell[];
  readonly saved: readonly Cell[];
}

/** The rows of a file that comes back, as they stand there. */
export interface ReadTable {
  readonly rows: readonly ReadRow[];
  readonly decimal: DecimalSign;
}

/** More lines than any sheet that is filled in has. */
const MOST_ROWS = 50_000;

/**
 * Reads a file that comes back.
 * @param heads the headings of what is filled in
 * @throws HttpProblem 400 for what is no such file
 */
export async function readFilled(
  bytes: Buffer,
  locale: string,
  heads: readonly string[],
): Promise<ReadTable> {
  const field = (key: string, need: ImportField['need']): ImportField => ({
    ...{ key, label: key, names: [key], content: 'text', need },
  });
  const fields = [
    field(KEY, 'always'),
    ...heads.map((head) => field(head, 'always')),
    ...heads.map((head) => field(asSaved(head), 'maybe')),
  ];
  const file = await openTableFile(inPieces(bytes), {}, MOST_ROWS);
  try {
    const table = await understand(file, '', fields, { shape: 'long' }, customsOf(locale));
    const { columns, decimal } = table.reading;
    const lacks = [KEY, ...heads].filter((head) => typeof columns[head] !== 'number');
    if (lacks.length > 0) {
      const named = lacks.slice(0, 3).map((head) => `“${head}”`);
      throw badRequest(
        `The file lacks the column ${named.join(', ')}; import a file that was saved from here`,
      );
    }
    const rows: ReadRow[] = [];
    for await (const batch of table.rows) {
      for (const { row, cells } of batch) {
        const cell = (key: string): Cell => cells[columns[key] ?? -1] ?? '';
        const key = String(cell(KEY)).trim();
        const values = heads.map(cell);
        if (key === '' && values.every((value) => value === '')) continue;
        rows.push({ row, key, values, saved: heads.map((head) => cell(asSaved(head))) });
      }
    }
    return { rows, decimal };
  } finally {
    await file.close();
  }
}

/** Each row's name with those of the totals it stands in: "Web shop · Carafes · Brook carafe". */
function pathsOf(rows: readonly FilledRow[]): ReadonlyMap<string, string> {
  const above: string[] = [];
  return new Map(
    rows.map(({ key, name, level }) => {
      // The total of all is above all of them.
      above.splice(Math.max(0, level - 1));
      if (level > 0) above.push(name);
      return [key, level > 0 ? above.join(' · ') : name];
    }),
  );
}

/** What a file would do, all of it. */
export type WholeLook = Omit<FilledFile, 'applied' | 'counts'>;

/** What a file says, with where each of its numbers belongs. */
export interface FilledLook extends WholeLook {
  /** Of each change, the row of the table, and which of its values. */
  readonly places: ReadonlyMap<FilledChange, { readonly row: FilledRow; readonly value: number }>;
}

/** So many rows are looked at before others have their turn. */
const AT_A_TIME = 500;

/** What a file that is brought back would do to a table as it is now. */
export async function lookAtFilled(table: FilledTable, read: ReadTable): Promise<FilledLook> {
  const { of, heads, rows, digits, wholes, measure } = table;
  const number = (cell: Cell): number =>
    (readNumber(cell, read.decimal, digits) / 10 ** digits) * wholes;
  // Numbers that were divided and multiplied again are the same within a hair.
  const value = (cell: Cell): number => Number(number(cell).toFixed(digits));
  const paths = pathsOf(rows);
  const byKey = new Map(rows.map((row) => [row.key, row]));
  const seen = new Set<string>();
  const changed: FilledChange[] = [];
  const meanwhile: FilledChange[] = [];
  const places = new Map<FilledChange, { row: FilledRow; value: number }>();
  const problems: FilledFile['problems'] = [];
  let same = 0;
  for (const [place, { row, key, values, saved }] of read.rows.entries()) {
    if (place % AT_A_TIME === AT_A_TIME - 1) await setImmediate();
    const refuse = (message: string): void => void problems.push({ row, message });
    const line = byKey.get(key);
    const name = paths.get(key) ?? '';
    if (!line) {
      const others = key.includes(':') && !key.startsWith(`${of}:`);
      if (key === '') refuse('This row has no key; lines are not added by a file');
      else refuse(others ? 'This row is of another table' : 'This is no line of the table');
      continue;
    }
    if (seen.has(key)) {
      refuse(`${name} stands here a second time`);
      continue;
    }
    seen.add(key);
    // Totals follow from their lines.
    if (line.parent) continue;
    values.forEach((cell, which) => {
      const head = heads.length > 1 ? (heads[which] ?? '') : '';
      const where = head === '' ? name : `${name}, ${head}`;
      const now = line.values[which] ?? null;
      const before = saved[which] ?? '';
      const untouched = before === '' ? now === null && cell === '' : value(before) === value(cell);
      const file = value(cell);
      if (file === now || untouched) same += 1;
      else if (cell === '') {
        refuse(`${where}: a planned number is not emptied; write 0 to plan nothing`);
      } else if (Number.isNaN(file)) {
        refuse(`${where}: “${String(cell).slice(0, 40)}” is not a number`);
      } else if (line.locked !== undefined) refuse(`${where}: ${line.locked}`);
      else {
        const was = before === '' || value(before) === now ? null : value(before);
        const change = { row, name, column: head, measure, now, file, was };
        places.set(change, { row: line, value: which });
        if (was === null) changed.push(change);
        else meanwhile.push(change);
      }
    });
  }
  const lacking = rows.flatMap(({ key, parent }) =>
    parent || seen.has(key) ? [] : [paths.get(key) ?? ''],
  );
  return { changed, meanwhile, same, lacking, problems, added: [], leftOut: [], places };
}

/** What is told of a look. */
export function toldOf(look: WholeLook, applied: boolean): FilledFile {
  const { changed, meanwhile, problems, lacking, added, same, leftOut } = look;
  return {
    ...{ same, leftOut, applied },
    changed: changed.slice(0, MOST_TOLD),
    meanwhile: meanwhile.slice(0, MOST_TOLD),
    problems: problems.slice(0, MOST_TOLD),
    lacking: lacking.slice(0, MOST_TOLD),
    added: added.slice(0, MOST_TOLD),
    counts: {
      ...{ changed: changed.length, meanwhile: meanwhile.length, lacking: lacking.length },
      ...{ problems: problems.length, added: added.length },
    },
  };
}

/** @throws HttpProblem 400 while rows of a file cannot be imported: then none is */
export function mustBeTakable({ problems }: Pick<WholeLook, 'problems'>): void {
  const [problem] = problems;
  if (!problem) return;
  throw badRequest(
    `${problems.length} rows cannot be imported; nothing was changed. The first: row ${problem.row}: ${problem.message}`,
    problems.slice(0, MOST_TOLD).map(({ row, message }) => ({ path: `row ${row}`, message })),
  );
}

/**
 * What of a look is to be taken in.
 * @throws HttpProblem 400 while rows cannot be: then none is
 */
export function takenOf(look: FilledLook, meanwhile: 'keep' | 'take'): FilledChange[] {
  mustBeTakable(look);
  return meanwhile === 'take' ? [...look.changed, ...look.meanwhile] : look.changed;
}
