import type { Writable } from 'node:stream';
import { setImmediate } from 'node:timers/promises';
import { NobodyWaits } from './who-waits.ts';

/** How long work goes on before others have their turn, in milliseconds. */
const TURN_MS = 20;

/** Does work step by step, and gives others their turn in between. @returns what it makes */
export async function inTurns<T>(steps: Generator<unknown, T>): Promise<T> {
  let end = performance.now() + TURN_MS;
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
    if (performance.now() < end) continue;
    await setImmediate();
    end = performance.now() + TURN_MS;
  }
}

/** Gives others their turn once. */
export const afterOthers = (): Promise<void> => setImmediate();

/** So many small things, such as cells of a table, are done before others have their turn. */
const AT_A_TIME = 2000;

/**
 * Gives others their turn in the middle of long work.
 * @param to who waits for what is made: when they are gone, the work ends
 * @returns to be waited for after each piece of work, with how many things it did
 */
export function pausesFor(to?: Writable): (done: number) => Promise<void> {
  let since = 0;
  return async (done) => {
    since += done;
    if (since < AT_A_TIME) return;
    since = 0;
    await setImmediate();
    if (to?.destroyed) throw new NobodyWaits();
  };
}
