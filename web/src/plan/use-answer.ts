import { nextTick, shallowRef, watch, type ShallowRef, type WatchSource } from 'vue';
import { inWords } from '../shell/api.ts';

/** An answer of the worker or the server that follows what it depends on. */
export interface Answer<T> {
  /** The last answer; stays while a new one is on its way. */
  readonly data: ShallowRef<T | undefined>;
  readonly failure: ShallowRef<string>;
  /** Waits until what is asked by now is answered. */
  settled(): Promise<void>;
}

/**
 * Asks anew whenever one of the sources changes; an answer that was overtaken is dropped.
 * @param sources what the question depends on
 * @param patience how many milliseconds a question waits, after the first one, for what may overtake
 *   it: what stands beside a table lets the table's own answer go first
 */
export function useAnswer<T>(
  sources: WatchSource[],
  ask: () => Promise<T>,
  patience = 0,
): Answer<T> {
  const data = shallowRef<T>();
  const failure = shallowRef('');
  let asked = 0;
  let answering: Promise<void> = Promise.resolve();
  const answer = async (): Promise<void> => {
    const mine = ++asked;
    if (patience > 0 && mine > 1) {
      await new Promise((resolve) => setTimeout(resolve, patience));
      if (mine !== asked) return;
    }
    try {
      const found = await ask();
      if (mine !== asked) return;
      data.value = found;
      failure.value = '';
    } catch (error) {
      if (mine === asked) failure.value = inWords(error);
    }
  };
  watch(sources, () => void (answering = answer()), { immediate: true });
  async function settled(): Promise<void> {
    // What changed just now is asked about a moment later.
    await nextTick();
    let last: Promise<void>;
    do {
      last = answering;
      await last;
    } while (last !== answering);
  }
  return { data, failure, settled };
}
