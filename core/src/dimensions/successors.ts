import type { MemberTree } from './member-tree.ts';

/**
 * The member that stands for another one in the end: what replaces it, what replaces that, and so on;
 * itself where nothing does.
 */
export function lastSuccessors(tree: MemberTree): (member: number) => number {
  const next = new Map<number, number>();
  for (const { members } of tree.dimensions) {
    for (const { id, replaces } of members) if (replaces !== undefined) next.set(replaces, id);
  }
  return (member) => {
    const seen = new Set([member]);
    let at = member;
    for (;;) {
      const after = next.get(at);
      if (after === undefined || seen.has(after)) return at;
      seen.add(after);
      at = after;
    }
  };
}

/** A member of a dimension, and which one it came in place of. */
export interface Replacing {
  readonly id: number;
  readonly name: string;
  readonly replaces?: number | null | undefined;
}

/** Which members of one dimension came in place of which others. */
export class Replacements {
  readonly #members = new Map<number, Replacing>();
  /** Which member replaces another one, by the other. */
  readonly #by = new Map<number, number>();

  constructor(members: Iterable<Replacing>) {
    for (const member of members) this.put(member);
  }

  /** Takes in a member as it is now. */
  put(member: Replacing): void {
    const before = this.#members.get(member.id)?.replaces;
    if (typeof before === 'number' && this.#by.get(before) === member.id) this.#by.delete(before);
    this.#members.set(member.id, member);
    if (typeof member.replaces === 'number') this.#by.set(member.replaces, member.id);
  }

  /** Why a member cannot replace another one, in words; undefined where it can. */
  whyNot(id: number, replaced: number): string | undefined {
    const other = this.#members.get(replaced);
    if (!other) return 'it is no member of this dimension';
    if (id === replaced) return 'it cannot replace itself';
    const by = this.#by.get(replaced);
    const taken = by === undefined || by === id ? undefined : this.#members.get(by);
    if (taken) return `${taken.name} replaces ${other.name} already`;
    const seen = new Set<number>();
    let at: number | undefined = replaced;
    while (at !== undefined && !seen.has(at)) {
      if (at === id) return `${other.name} replaces it in turn`;
      seen.add(at);
      at = this.#members.get(at)?.replaces ?? undefined;
    }
    return undefined;
  }
}
