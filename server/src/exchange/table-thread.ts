/** In a thread: reads the rows of a workbook or a JSON document, as they are asked for. */
import { createReadStream } from 'node:fs';
import { badRequest } from '../platform/errors.ts';
import { answerCalls } from '../platform/thread.ts';
import { jsonRows } from './json.ts';
import type { RawRow } from './raw-row.ts';
import { openWorkbook, type Workbook } from './workbook.ts';

/** So many sheets are looked at, and so many rows of each. */
const LOOKED_AT = { sheets: 12, rows: 40 };

/** The sheet that looks most like data: most cells filled in its first rows; of equals the first. */
async function fullestSheet({ sheets, rows }: Workbook): Promise<string> {
  const [only = ''] = sheets;
  if (sheets.length <= 1) return only;
  let best = { sheet: only, filled: 0 };
  for (const sheet of sheets.slice(0, LOOKED_AT.sheets)) {
    let filled = 0;
    let left = LOOKED_AT.rows;
    for await (const batch of rows(sheet)) {
      for (const { cells } of batch.slice(0, left)) {
        const some = cells.filter((cell) => cell !== '').length;
        // A line of text is a title or a remark, no data.
        if (some >= 2) filled += some;
      }
      left -= batch.length;
      if (left <= 0) break;
    }
    if (filled > best.filled) best = { sheet, filled };
  }
  return best.sheet;
}

let rows: AsyncIterator<RawRow[]> | undefined;

const calls = {
  /**
   * Opens a workbook on disk.
   * @param wanted the sheet to be read; the fullest where none is named
   * @throws HttpProblem 400 for what is none, or has no such sheet
   */
  async openWorkbook(
    path: string,
    wanted: string | undefined,
  ): Promise<{ sheets: readonly string[]; sheet: string }> {
    const workbook = await openWorkbook(path);
    const sheet = wanted ?? (await fullestSheet(workbook));
    if (!workbook.sheets.includes(sheet)) {
      throw badRequest(
        `There is no sheet "${sheet}"; the workbook has ${workbook.sheets.map((name) => `"${name}"`).join(', ')}`,
      );
    }
    rows = workbook.rows(sheet);
    return { sheets: workbook.sheets, sheet };
  },

  /** Opens a JSON document on disk. */
  openJson(path: string): void {
    rows = jsonRows(createReadStream(path));
  },

  /** The next rows of what is open; nothing at its end. @throws HttpProblem 400 or 413 */
  async next(): Promise<RawRow[] | undefined> {
    const { value, done } = (await rows?.next()) ?? { done: true, value: undefined };
    return done ? undefined : value;
  },
};

export type TableCalls = typeof calls;

answerCalls(calls);
