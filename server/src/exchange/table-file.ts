/** Opens whatever file of a table a person has: CSV, XLSX or JSON. */
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { badRequest, tooLarge } from '../platform/errors.ts';
import { keepUpload, type SizeLimit } from '../platform/keep-upload.ts';
import { Thread } from '../platform/thread.ts';
import { Turns } from '../platform/turns.ts';
import { newWorkFolder } from '../platform/work-files.ts';
import { encodingOf, lookInto, type Encoding } from './bytes.ts';
import { csvRows, delimiterOf, type Delimiter } from './csv.ts';
import type { RawRow } from './raw-row.ts';
import type { TableCalls } from './table-thread.ts';
import { refuseOldWorkbook } from './workbook.ts';

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

const NOTHING = async (): Promise<void> => undefined;
const ZIP = Buffer.from('PK');
const OLE = Buffer.from([0xd0, 0xcf, 0x11, 0xe0]);

const WORKBOOK_LIMIT: SizeLimit = {
  bytes: 200 * 1024 ** 2,
  said: 'The workbook is larger than 200 MB; save the sheet as CSV and upload that',
};
const JSON_LIMIT: SizeLimit = {
  bytes: 32 * 1024 ** 2,
  said: 'The JSON is larger than 32 MB; send as much as CSV, which is read as it comes',
};

/** What the thread that reads a file may hold, in megabytes. */
const MEMORY_MB = 192;
const TOO_MUCH = 'The file holds more than can be read at once; save it as CSV and upload that';
/** Files that are read in threads at once; the others wait. */
const READ_AT_ONCE = new Turns(2);

type Form = Pick<TableFile, 'format' | 'encoding' | 'sheets' | 'sheet'>;

/**
 * Reads what is unpacked or held whole in a thread of its own, from a file on disk: it may be large,
 * or an attack, and others are answered meanwhile.
 */
async function inThread(
  chunks: AsyncIterable<Buffer>,
  limit: SizeLimit,
  open: (thread: Thread<TableCalls>, path: string) => Promise<Form>,
): Promise<TableFile> {
  const folder = await newWorkFolder();
  const path = join(folder, 'upload');
  let thread: Thread<TableCalls> | undefined;
  let leave: () => void = () => undefined;
  const close = async (): Promise<void> => {
    await thread?.end();
    leave();
    await rm(folder, { recursive: true, force: true });
  };
  try {
    await keepUpload(chunks, path, limit);
    leave = await READ_AT_ONCE.enter();
    const file = new URL('./table-thread.ts', import.meta.url);
    const reading = (thread = new Thread<TableCalls>(file, MEMORY_MB, TOO_MUCH));
    const form = await open(reading, path);
    async function* rows(): AsyncGenerator<readonly RawRow[]> {
      for (;;) {
        const batch = await reading.call('next');
        if (!batch) return;
        yield batch;
      }
    }
    return { ...form, delimiter: undefined, rows: rows(), close };
  } catch (error) {
    await close();
    throw error;
  }
}

/** Rows as they come, up to so many. @throws HttpProblem 413 for more */
async function* upTo(most: number, rows: TableFile['rows']): AsyncGenerator<readonly RawRow[]> {
  let count = 0;
  for await (const batch of rows) {
    count += batch.length;
    if (count > most) {
      const said = `The file has more than the ${most.toLocaleString('en')} rows that can be imported at once; split it, and send the parts`;
      throw tooLarge(said);
    }
    yield batch;
  }
}

/**
 * Opens a file by what it starts with.
 * @param mostRows for whoever keeps its rows in memory
 * @throws HttpProblem 400 or 413 for what is no table, saying what it is and what to do
 */
export async function openTableFile(
  chunks: AsyncIterable<Buffer>,
  choice: FormChoice,
  mostRows?: number,
): Promise<TableFile> {
  const file = await opened(chunks, choice);
  return mostRows === undefined ? file : { ...file, rows: upTo(mostRows, file.rows) };
}

async function opened(chunks: AsyncIterable<Buffer>, choice: FormChoice): Promise<TableFile> {
  const upload = await lookInto(chunks);
  const { head } = upload;
  if (head.subarray(0, 4).equals(OLE)) refuseOldWorkbook();
  if (head.subarray(0, 2).equals(ZIP)) {
    return inThread(upload.chunks, WORKBOOK_LIMIT, async (thread, path) => {
      const found = await thread.call('openWorkbook', path, choice.sheet);
      return { format: 'xlsx', encoding: undefined, ...found };
    });
  }
  const encoding = choice.encoding ?? encodingOf(upload);
  const start = new TextDecoder(encoding).decode(head, { stream: true });
  if (start.trim() === '') throw badRequest('The file is empty; nothing was imported');
  const none = { sheets: [], sheet: undefined, close: NOTHING };
  if (/^\s*[[{]/.test(start)) {
    return inThread(upload.chunks, JSON_LIMIT, async (thread, path) => {
      await thread.call('openJson', path);
      return { format: 'json', encoding: 'utf-8', sheets: [], sheet: undefined };
    });
  }
  const delimiter = choice.delimiter ?? delimiterOf(start);
  const rows = csvRows(upload.chunks, encoding, delimiter);
  return { ...none, format: 'csv', encoding, delimiter, rows };
}
