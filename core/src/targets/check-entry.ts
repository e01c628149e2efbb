/** Why a node cannot be put into a target tree: what would count twice, or nothing. */
import type { MemberTree } from '../dimensions/member-tree.ts';
import { scopesMeet } from '../dimensions/scopes.ts';
import { EVERYTHING, holderBelow, isGroup, type TargetEntry } from './target-tree.ts';
import type { Holder } from './standing.ts';

/** What is wrong with a node, with the field it stands in. */
export interface TargetProblem {
  readonly field: 'scope' | 'seller' | 'until';
  readonly message: string;
}

/**
 * Checks a node that is to be put below another one.
 * @param entry with the id of a node that is there already, it is checked in its place
 * @param sellers whose codes sales lines bear
 */
export function targetProblems(
  entry: TargetEntry,
  entries: readonly TargetEntry[],
  tree: MemberTree,
  sellers: ReadonlySet<string>,
): TargetProblem[] {
  const byId = new Map(entries.map((one) => [one.id, one]));
  const pathOf = (one: TargetEntry): TargetEntry[] => {
    const above = one.parent === null ? undefined : byId.get(one.parent);
    return above ? [...pathOf(above), one] : [one];
  };
  const holderOf = (path: readonly TargetEntry[]): Holder =>
    path.reduce((above: Holder, one) => holderBelow(tree, above, one), EVERYTHING);
  const path = pathOf(entry);
  const parents = path.slice(0, -1);
  const above = holderOf(parents);
  const problems: TargetProblem[] = [];
  const { kind, scope, seller } = entry;

  if (kind === 'person' && seller === null && above.seller === null) {
    problems.push({
      field: 'seller',
      message: 'A person needs the seller code that sales lines bear; without it nothing counts',
    });
  }
  if (seller !== null && !sellers.has(seller)) {
    const known = [...sellers].sort().slice(0, MOST_NAMED).join(', ');
    problems.push({
      field: 'seller',
      message: `No sales line bears the seller ${seller}; there are ${known || 'none'}`,
    });
  }
  if (seller !== null && above.seller !== null && seller !== above.seller) {
    problems.push({
      field: 'seller',
      message: `What lies below ${parents.at(-1)?.name ?? ''} counts the sales of ${above.seller} only`,
    });
  }
  if (entry.until !== null && kind !== 'person') {
    problems.push({ field: 'until', message: ONLY_PEOPLE_LEAVE });
  }
  for (const id of scope) {
    const dimension = tree.dimensionOf(id);
    const held = above.scope.filter((member) => tree.dimensionOf(member) === dimension);
    if (held.length === 0 || held.some((member) => tree.path(id).includes(member))) continue;
    const names = held.map((member) => tree.member(member).name).join(', ');
    const message = `${tree.member(id).name} is outside ${names}, so nothing would count`;
    problems.push({ field: 'scope', message });
  }
  if (problems.length > 0 || isGroup(entry)) return problems;

  // Whoever counts the same sale elsewhere in the tree, and is not above or below it.
  const own = holderOf(path);
  const ids = new Set(path.map(({ id }) => id));
  const clashes = entries.filter((other) => {
    const otherPath = pathOf(other);
    if (isGroup(other) || ids.has(other.id) || otherPath.some(({ id }) => id === entry.id)) {
      return false;
    }
    const theirs = holderOf(otherPath);
    const apart = own.seller !== null && theirs.seller !== null && own.seller !== theirs.seller;
    return !apart && scopesMeet(tree, own.scope, theirs.scope);
  });
  const twice = seller === null ? undefined : clashes.find((other) => other.seller === seller);
  const [first] = clashes;
  if (twice) {
    const message = `${seller ?? ''} is ${twice.name} already; the same sales would count twice`;
    problems.push({ field: 'seller', message });
  } else if (first) {
    const message = `${first.name} counts some of the same sales; they would count twice`;
    problems.push({ field: 'scope', message });
  }
  return problems;
}

/** Why a team or the company has no last month. */
export const ONLY_PEOPLE_LEAVE = 'Only a person has a last month';
/** So many seller codes are named. */
const MOST_NAMED = 12;
