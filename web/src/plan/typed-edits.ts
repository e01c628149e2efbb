import { computed, shallowRef } from 'vue';
import { isRelative, type GridEdit } from '../grid/plan-grid.ts';
import type { Line } from './line.ts';

const placeOf = ({ row, column }: GridEdit): string => `${row} ${column}`;

/** What a grid does with what is typed into it. */
export interface Keeping<Edit extends GridEdit> {
  /** Keeps what was typed at once, as one step that can be taken back. Says itself what went wrong. */
  keep(edits: readonly Edit[]): Promise<void>;
  /** Brings the numbers on the screen up to what is kept. */
  follow(): Promise<void>;
  /** Whether neither of two edits changes what the other one is read against. */
  apart(one: Edit, other: Edit): boolean;
  /** Whether an edit was typed into what is shown now; where it is left out, all of them were. */
  inSight?(edit: Edit): boolean;
}

/**
 * What is typed into a grid, kept in the order in which it is typed, one after the other, each as a
 * step of its own. However fast it comes, it is shown at once and waits in line. Numbers are
 * brought up to date when nothing more waits, or when what comes next is read against them.
 */
export class TypedEdits<Edit extends GridEdit> {
  readonly #queued: (readonly Edit[])[] = [];
  /** Kept, but the numbers on the screen do not have it yet. */
  #ahead: Edit[] = [];
  /** What is typed and not kept, or not followed yet, in the order in which it was typed. */
  readonly #pending = shallowRef<readonly Edit[]>([]);
  /** The same of what is in sight, by `row column`. */
  readonly waiting = computed<ReadonlyMap<string, string>>(() => {
    const inSight = this.#pending.value.filter((edit) => this.keeping.inSight?.(edit) ?? true);
    return new Map(inSight.map((edit) => [placeOf(edit), edit.text]));
  });

  constructor(
    private readonly line: Line,
    private readonly keeping: Keeping<Edit>,
  ) {}

  add(edits: readonly Edit[]): void {
    this.#queued.push(edits);
    this.#pending.value = [...this.#pending.value, ...edits];
    void this.line.join(() => this.#next());
  }

  async #next(): Promise<void> {
    const edits = this.#queued.shift() ?? [];
    this.#ahead.push(...edits);
    try {
      await this.keeping.keep(edits);
    } finally {
      const next = this.#queued[0];
      if (!next || !this.#stands(next)) {
        // Where that fails the next notice brings the numbers; what was typed is kept all the same.
        await this.keeping.follow().catch(() => undefined);
        this.#followed();
      }
    }
  }

  /** Whether edits can be read against numbers that do not have what was kept last. */
  #stands(edits: readonly Edit[]): boolean {
    return edits.every(
      (edit) =>
        !isRelative(edit.text) && this.#ahead.every((kept) => this.keeping.apart(kept, edit)),
    );
  }

  /** What the screen has now does not wait any more. */
  #followed(): void {
    this.#ahead = [];
    this.#pending.value = this.#queued.flat();
  }
}
