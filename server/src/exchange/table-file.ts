/** Opens whatever file of a table a person has: CSV, XLSX or JSON. */
import { badRequest } from '../platform/errors.ts';
import { encodingOf, lookInto, type Encoding } from './bytes.ts';
import { csvRows, delimiterOf, type Delimiter } from './csv.ts';
import { jsonRows } from './json.ts';
import type { RawRow } from './raw-row.ts';
import { openWorkbook, refuseOldWorkbook, type Workbook } from './workbook.ts';

/** What a person may say of a file's form; the rest is detected. */
export interface FormChoice {
  readonly encoding?: Encoding | undefined;
  readonly delimiter?: Delimiter | undefined;
  readonly sheet?: string | undefined;
}

/** A file whose form is known; its rows come as they are asked for. */
export interface TableFile {
  readonly format: 'csv' | 'xlsx' | 'json';
  readonly encoding: Encoding | undefined;
  readonly delimiter: Delimiter | undefined;
  readonly sheets: readonly string[];
  readonly sheet: string | undefined;
  /** By the batch: a million rows one by one would spend their time in waiting. */
  readonly rows: AsyncIterable<readonly RawRow[]>;
  /** Lets go of what is kept on disk; always to be called. */
  close(): Promise<void>;
}

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

const NOTHING = async (): Promise<void> => undefined;
const ZIP = Buffer.from('PK');
const OLE = Buffer.from([0xd0, 0xcf, 0x11, 0xe0]);

/**
 * Opens a file by what it starts with.
 * @throws HttpProblem 400 or 413 for what is no table, saying what it is and what to do
 */
export async function openTableFile(
  chunks: AsyncIterable<Buffer>,
  choice: FormChoice,
): Promise<TableFile> {
  const upload = await lookInto(chunks);
  const { head } = upload;
  if (head.subarray(0, 4).equals(OLE)) refuseOldWorkbook();
  if (head.subarray(0, 2).equals(ZIP)) {
    const workbook = await openWorkbook(upload.chunks);
    const sheet = choice.sheet ?? (await fullestSheet(workbook));
    if (!workbook.sheets.includes(sheet)) {
      await workbook.close();
      throw badRequest(
        `There is no sheet "${sheet}"; the workbook has ${workbook.sheets.map((name) => `"${name}"`).join(', ')}`,
      );
    }
    const { sheets, rows, close } = workbook;
    const form = { format: 'xlsx' as const, encoding: undefined, delimiter: undefined };
    return { ...form, sheets, sheet, rows: rows(sheet), close };
  }
  const encoding = choice.encoding ?? encodingOf(upload);
  const start = new TextDecoder(encoding).decode(head, { stream: true });
  if (start.trim() === '') throw badRequest('The file is empty; nothing was taken in');
  const none = { sheets: [], sheet: undefined, close: NOTHING };
  if (/^\s*[[{]/.test(start)) {
    const rows = jsonRows(upload.chunks);
    return { ...none, format: 'json', encoding: 'utf-8', delimiter: undefined, rows };
  }
  const delimiter = choice.delimiter ?? delimiterOf(start);
  const rows = csvRows(upload.chunks, encoding, delimiter);
  return { ...none, format: 'csv', encoding, delimiter, rows };
}
