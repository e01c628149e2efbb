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

/** Whether anything can lie in both of two scopes. */
export function scopesMeet(tree: MemberTree, a: Scope, b: Scope): boolean {
  return tree.dimensions.every((_, dimension) => {
    const of = (scope: Scope): number[] => scope.filter((id) => tree.dimensionOf(id) === dimension);
    const [first, second] = [of(a), of(b)];
    if (first.length === 0 || second.length === 0) return true;
    const above = (id: number, other: number): boolean => tree.path(id).includes(other);
    return first.some((one) => second.some((two) => above(one, two) || above(two, one)));
  });
}

/** Whether everything that one scope holds lies in another one, so that this contains it. */
export function liesWithin(tree: MemberTree, inner: Scope, outer: Scope): boolean {
  return tree.dimensions.every((_, dimension) => {
    const wide = outer.filter((id) => tree.dimensionOf(id) === dimension);
    if (wide.length === 0) return true;
    const narrow = inner.filter((id) => tree.dimensionOf(id) === dimension);
    return (
      narrow.length > 0 && narrow.every((id) => wide.some((above) => tree.path(id).includes(above)))
    );
  });
}

/**
 * Which of some scopes count in a total of facts that are set for scopes: one that lies in another
 * that counts is part of it. Of equal ones the first counts.
 * @returns by place, for each the places of those that contain it
 */
export function containers(tree: MemberTree, scopes: readonly Scope[]): number[][] {
  return scopes.map((inner, place) =>
    scopes.flatMap((outer, other) => {
      if (other === place || !liesWithin(tree, inner, outer)) return [];
      return liesWithin(tree, outer, inner) && other > place ? [] : [other];
    }),
  );
}
