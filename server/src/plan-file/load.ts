/** Makes a workspace of a plan file in a thread: it may be large, and others are answered. */
import { stat } from 'node:fs/promises';
import type { Response } from 'express';
import { freeGarbage } from '../platform/collect.ts';
import type { Connections } from '../platform/database.ts';
import { KeptThread } from '../platform/kept-thread.ts';
import type { RequestKey } from '../platform/request-key.ts';
import { NobodyWaits } from '../platform/who-waits.ts';
import type { LoadCalls } from './load-thread.ts';

const MEMORY_MB = 144;
const TOO_MUCH = 'The plan file holds more than can be read at once; leave versions out of it';
/** From so many bytes on there has to be room beside what the server holds. */
const NEEDS_ROOM = 2 * 1024 ** 2;

const LOADER = new KeptThread<LoadCalls>([
  new URL('./load-thread.ts', import.meta.url),
  MEMORY_MB,
  TOO_MUCH,
]);

/**
 * Reads a plan file, checks it and makes a workspace of it, all or nothing.
 * @param to who waits for it; when they are gone it ends, and nothing of it stays
 * @returns the id of the workspace
 * @throws HttpProblem 400 with everything that is wrong with it, 413 for one that holds too much
 */
export async function loadInThread(
  { url }: Connections,
  personId: number,
  requestKey: RequestKey | undefined,
  path: string,
  to: Response,
): Promise<number> {
  const { size } = await stat(path);
  return LOADER.take(size, async (thread) => {
    if (to.destroyed) throw new NobodyWaits();
    if (size > NEEDS_ROOM) await freeGarbage();
    const end = (): void => void thread.end();
    to.once('close', end);
    try {
      return await thread.call('load', url, personId, requestKey, path);
    } catch (error) {
      throw to.destroyed ? new NobodyWaits() : error;
    } finally {
      to.off('close', end);
    }
  });
}
