/** Tables in CSV, read as they come. */
import { Readable } from 'node:stream';
import Papa from 'papaparse';
import { badRequest, type HttpProblem } from '../platform/errors.ts';
import { textOf, type Encoding } from './bytes.ts';
import { withinColumns, type RawRow } from './raw-row.ts';

export const DELIMITERS = [',', ';', '\t', '|'] as const;
export type Delimiter = (typeof DELIMITERS)[number];

/** Text without the end of a row in it that is longer than this is no table. */
const LONGEST_ROW = 768 * 1024;
/** How much is parsed at a time. */
const PIECE = 128 * 1024;

/** The sign that cuts the rows of a text: the one that stands most often in its fullest line. */
export function delimiterOf(head: string): Delimiter {
  const lines = head.split(/\r?\n/, 30);
  const most = DELIMITERS.map((delimiter) =>
    Math.max(...lines.map((line) => line.split(delimiter).length)),
  );
  return DELIMITERS[most.indexOf(Math.max(...most))] ?? ',';
}

/**
 * The rows of a CSV, many at a time, with their numbers as a person counts; empty ones are passed over.
 * @throws HttpProblem 400 that names the row from which on it cannot be read
 */
export async function* csvRows(
  chunks: AsyncIterable<Buffer>,
  encoding: Encoding,
  delimiter: Delimiter,
): AsyncGenerator<RawRow[]> {
  let row = 0;
  let unread = 0;
  const broken = (): HttpProblem =>
    badRequest(
      `The file cannot be read from row ${row + 1} on: a quotation mark is not closed, or a field is far too long; nothing was imported`,
    );
  const gate = new Gate();
  async function* watched(): AsyncGenerator<string> {
    for await (const text of textOf(chunks, encoding)) {
      // In pieces, so that the length of a row is watched within a large chunk too.
      for (let start = 0; start < text.length; start += PIECE) {
        const piece = text.slice(start, start + PIECE);
        await gate.pass();
        unread += piece.length;
        if (unread > LONGEST_ROW) throw broken();
        yield piece;
      }
    }
  }
  const source = Readable.from(watched(), { objectMode: true, highWaterMark: 1 });
  for await (const { data, errors } of parsed(source, delimiter)) {
    gate.taken();
    if (data.length === 0) continue;
    unread = 0;
    const rows: RawRow[] = [];
    const failed = errors.find(({ type }) => type === 'Quotes');
    for (const [place, cells] of data.entries()) {
      if (failed && place === failed.row) {
        row += place;
        throw broken();
      }
      if (cells.length > 1 || cells[0] !== '') {
        rows.push({ row: row + place + 1, cells: withinColumns(cells) });
      }
    }
    row += data.length;
    if (rows.length > 0) yield rows;
  }
}

/** Lets few pieces be ahead of what is taken: the parser would queue as many as come. */
class Gate {
  #ahead = 0;
  #open: () => void = () => undefined;

  async pass(): Promise<void> {
    while (this.#ahead >= 2) await new Promise<void>((resolve) => (this.#open = resolve));
    this.#ahead += 1;
  }

  taken(): void {
    this.#ahead -= 1;
    this.#open();
  }
}

interface Parsed {
  readonly data: string[][];
  readonly errors: readonly { type: string; row?: number }[];
}

/** What the parser gives, one chunk after the other: it waits while a chunk is worked on. */
async function* parsed(source: Readable, delimiter: Delimiter): AsyncGenerator<Parsed> {
  let given: Parsed | undefined;
  let handle: { resume(): void; abort(): void } | undefined;
  let ended = false;
  let failure: unknown;
  let wake: () => void = () => undefined;
  Papa.parse<string[]>(source, {
    delimiter,
    header: false,
    skipEmptyLines: false,
    chunk: ({ data, errors }, parser) => {
      given = { data, errors };
      handle = parser;
      parser.pause();
      wake();
    },
    complete: () => {
      ended = true;
      wake();
    },
    error: (error) => {
      failure = error;
      wake();
    },
  });
  source.on('error', (error) => {
    failure = error;
    wake();
  });
  try {
    for (;;) {
      if (given) {
        const now = given;
        given = undefined;
        yield now;
        handle?.resume();
        continue;
      }
      if (failure !== undefined) throw failure;
      if (ended) return;
      await new Promise<void>((resolve) => (wake = resolve));
    }
  } finally {
    source.destroy();
  }
}
