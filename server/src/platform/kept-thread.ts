/** A thread for one kind of work, kept for a while for the next of it. */
import { Thread, type Calls } from './thread.ts';
import { Turns } from './turns.ts';

/** A thread that nobody needs for so long is ended. */
const IDLE_MS = 30_000;
/** From so many bytes on, what work took is given back at once. */
const VERY_LARGE = 2 * 1024 ** 2;

export class KeptThread<C extends Calls> {
  /** One after the other: each may need all the memory there is for it. */
  readonly #oneByOne = new Turns(1);
  #thread: Thread<C> | undefined;
  #ending: NodeJS.Timeout | undefined;

  /** @param asked as `Thread` is made */
  constructor(private readonly asked: ConstructorParameters<typeof Thread>) {}

  /**
   * Does work with the thread when it is its turn.
   * @param size of what is worked on, in bytes
   * @throws whatever the work throws
   */
  async take<T>(size: number, work: (thread: Thread<C>) => Promise<T>): Promise<T> {
    return this.#oneByOne.take(async () => {
      clearTimeout(this.#ending);
      if (!this.#thread || this.#thread.isGone) this.#thread = new Thread(...this.asked);
      try {
        return await work(this.#thread);
      } finally {
        if (size > VERY_LARGE) await this.#end();
        else this.#ending = setTimeout(() => void this.#end(), IDLE_MS).unref();
      }
    });
  }

  async #end(): Promise<void> {
    const ended = this.#thread;
    this.#thread = undefined;
    await ended?.end();
  }
}
