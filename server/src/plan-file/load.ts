/** Makes a workspace of a plan file in a thread: it may be large, and others are answered. */
import type { Response } from 'express';
import type { Connections } from '../platform/database.ts';
import type { RequestKey } from '../platform/request-key.ts';
import { freeGarbage } from '../platform/collect.ts';
import { Thread } from '../platform/thread.ts';
import { Turns } from '../platform/turns.ts';
import { NobodyWaits } from '../platform/who-waits.ts';
import type { LoadCalls } from './load-thread.ts';

const MEMORY_MB = 144;
const TOO_MUCH = 'The plan file holds more than can be read at once; leave versions out of it';

/** One after the other: each may need all the memory there is for it. */
const ONE_BY_ONE = new Turns(1);

/**
 * Reads a plan file, checks it and makes a workspace of it, all or nothing.
 * @param to who waits for it; when they are gone it ends, and nothing of it stays
 * @returns the id of the workspace
 * @throws HttpProblem 400 with everything that is wrong with it, 413 for one that holds too much
 */
export function loadInThread(
  { url }: Connections,
  personId: number,
  requestKey: RequestKey | undefined,
  path: string,
  to: Response,
): Promise<number> {
  return ONE_BY_ONE.take(async () => {
    await freeGarbage();
    const thread = new Thread<LoadCalls>(
      new URL('./load-thread.ts', import.meta.url),
      MEMORY_MB,
      TOO_MUCH,
    );
    const end = (): void => void thread.end();
    if (to.destroyed) end();
    to.once('close', end);
    try {
      return await thread.call('load', url, personId, requestKey, path);
    } catch (error) {
      throw to.destroyed ? new NobodyWaits() : error;
    } finally {
      to.off('close', end);
      await thread.end();
    }
  });
}
