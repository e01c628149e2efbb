import { ref, type Ref } from 'vue';

/**
 * Everything that is written stands in one line: edits, undo and redo, and catching up with what
 * others did. One begins when the one before it is done, in the order in which they were asked for.
 */
export class Line {
  #last: Promise<unknown> = Promise.resolve();
  /** How many are in the line, the one that is being done included. */
  readonly waiting: Ref<number> = ref(0);

  /** Does something when everything before it is done. @throws what it throws */
  join<T>(work: () => Promise<T>): Promise<T> {
    this.waiting.value += 1;
    const done = this.#last.then(work).finally(() => {
      this.waiting.value -= 1;
    });
    this.#last = done.catch(() => undefined);
    return done;
  }
}
