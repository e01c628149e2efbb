import type { Combination, Scope } from './dimension.ts';
import type { MemberTree } from './member-tree.ts';

/** A row of a table: a member of a row dimension below members of the ones before it. */
export interface RowNode {
  /** The ids of its members from the outermost, joined: stable while the plan's members are. */
  readonly key: string;
  readonly label: string;
  /** 0 for the outermost rows. */
  readonly level: number;
  /** The deepest member of each row dimension named so far. */
  readonly scope: Scope;
  /** Whether rows lie below it. */
  parent: boolean;
  /** Which combinations it is made of, as indexes. */
  readonly parts: number[];
}

/**
 * Groups combinations into rows: the levels of the first dimension's hierarchy, below its leaves
 * those of the second, and so on. Rows come in the order of the dimensions' members; members
 * without a combination have none.
 * @param included which combinations count, by index
 */
export function rowTree(
  tree: MemberTree,
  combinations: readonly Combination[],
  rowDimensions: readonly string[],
  included: (index: number) => boolean,
): RowNode[] {
  const positions = rowDimensions.map((code) => {
    const position = tree.dimensions.findIndex((dimension) => dimension.code === code);
    if (position < 0) throw new RangeError(`There is no dimension "${code}"`);
    return position;
  });
  const rank = new Map<number, number>();
  for (const { members } of tree.dimensions)
    members.forEach(({ id }, place) => rank.set(id, place));

  const nodes = new Map<string, RowNode & { readonly order: number[] }>();
  combinations.forEach(({ members }, index) => {
    if (!included(index)) return;
    let above: (RowNode & { readonly order: number[] }) | undefined;
    const outer: number[] = [];
    for (const position of positions) {
      const path = tree.path(members[position] ?? -1);
      for (const member of path) {
        const key = above ? `${above.key}/${member}` : String(member);
        let node = nodes.get(key);
        if (!node) {
          node = {
            key,
            label: tree.member(member).name,
            level: above ? above.level + 1 : 0,
            scope: [...outer, member],
            parent: false,
            parts: [],
            order: [...(above?.order ?? []), rank.get(member) ?? 0],
          };
          nodes.set(key, node);
          if (above) above.parent = true;
        }
        node.parts.push(index);
        above = node;
      }
      outer.push(path.at(-1) ?? -1);
    }
  });
  return [...nodes.values()].sort((a, b) => byPlace(a.order, b.order));
}

/** Outer rows before inner ones, siblings in their members' order. */
function byPlace(a: readonly number[], b: readonly number[]): number {
  for (let i = 0; i < Math.min(a.length, b.length); i += 1) {
    const difference = (a[i] ?? 0) - (b[i] ?? 0);
    if (difference !== 0) return difference;
  }
  return a.length - b.length;
}

/** The indexes of the combinations that a scope holds. */
export function inScope(
  tree: MemberTree,
  combinations: readonly Combination[],
  scope: Scope,
): Set<number> {
  const held = new Set<number>();
  combinations.forEach(({ members }, index) => {
    if (tree.covers(scope, members)) held.add(index);
  });
  return held;
}
