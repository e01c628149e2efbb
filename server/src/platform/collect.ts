/** Gives memory back before work that needs much of it. */
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

/** What V8 lets its own tests do: collect what nobody needs, as a task of its own. */
type Collect = (how: { type: 'major'; execution: 'async' }) => Promise<void>;

let collect: Collect | undefined;

/**
 * Frees what nobody needs any more. Left to itself a heap keeps garbage while there is room: beside
 * a thread that is about to take as much again there is none.
 */
export async function freeGarbage(): Promise<void> {
  if (!collect) {
    setFlagsFromString('--expose-gc');
    collect = runInNewContext('gc') as Collect;
  }
  await collect({ type: 'major', execution: 'async' });
}
