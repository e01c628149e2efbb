/**
 * Who waits for what is being read: when they are gone, it is read for nobody, and stops, in this
 * process and in the database. A write that came whole is done to its end, whoever is still there:
 * what somebody typed before they closed the page is kept.
 */
import { AsyncLocalStorage } from 'node:async_hooks';
import { setMaxListeners } from 'node:events';
import type { Response } from 'express';

/** That nobody waits any more for what is being made. */
export class NobodyWaits extends Error {
  constructor() {
    super('Whoever asked for it is gone');
    this.name = 'NobodyWaits';
  }
}

const WAITING = new AsyncLocalStorage<AbortSignal>();

/** Does work as long as somebody waits for the answer. */
export function whileWaitedFor<T>(response: Response, work: () => Promise<T>): Promise<T> {
  const gone = new AbortController();
  // Many queries of one answer may run at once.
  setMaxListeners(0, gone.signal);
  const abort = (): void => {
    if (!response.writableFinished) gone.abort();
  };
  if (response.destroyed) abort();
  response.once('close', abort);
  return WAITING.run(gone.signal, work);
}

/** Does work that others wait for too, or that is kept for them. */
export const forOthersToo = <T>(work: () => T): T => WAITING.exit(work);

/** Is aborted when nobody waits any more for what is done here; undefined for what is done anyway. */
export const waited = (): AbortSignal | undefined => WAITING.getStore();

/** @throws NobodyWaits */
export function mustBeWaitedFor(): void {
  if (waited()?.aborted) throw new NobodyWaits();
}
