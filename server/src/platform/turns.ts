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

  /** Does work when there is a place, and gives the place on whatever becomes of it. */
  async take<T>(work: () => Promise<T>): Promise<T> {
    if (this.#free > 0) this.#free -= 1;
    else await new Promise<void>((resolve) => this.#waiting.push(resolve));
    try {
      return await work();
    } finally {
      const next = this.#waiting.shift();
      if (next) next();
      else this.#free += 1;
    }
  }
}
