/**
 * Lets only so many be at work at once; the others wait in the order in which they came. For work
 * that holds a connection to the database and needs a second one meanwhile: if everybody did that
 * at once, nobody would ever get the second.
 */
export class Turns {
  #free: number;
  readonly #waiting: (() => void)[] = [];

  constructor(places: number) {
    this.#free = places;
  }

  /** Waits for a place. @returns how it is given on; more than once does nothing */
  async enter(): Promise<() => void> {
    if (this.#free > 0) this.#free -= 1;
    else await new Promise<void>((resolve) => this.#waiting.push(resolve));
    let left = false;
    return () => {
      if (left) return;
      left = true;
      const next = this.#waiting.shift();
      if (next) next();
      else this.#free += 1;
    };
  }

  /** Does work when there is a place, and gives the place on whatever becomes of it. */
  async take<T>(work: () => Promise<T>): Promise<T> {
    const leave = await this.enter();
    try {
      return await work();
    } finally {
      leave();
    }
  }
}
