/**
 * Lists by key of which most have one thing only. A set for each would take more memory than what
 * it holds.
 */
export class ListByKey<Key, Thing> {
  readonly #lists = new Map<Key, Thing | Thing[]>();

  /** The things of a key, in the order in which they were added. */
  get(key: Key): readonly Thing[] {
    const list = this.#lists.get(key);
    if (list === undefined) return [];
    return Array.isArray(list) ? list : [list];
  }

  /** Adds a thing that the key does not have. Things are no arrays. */
  add(key: Key, thing: Thing): void {
    const list = this.#lists.get(key);
    if (list === undefined) this.#lists.set(key, thing);
    else if (Array.isArray(list)) list.push(thing);
    else this.#lists.set(key, [list, thing]);
  }

  /** @returns whether the key had the thing */
  delete(key: Key, is: (thing: Thing) => boolean): boolean {
    const list = this.get(key);
    const left = list.filter((thing) => !is(thing));
    if (left.length === list.length) return false;
    const [first] = left;
    if (first === undefined) this.#lists.delete(key);
    else this.#lists.set(key, left.length === 1 ? first : left);
    return true;
  }

  /** Lets go of all things of a key. */
  clear(key: Key): void {
    this.#lists.delete(key);
  }
}
