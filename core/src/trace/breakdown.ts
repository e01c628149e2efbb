import { periodsOf, type Span } from '../calendar/period.ts';
import type { Combination, Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';

/** A part of a scope: the narrower scope, its name, and which combinations are in it, by index. */
export interface ScopePart {
  readonly label: string;
  readonly scope: Scope;
  readonly indexes: readonly number[];
}

/**
 * Cuts a scope into the next narrower ones: members that the scope itself names one by one, else
 * the next level of the first dimension in which its combinations differ.
 * @param indexes the combinations that the scope holds, at least two of them
 */
export function narrower(
  tree: MemberTree,
  combinations: readonly Combination[],
  scope: Scope,
  indexes: readonly number[],
): ScopePart[] {
  const leafOf = (index: number, position: number): number =>
    combinations[index]?.members[position] ?? -1;
  const cut = (position: number, memberOf: (leaf: number) => number | undefined): ScopePart[] => {
    const kept = scope.filter((id) => tree.dimensionOf(id) !== position);
    const groups = new Map<number, number[]>();
    for (const index of indexes) {
      const member = memberOf(leafOf(index, position));
      if (member === undefined) continue;
      groups.set(member, [...(groups.get(member) ?? []), index]);
    }
    return [...groups].map(([member, streamsOfMember]) => ({
      label: tree.member(member).name,
      scope: [...kept, member],
      indexes: streamsOfMember,
    }));
  };
  for (let position = 0; position < tree.dimensions.length; position += 1) {
    const named = scope.filter((id) => tree.dimensionOf(id) === position);
    if (named.length > 1) {
      const parts = cut(position, (leaf) => named.find((id) => tree.path(leaf).includes(id)));
      if (parts.length > 1) return parts;
    }
    const leaves = new Set(indexes.map((index) => leafOf(index, position)));
    if (leaves.size < 2) continue;
    const paths = [...leaves].map((leaf) => tree.path(leaf));
    const deepest = Math.max(...paths.map((path) => path.length));
    for (let level = 0; level < deepest; level += 1) {
      const members = new Set(paths.map((path) => path[level] ?? path.at(-1)));
      if (members.size > 1)
        return cut(position, (leaf) => tree.path(leaf)[level] ?? tree.path(leaf).at(-1));
    }
  }
  return [];
}

/** Cuts a stretch of months into fiscal years where it spans several, else into months. */
export function shorter(span: Span, fiscalStart: number): { key: string; span: Span }[] {
  const years = periodsOf(span, 'year', fiscalStart);
  const periods = years.length > 1 ? years : periodsOf(span, 'month', fiscalStart);
  return periods.map(({ key, from, to }) => ({ key, span: { from, to } }));
}
