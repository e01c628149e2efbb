/** Finds the combinations of many scopes quickly: of thousands of lines of a file, each its own. */
import type { Combination, Scope } from './dimension.ts';
import type { MemberTree } from './member-tree.ts';

export interface ScopeIndex {
  /** The indexes of the combinations that a scope holds, ascending. */
  readonly within: (scope: Scope) => readonly number[];
}

/** Lays combinations out by the members that hold them; see `inScope` for a single scope. */
export function scopeIndex(tree: MemberTree, combinations: readonly Combination[]): ScopeIndex {
  const heldBy = new Map<number, number[]>();
  const all: number[] = [];
  combinations.forEach(({ members }, index) => {
    all.push(index);
    for (const leaf of members) {
      for (const member of tree.path(leaf)) {
        const held = heldBy.get(member);
        if (held) held.push(index);
        else heldBy.set(member, [index]);
      }
    }
  });
  const answered = new Map<string, readonly number[]>();
  /** The fewest combinations that one dimension of the scope leaves. */
  const fewest = (scope: Scope): readonly number[] => {
    const byDimension = new Map<number, number[]>();
    for (const member of scope) {
      const dimension = tree.dimensionOf(member);
      byDimension.set(dimension, [...(byDimension.get(dimension) ?? []), member]);
    }
    let found: readonly number[] = all;
    for (const members of byDimension.values()) {
      const held = new Set(members.flatMap((member) => heldBy.get(member) ?? []));
      if (held.size < found.length) found = [...held].sort((a, b) => a - b);
    }
    return found;
  };
  return {
    within: (scope) => {
      const key = scope.join();
      const before = answered.get(key);
      if (before) return before;
      const found = fewest(scope).filter((index) =>
        tree.covers(scope, combinations[index]?.members ?? []),
      );
      answered.set(key, found);
      return found;
    },
  };
}
