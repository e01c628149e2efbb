/** How long an answer is handed to others who ask for the same, in milliseconds. */
const FRESH_MS = 1000;
const MOST = 200;

/**
 * Answers that many ask for at about the same time: made once and handed to all of them. The key
 * says of what state they are, so that one of a state that is gone is asked for by nobody.
 */
export class Shared<T> {
  readonly #made = new Map<string, { readonly answer: Promise<T>; readonly until: number }>();

  /** @param make what fails is not kept */
  of(key: string, make: () => Promise<T>): Promise<T> {
    const now = Date.now();
    const known = this.#made.get(key);
    if (known && known.until > now) return known.answer;
    for (const [other, { until }] of this.#made) {
      if (until > now && this.#made.size < MOST) break;
      this.#made.delete(other);
    }
    const answer = make();
    answer.catch(() => this.#made.delete(key));
    this.#made.set(key, { answer, until: now + FRESH_MS });
    return answer;
  }
}
