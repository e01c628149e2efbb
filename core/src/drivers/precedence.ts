import type { MemberTree } from '../dimensions/member-tree.ts';
import type { Assumption } from './assumption.ts';

/** How deep a scope pins each dimension, in the workspace's order; 0 where it does not. */
function pins(tree: MemberTree, { scope }: Assumption): number[] {
  const depths = tree.dimensions.map(() => 0);
  for (const member of scope) depths[tree.dimensionOf(member)] = tree.depth(member);
  return depths;
}

/**
 * Puts the assumptions of one driver in the order in which they hold: more pinned dimensions
 * first; then, dimension by dimension in the workspace's order, the deeper member; then the later
 * created. For a stream and a month the first that covers both is the one that holds.
 */
export function inOrderOfPrecedence(
  tree: MemberTree,
  assumptions: readonly Assumption[],
): Assumption[] {
  if (assumptions.length < 2) return [...assumptions];
  const ranked = assumptions.map((assumption) => ({ assumption, depths: pins(tree, assumption) }));
  ranked.sort((a, b) => {
    const pinned = b.assumption.scope.length - a.assumption.scope.length;
    if (pinned !== 0) return pinned;
    for (let i = 0; i < a.depths.length; i += 1) {
      const deeper = (b.depths[i] ?? 0) - (a.depths[i] ?? 0);
      if (deeper !== 0) return deeper;
    }
    return b.assumption.id - a.assumption.id;
  });
  return ranked.map(({ assumption }) => assumption);
}
