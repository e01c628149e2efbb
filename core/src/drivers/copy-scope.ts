/** Takes what is assumed for one scope, and changed on top of it, over to another. */
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import type { Adjustment } from './adjustment.ts';
import type { Assumption } from './assumption.ts';
import { scopeKey } from './scope-key.ts';

/** What is written of one kind, and what stood in the same place before: the copies take its place. */
export interface Copies<Row extends { readonly id: number }> {
  readonly put: readonly Omit<Row, 'id'>[];
  /** Ids. */
  readonly drop: readonly number[];
}

/** What is set for scopes: assumptions, and the adjustments over them. */
export interface SetForScopes {
  readonly assumptions: Iterable<Assumption>;
  readonly adjustments: Iterable<Adjustment>;
}

export interface CopiedScope {
  readonly assumptions: Copies<Assumption>;
  readonly adjustments: Copies<Adjustment>;
}

/**
 * Copies what is set for a scope and for everything narrower to another scope that pins the same
 * dimensions: members of `from` become those of `into`, all others stay. What stands at the new place
 * for the same driver and months is replaced.
 * @param drivers only of these, by code
 * @throws RangeError when the scopes pin other dimensions than each other, or none
 */
export function copyScope(
  { assumptions, adjustments }: SetForScopes,
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
  const moved = (scope: Scope): Scope =>
    scope.map((member) =>
      from.includes(member) ? (byDimension.get(tree.dimensionOf(member)) ?? member) : member,
    );
  const copies = <Row extends Assumption | Adjustment>(rows: Iterable<Row>): Copies<Row> => {
    const all = [...rows].filter(({ driver }) => drivers.has(driver));
    const put = all
      .filter(({ scope }) => from.every((member) => scope.includes(member)))
      .map(({ id: _, ...row }) => ({ ...row, scope: moved(row.scope) }));
    const taken = new Set(put.map(placeOf));
    return { put, drop: all.filter((row) => taken.has(placeOf(row))).map(({ id }) => id) };
  };
  return { assumptions: copies(assumptions), adjustments: copies(adjustments) };
}

const placeOf = ({ driver, scope, from, to }: Omit<Assumption | Adjustment, 'id'>): string =>
  JSON.stringify([driver, scopeKey(scope), from, to]);
