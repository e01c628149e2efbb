/** That others were at work for longer than somebody waits; it is said like a lock that is held. */
export class TookTooLong extends Error {
  readonly code = '55P03';
}

/**
 * Lets only so many be at work at once; the others wait in the order in which they came. For work
 * that holds a connection to the database and needs a second one meanwhile: if everybody did that
 * at once, nobody would ever get the second.
 */
export class Turns {
  #free: number;
  readonly #waiting: (() => void)[] = [];

  constructor(private readonly places: number) {
    this.#free = places;
  }

  /**
   * Waits for a place.
   * @param patienceMs how long; 0 for as long as it takes
   * @returns how it is given on; more than once does nothing
   * @throws TookTooLong
   */
  async enter(patienceMs = 0): Promise<() => void> {
    if (this.#free > 0) this.#free -= 1;
    else await this.#wait(patienceMs);
    let left = false;
    return () => {
      if (left) return;
      left = true;
      const next = this.#waiting.shift();
      if (next) next();
      else this.#free += 1;
    };
  }

  #wait(patienceMs: number): Promise<void> {
    return new Promise((resolve, reject) => {
      const timer = patienceMs > 0 ? setTimeout(() => giveUp(), patienceMs) : undefined;
      const begin = (): void => {
        clearTimeout(timer);
        resolve();
      };
      const giveUp = (): void => {
        const place = this.#waiting.indexOf(begin);
        if (place >= 0) this.#waiting.splice(place, 1);
        reject(new TookTooLong());
      };
      this.#waiting.push(begin);
    });
  }

  /** Whether nobody is at work, and nobody waits. */
  get isIdle(): boolean {
    return this.#free === this.places && this.#waiting.length === 0;
  }

  /** Does work when there is a place, and gives the place on whatever becomes of it. */
  async take<T>(work: () => Promise<T>, patienceMs = 0): Promise<T> {
    const leave = await this.enter(patienceMs);
    try {
      return await work();
    } finally {
      leave();
    }
  }
}

/** A line for each thing: one after the other at the same thing, beside each other at others. */
export class Lines {
  readonly #lines = new Map<number, Turns>();

  async take<T>(thing: number, work: () => Promise<T>, patienceMs: number): Promise<T> {
    const line = this.#lines.get(thing) ?? new Turns(1);
    this.#lines.set(thing, line);
    try {
      return await line.take(work, patienceMs);
    } finally {
      if (line.isIdle) this.#lines.delete(thing);
    }
  }
}
