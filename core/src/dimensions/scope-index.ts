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
  /** The fewest combinations that one dimension of the scope leaves, or a few more than these. */
  const fewest = (scope: Scope): readonly number[] => {
    let found: readonly number[] = all;
    for (const member of scope) {
      const held = heldBy.get(member) ?? [];
      // One of several members of a dimension does not say what the others hold.
      const alone = scope.every(
        (other) => other === member || tree.dimensionOf(other) !== tree.dimensionOf(member),
      );
      if (alone && held.length < found.length) found = held;
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
