import type { Scope } from './dimension.ts';
import type { MemberTree } from './member-tree.ts';
import { liesWithin } from './scopes.ts';

/** Two scopes hold the same sales, and neither is the narrower one. */
export class ScopesCross extends Error {
  /** Their places. */
  readonly places: readonly [number, number];
  constructor(places: readonly [number, number]) {
    super('Two of them hold the same sales; make one narrower, or leave one out');
    this.name = 'ScopesCross';
    this.places = places;
  }
}

/**
 * Which of some things that are said of scopes holds of a combination: that of the narrowest scope.
 * @returns its place; undefined where none holds
 * @throws ScopesCross where no scope lies within all the others that hold it
 */
export function narrowestOf(
  tree: MemberTree,
  members: Scope,
  scoped: readonly { readonly scope: Scope }[],
): number | undefined {
  const scopeAt = (place: number): Scope => scoped[place]?.scope ?? [];
  const holding = scoped.flatMap(({ scope }, place) =>
    liesWithin(tree, members, scope) ? [place] : [],
  );
  const narrower = (one: number, other: number): boolean =>
    liesWithin(tree, scopeAt(one), scopeAt(other)) &&
    !liesWithin(tree, scopeAt(other), scopeAt(one));
  for (const place of holding) {
    if (holding.every((other) => other === place || narrower(place, other))) return place;
  }
  const [one, other] = holding.flatMap((place) => {
    const beside = holding.find(
      (two) => two > place && !narrower(place, two) && !narrower(two, place),
    );
    return beside === undefined ? [] : [place, beside];
  });
  if (one === undefined || other === undefined) return undefined;
  throw new ScopesCross([one, other]);
}
