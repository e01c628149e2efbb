/**
 * Which document lines were seen, by a hash of 52 bits: no repetition is missed, and the few that
 * only look like one are told apart by whoever asks. Sixteen bytes a line, where a set of texts
 * would take a hundred.
 */
export class SeenLines {
  #slots = new Float64Array(1 << 12);
  #count = 0;

  /** Notes a document line. @returns whether it may have been seen before */
  add(document: string, lineNumber: number): boolean {
    if (this.#count * 2 > this.#slots.length) this.#grow();
    return this.#put(hash(document, lineNumber));
  }

  #put(key: number): boolean {
    const mask = this.#slots.length - 1;
    for (let at = (key % this.#slots.length) & mask; ; at = (at + 1) & mask) {
      const there = this.#slots[at];
      if (there === key) return true;
      if (there === 0) {
        this.#slots[at] = key;
        this.#count += 1;
        return false;
      }
    }
  }

  #grow(): void {
    const old = this.#slots;
    this.#slots = new Float64Array(old.length * 4);
    this.#count = 0;
    for (const key of old) if (key !== 0) this.#put(key);
  }
}

/** FNV-1a in two lanes, never 0. */
function hash(document: string, lineNumber: number): number {
  let a = 0x811c9dc5 ^ lineNumber;
  let b = 0x01000193 + lineNumber;
  for (let at = 0; at < document.length; at += 1) {
    const code = document.charCodeAt(at);
    a = Math.imul(a ^ code, 0x01000193);
    b = Math.imul(b ^ code, 0x85ebca6b);
    b ^= b >>> 13;
  }
  return (a >>> 0) * 0x100000 + ((b >>> 12) & 0xfffff) + 1;
}
