import { Readable } from 'node:stream';
import { parse, type CsvError, type Parser } from 'csv-parse';
import { badRequest, HttpProblem } from '../platform/errors.ts';

/** A row of a table, and its number as a person counts: the header is row 1. */
export interface TableRow {
  readonly row: number;
  readonly cells: readonly string[];
}

/** A table whose header was read; its rows come as they are asked for, in the order of the file. */
export interface OpenTable {
  readonly header: readonly string[];
  /** Rows by the batch: a million of them one by one would spend its time in waiting. */
  readonly batches: AsyncIterable<readonly TableRow[]>;
  /** The decimal sign of its numbers. */
  readonly decimal: '.' | ',';
}

const DELIMITERS = [',', ';', '\t'] as const;
/** How much is looked at to tell the delimiter and the decimal sign. */
const HEAD = 20_000;
/** A record longer than this is no row of a table. */
const LONGEST_RECORD = 200_000;
const LARGEST_FILE = 2 * 1024 ** 3;
/** Rows that are handed on together. */
const BATCH = 2000;

function encodingOf(start: Buffer): 'utf-8' | 'utf-16le' | 'utf-16be' {
  if (start[0] === 0xff && start[1] === 0xfe) return 'utf-16le';
  if (start[0] === 0xfe && start[1] === 0xff) return 'utf-16be';
  return 'utf-8';
}

/**
 * The text of a file that comes in chunks of any size: a character may be cut by a chunk's edge.
 * UTF-8, or UTF-16 with a byte order mark.
 */
async function* textOf(chunks: AsyncIterable<Buffer>): AsyncGenerator<string> {
  let decoder: InstanceType<typeof TextDecoder> | undefined;
  let start = Buffer.alloc(0);
  let size = 0;
  const decode = (bytes: Buffer | undefined): string => {
    let text: string;
    try {
      decoder ??= new TextDecoder(encodingOf(start), { fatal: true });
      text = bytes ? decoder.decode(bytes, { stream: true }) : decoder.decode();
    } catch {
      throw badRequest('The file is not UTF-8 text; save it as CSV in UTF-8 and upload it again');
    }
    if (text.includes('\0')) {
      throw badRequest('The file holds NUL characters, so it is not a text file; save it as CSV');
    }
    return text;
  };
  for await (const chunk of chunks) {
    size += chunk.length;
    if (size > LARGEST_FILE) {
      throw new HttpProblem(413, 'This is too large', 'The file is larger than 2 GB; split it');
    }
    if (decoder) {
      yield decode(chunk);
      continue;
    }
    start = Buffer.concat([start, chunk]);
    if (start.length >= 4) yield decode(start);
  }
  if (!decoder) yield decode(start);
  yield decode(undefined);
}

function delimiterOf(header: string): string {
  const counts = DELIMITERS.map((delimiter) => header.split(delimiter).length);
  return DELIMITERS[counts.indexOf(Math.max(...counts))] ?? ',';
}

/** Amounts such as `12,5` or `12,50` in a file that is not cut by commas. */
function decimalOf(head: string, delimiter: string): '.' | ',' {
  if (delimiter === ',') return '.';
  const cells = head
    .split(/\r?\n/)
    .slice(1)
    .flatMap((line) => line.split(delimiter));
  return cells.some((cell) => /^-?\d+,\d{1,2}$/.test(cell.trim())) ? ',' : '.';
}

/** Says in our words what the parser could not read. */
function unreadable(error: unknown): unknown {
  if (error instanceof HttpProblem) return error;
  if (!(error instanceof Error) || !/^CSV_/.test(String((error as CsvError).code))) return error;
  const { lines } = error as CsvError & { lines?: number };
  return badRequest(
    `The file cannot be read from line ${lines ?? '?'} on: a quotation mark is not closed, or a field is far too long; nothing was taken in`,
  );
}

/**
 * Opens a CSV: cut by comma, semicolon or tab, a header in the first row.
 * @throws HttpProblem 400 for what is no such thing, saying what and where
 */
export async function openTable(chunks: AsyncIterable<Buffer>): Promise<OpenTable> {
  const text = textOf(chunks);
  let head = '';
  while (head.length < HEAD) {
    const { value, done } = await text.next();
    if (done) break;
    head += value;
  }
  head = head.replace(/^\uFEFF/, '');
  if (head.trim() === '') throw badRequest('The file is empty; nothing was taken in');
  const delimiter = delimiterOf(head.slice(0, head.search(/[\r\n]|$/)));
  async function* whole(): AsyncGenerator<string> {
    yield head;
    yield* text;
  }
  const source = Readable.from(whole());
  const options = {
    delimiter,
    relax_column_count: true,
    skip_empty_lines: true,
    max_record_size: LONGEST_RECORD,
    trim: true,
    // The parser is a stream, and hands on as many rows at a time as its stream may hold.
    readableHighWaterMark: BATCH,
  };
  const records = parse(options);
  source.on('error', (error) => records.destroy(error));
  source.pipe(records);
  const lines = recordsOf(records);
  const [header, ...early] = (await lines.next()).value ?? [];
  if (!header) throw badRequest('The file is empty; nothing was taken in');

  async function* batches(): AsyncGenerator<TableRow[]> {
    let row = 1;
    const numbered = (some: readonly string[][]): TableRow[] =>
      some.map((cells) => ({ row: (row += 1), cells }));
    try {
      if (early.length > 0) yield numbered(early);
      for await (const some of lines) yield numbered(some);
    } finally {
      source.destroy();
    }
  }
  return { header, batches: batches(), decimal: decimalOf(head.slice(0, HEAD), delimiter) };
}

/** What a parser has read, as much at a time as it has. */
async function* recordsOf(records: Parser): AsyncGenerator<string[][], undefined> {
  let failure: unknown;
  let ended = false;
  records.on('error', (error) => (failure = error));
  records.on('end', () => (ended = true));
  for (;;) {
    const some: string[][] = [];
    while (some.length < BATCH) {
      const record = next(records);
      if (!record) break;
      some.push(record);
    }
    if (some.length > 0) yield some;
    else if (failure !== undefined) throw unreadable(failure);
    else if (ended) return undefined;
    else await more(records);
  }
}

function next(records: Parser): string[] | null {
  return records.read() as string[] | null;
}

/** Waits until a parser has read more, or will read no more. */
function more(records: Parser): Promise<void> {
  return new Promise((resolve) => {
    const events = ['readable', 'end', 'error', 'close'] as const;
    const done = (): void => {
      for (const event of events) records.off(event, done);
      resolve();
    };
    for (const event of events) records.on(event, done);
  });
}
