/** Takes what is assumed for one scope over to another. */
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import type { Assumption } from './assumption.ts';
import { scopeKey } from './scope-key.ts';

export interface CopiedScope {
  readonly put: readonly Omit<Assumption, 'id'>[];
  /** What stood in the same place before, by id: the copies take its place. */
  readonly drop: readonly number[];
}

/**
 * Copies the assumptions of a scope and of everything narrower to another scope that pins the same
 * dimensions: members of `from` become those of `into`, all others stay. An assumption of the same
 * driver, scope and months at the new place is replaced.
 * @param drivers only of these, by code
 * @throws RangeError when the scopes pin other dimensions than each other, or none
 */
export function copyScope(
  assumptions: Iterable<Assumption>,
  tree: MemberTree,
  from: Scope,
  into: Scope,
  drivers: ReadonlySet<string>,
): CopiedScope {
  const byDimension = new Map(into.map((member) => [tree.dimensionOf(member), member]));
  const pinned = new Set(from.map((member) => tree.dimensionOf(member)));
  const same = byDimension.size === into.length && pinned.size === from.length;
  if (from.length === 0 || !same || ![...pinned].every((one) => byDimension.has(one))) {
    throw new RangeError('A scope is copied to one that pins the same dimensions');
  }
  if (into.length !== from.length) {
    throw new RangeError('A scope is copied to one that pins the same dimensions');
  }
  const all = [...assumptions].filter(({ driver }) => drivers.has(driver));
  const place = ({ driver, scope, from: start, to }: Omit<Assumption, 'id'>): string =>
    JSON.stringify([driver, scopeKey(scope), start, to]);
  const put = all
    .filter(({ scope }) => from.every((member) => scope.includes(member)))
    .map(({ id: _, ...row }) => ({
      ...row,
      scope: row.scope.map((member) =>
        from.includes(member) ? (byDimension.get(tree.dimensionOf(member)) ?? member) : member,
      ),
    }));
  const taken = new Set(put.map(place));
  const drop = all.filter((row) => taken.has(place(row))).map(({ id }) => id);
  return { put, drop };
}
