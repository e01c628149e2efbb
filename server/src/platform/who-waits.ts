/**
 * Who waits for what is being read: when they are gone, it is read for nobody, and stops, in this
 * process and in the database. A write that came whole is done to its end, whoever is still there:
 * what somebody typed before they closed the page is kept.
 */
import { setMaxListeners } from 'node:events';
import type { Response } from 'express';

/** That nobody waits any more for what is being made. */
export class NobodyWaits extends Error {
  constructor() {
    super('Whoever asked for it is gone');
    this.name = 'NobodyWaits';
  }
}

/** Whether an error says that, also inside what wraps it. */
export const isForNobody = (error: unknown): boolean =>
  error instanceof NobodyWaits || (error instanceof Error && error.cause instanceof NobodyWaits);

/** Is aborted when whoever waits for a response is gone before they have it. */
export function goneFrom(response: Response): AbortSignal {
  const gone = new AbortController();
  // Many queries of one answer may run at once.
  setMaxListeners(0, gone.signal);
  const abort = (): void => {
    if (!response.writableFinished) gone.abort();
  };
  if (response.destroyed) abort();
  response.once('close', abort);
  return gone.signal;
}
