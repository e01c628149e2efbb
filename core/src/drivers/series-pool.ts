import type { HeldSeries } from './held-series.ts';

/** The most series that share one stretch of memory. */
const MOST = 64;

/**
 * Series that are made one after the other and live as long as each other share memory: thousands
 * of small buffers cost as much again as the numbers in them. What an edit makes anew later stands
 * alone, so that it can be given back alone.
 */
export class SeriesPool {
  #values = new Float64Array();
  #holders = new Int32Array();
  #used = 0;
  #size = 0;

  constructor(private readonly count: number) {}

  /** Room for one series, filled with zeros. */
  take(): HeldSeries {
    if (this.#used === this.#size) {
      this.#size = Math.min(MOST, Math.max(1, this.#size * 2));
      this.#used = 0;
      this.#values = new Float64Array(this.#size * this.count);
      this.#holders = new Int32Array(this.#size * this.count);
    }
    const from = this.#used * this.count;
    const to = from + this.count;
    this.#used += 1;
    return { values: this.#values.subarray(from, to), holders: this.#holders.subarray(from, to) };
  }
}
