import type { Scope } from './dimension.ts';
import type { MemberTree } from './member-tree.ts';

/**
 * What two scopes have in common: in a dimension that only one names, its members; where both do,
 * those of either that lie in the other. A row of a table within the scope of its frame.
 */
export function inBoth(tree: MemberTree, a: Scope, b: Scope): number[] {
  const of = (scope: Scope, dimension: number): number[] =>
    scope.filter((id) => tree.dimensionOf(id) === dimension);
  return tree.dimensions.flatMap((_, dimension) => {
    const first = of(a, dimension);
    const second = of(b, dimension);
    if (first.length === 0 || second.length === 0) return [...first, ...second];
    const inside = (id: number, others: readonly number[]): boolean =>
      others.some((other) => tree.path(id).includes(other));
    return [
      ...new Set([
        ...first.filter((id) => inside(id, second)),
        ...second.filter((id) => inside(id, first)),
      ]),
    ];
  });
}
