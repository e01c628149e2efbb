/** JSON bodies: small ones are read at once, large ones in a thread, so that others are answered. */
import type { z } from 'zod';
import { KeptThread } from '../platform/kept-thread.ts';
import type { Thread } from '../platform/thread.ts';
import type { BodyCalls } from './body-thread.ts';
import { checkedBody } from './checked-body.ts';

/** From here on, in bytes, reading takes longer than handing over. */
const LARGE = 256 * 1024;
const MEMORY_MB = 144;
const TOO_MUCH = 'The body holds more than can be read at once; send it in parts';

const READER = new KeptThread<BodyCalls>([
  new URL('./body-thread.ts', import.meta.url),
  MEMORY_MB,
  TOO_MUCH,
]);
let last = 0;

/** Where a list lies in a value. */
function within(value: unknown, path: readonly string[]): unknown[] {
  let at = value;
  for (const key of path) at = (at as Record<string, unknown>)[key];
  return at as unknown[];
}

async function readIn(
  thread: Thread<BodyCalls>,
  operation: string,
  bytes: Buffer,
): Promise<unknown> {
  const id = (last += 1);
  try {
    const { value, long } = await thread.call('read', id, operation, bytes);
    for (const [which, { path, length }] of long.entries()) {
      const list = path.length === 0 ? (value as unknown[]) : within(value, path);
      while (list.length < length) {
        for (const one of await thread.call('piece', id, which, list.length)) list.push(one);
      }
    }
    return value;
  } finally {
    if (!thread.isGone) await thread.call('forget', id);
  }
}

/**
 * Reads a body by the schema of its operation.
 * @throws HttpProblem 400 that names every mistake with its path, 413 for one that holds too much
 */
export async function readBody(
  operation: string,
  schema: z.ZodType,
  bytes: Buffer,
): Promise<unknown> {
  if (bytes.length <= LARGE) return checkedBody(schema, bytes);
  return READER.take(bytes.length, (thread) => readIn(thread, operation, bytes));
}
