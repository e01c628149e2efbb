/** JSON bodies: small ones are read at once, large ones in a thread, so that others are answered. */
import type { z } from 'zod';
import { Thread } from '../platform/thread.ts';
import { Turns } from '../platform/turns.ts';
import type { BodyCalls } from './body-thread.ts';
import { checkedBody } from './checked-body.ts';

/** From here on, in bytes, reading takes longer than handing over. */
const LARGE = 256 * 1024;
const VERY_LARGE = 2 * 1024 ** 2;
const MEMORY_MB = 144;
const TOO_MUCH = 'The body holds more than can be read at once; send it in parts';
/** A thread that nobody needs for so long is ended. */
const IDLE_MS = 30_000;

/** Large bodies are read one after the other: each may need all the memory there is for it. */
const ONE_BY_ONE = new Turns(1);

let thread: Thread<BodyCalls> | undefined;
let ending: NodeJS.Timeout | undefined;
let last = 0;

function reader(): Thread<BodyCalls> {
  clearTimeout(ending);
  if (!thread || thread.isGone) {
    thread = new Thread(new URL('./body-thread.ts', import.meta.url), MEMORY_MB, TOO_MUCH);
  }
  return thread;
}

async function end(): Promise<void> {
  const ended = thread;
  thread = undefined;
  await ended?.end();
}

/** What a very large body took is given back at once; small ones follow each other. */
async function endWhenIdle(size: number): Promise<void> {
  if (size > VERY_LARGE) return end();
  ending = setTimeout(() => void end(), IDLE_MS);
  ending.unref();
}

/** Where a list lies in a value. */
function within(value: unknown, path: readonly string[]): unknown[] {
  let at = value;
  for (const key of path) at = (at as Record<string, unknown>)[key];
  return at as unknown[];
}

async function readInThread(operation: string, bytes: Buffer): Promise<unknown> {
  const from = reader();
  const size = bytes.length;
  const id = (last += 1);
  try {
    const { value, long } = await from.call('read', id, operation, bytes);
    for (const [which, { path, length }] of long.entries()) {
      const list = path.length === 0 ? (value as unknown[]) : within(value, path);
      while (list.length < length) {
        for (const one of await from.call('piece', id, which, list.length)) list.push(one);
      }
    }
    return value;
  } finally {
    if (!from.isGone) await from.call('forget', id);
    await endWhenIdle(size);
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
  if (bytes.length > LARGE) return ONE_BY_ONE.take(() => readInThread(operation, bytes));
  return checkedBody(schema, bytes);
}
