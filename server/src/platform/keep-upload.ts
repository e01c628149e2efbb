/** Keeps what is uploaded as a file on disk, so that nothing else waits for whoever sends it. */
import { createWriteStream } from 'node:fs';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { tooLarge } from './errors.ts';

/** How much is taken, and what is said of more. */
export interface SizeLimit {
  readonly bytes: number;
  readonly said: string;
}

/**
 * Writes bytes to a file as they come; they are counted, and no more are written than are taken.
 * @param see gets them as they come
 * @returns how many they are
 * @throws HttpProblem 413 for more than that
 */
export async function keepUpload(
  chunks: AsyncIterable<Buffer>,
  path: string,
  { bytes, said }: SizeLimit,
  see?: (chunk: Buffer) => void,
): Promise<number> {
  let size = 0;
  async function* counted(): AsyncGenerator<Buffer> {
    for await (const chunk of chunks) {
      size += chunk.length;
      if (size > bytes) throw tooLarge(said);
      see?.(chunk);
      yield chunk;
    }
  }
  await pipeline(Readable.from(counted()), createWriteStream(path, { mode: 0o600 }));
  return size;
}
