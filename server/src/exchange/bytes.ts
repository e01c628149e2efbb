/** The bytes of an upload: looked at first, then read as text. */
import { badRequest, HttpProblem } from '../platform/errors.ts';

export const ENCODINGS = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const;
export type Encoding = (typeof ENCODINGS)[number];

const LARGEST_FILE = 2 * 1024 ** 3;

/** Bytes that come in chunks, with the first of them at hand. */
export interface Upload {
  /** At least `HEAD` bytes, or the whole of a shorter file. */
  readonly head: Buffer;
  /** Whether `head` is the whole file. */
  readonly whole: boolean;
  /** All bytes from the first one on, once. @throws HttpProblem 413 beyond 2 GB */
  readonly chunks: AsyncIterable<Buffer>;
}

/** How much of a file that is in memory is handed on at a time. */
const PIECE = 64 * 1024;

/** Bytes that are in memory, as they would come. */
export async function* inPieces(bytes: Buffer): AsyncGenerator<Buffer> {
  for (let start = 0; start < bytes.length; start += PIECE) {
    yield bytes.subarray(start, start + PIECE);
  }
}

/** How much is looked at before anything is read. */
const HEAD = 256 * 1024;

/** Takes the first bytes of an upload and hands all of them on. */
export async function lookInto(chunks: AsyncIterable<Buffer>): Promise<Upload> {
  const source = chunks[Symbol.asyncIterator]();
  const first: Buffer[] = [];
  let size = 0;
  let whole = false;
  while (size < HEAD && !whole) {
    const { value, done } = await source.next();
    if (done) whole = true;
    else {
      first.push(value);
      size += value.length;
    }
  }
  const head = Buffer.concat(first);
  async function* all(): AsyncGenerator<Buffer> {
    yield head;
    while (!whole) {
      const { value, done } = await source.next();
      if (done) return;
      size += value.length;
      if (size > LARGEST_FILE) {
        throw new HttpProblem(413, 'This is too large', 'The file is larger than 2 GB; split it');
      }
      yield value;
    }
  }
  return { head, whole, chunks: all() };
}

/** The encoding of a text by its mark, or by whether it is UTF-8 as far as can be seen. */
export function encodingOf({ head, whole }: Upload): Encoding {
  if (head[0] === 0xff && head[1] === 0xfe) return 'utf-16le';
  if (head[0] === 0xfe && head[1] === 0xff) return 'utf-16be';
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(head, { stream: !whole });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

const IN_WORDS: Record<Encoding, string> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16',
  'utf-16be': 'UTF-16',
  'windows-1252': 'Western European (Latin-1)',
};

/**
 * The text of an upload; a character may be cut by a chunk's edge.
 * @throws HttpProblem 400 for bytes that are no such text
 */
export async function* textOf(
  chunks: AsyncIterable<Buffer>,
  encoding: Encoding,
): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding, { fatal: true });
  const decode = (bytes: Buffer | undefined): string => {
    let text: string;
    try {
      text = bytes ? decoder.decode(bytes, { stream: true }) : decoder.decode();
    } catch {
      throw badRequest(
        `The file is not ${IN_WORDS[encoding]} text; choose another encoding, or save it as CSV in UTF-8`,
      );
    }
    if (text.includes('\0')) {
      throw badRequest('The file holds NUL characters, so it is not a text file; save it as CSV');
    }
    return text;
  };
  for await (const chunk of chunks) yield decode(chunk);
  yield decode(undefined);
}
