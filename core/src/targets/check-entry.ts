/** Why a node cannot be put into a target tree: what would count twice, or nothing. */
import { monthInWords } from '../calendar/month.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { scopesMeet } from '../dimensions/scopes.ts';
import { EVERYTHING, holderBelow, isGroup, rankOf, type TargetEntry } from './target-tree.ts';
import type { Holder } from './standing.ts';
import { meaningOf, type TargetMeasure } from './target-measure.ts';

/** What is wrong with a node, with the field it stands in. */
export interface TargetProblem {
  readonly field: 'parent' | 'scope' | 'seller' | 'account' | 'from' | 'until' | 'part';
  readonly message: string;
}

/** What is known where a node is to be put. */
export interface TargetSurroundings {
  readonly measure: TargetMeasure;
  readonly tree: MemberTree;
  /** Whose codes sales lines bear. */
  readonly sellers: ReadonlySet<string>;
  /** The codes of customers in sales lines. */
  readonly accounts: ReadonlySet<string>;
}

/** The nodes from the top down to one of them; undefined where they go round in a circle. */
function pathTo(
  entry: TargetEntry,
  find: (id: number) => TargetEntry | undefined,
): TargetEntry[] | undefined {
  const path = [entry];
  const seen = new Set([entry.id]);
  for (let { parent } = entry; parent !== null;) {
    const above = find(parent);
    if (!above) break;
    if (seen.has(above.id)) return undefined;
    seen.add(above.id);
    path.unshift(above);
    parent = above.parent;
  }
  return path;
}

/** What cannot be an objective: 0, of which nothing can be attained. */
export function objectiveProblem(amount: number): string | undefined {
  return amount > 0 ? undefined : 'An objective is more than 0; delete it where there is none';
}

/** What of a measure cannot be divided: a percent of what does not add up, and an objective of 0. */
export function partProblem(
  { parent, part }: Pick<TargetEntry, 'parent' | 'part'>,
  measure: TargetMeasure,
): string | undefined {
  if (part.kind !== 'percent') return parent === null ? objectiveProblem(part.amount) : undefined;
  if (parent === null) return 'The target of the whole company is an amount';
  return meaningOf(measure).adds
    ? undefined
    : `A ${meaningOf(measure).name.toLowerCase()} does not add up, so it has no percentages; enter it for each row`;
}

/** Entries by their ids: made once for many checks against the same ones. */
export const entriesById = (entries: readonly TargetEntry[]): ReadonlyMap<number, TargetEntry> =>
  new Map(entries.map((one) => [one.id, one]));

/**
 * Checks a node that is to be put below another one.
 * @param entry with the id of a node that is there already, it is checked in its place
 */
export function targetProblems(
  entry: TargetEntry,
  entries: readonly TargetEntry[],
  { measure, tree, sellers, accounts }: TargetSurroundings,
  byId = entriesById(entries),
): TargetProblem[] {
  const find = (id: number): TargetEntry | undefined => (id === entry.id ? entry : byId.get(id));
  const path = pathTo(entry, find);
  if (!path) {
    const message = `${entry.name} cannot be below what is below it`;
    return [{ field: 'parent', message }];
  }
  const holderOf = (way: readonly TargetEntry[]): Holder =>
    way.reduce((above: Holder, one) => holderBelow(tree, above, one), EVERYTHING);
  const parents = path.slice(0, -1);
  const above = holderOf(parents);
  const problems: TargetProblem[] = [];
  const say = (field: TargetProblem['field'], message: string): void =>
    void problems.push({ field, message });
  const { kind, scope, seller, account, from, until } = entry;
  const aboveName = parents.at(-1)?.name ?? '';

  const wrongPart = partProblem(entry, measure);
  if (wrongPart !== undefined) say('part', wrongPart);
  if (kind === 'person' && seller === null && above.seller === null) {
    say(
      'seller',
      'A person needs the seller code that sales lines bear; without it nothing counts',
    );
  }
  // Who joins has sold nothing yet.
  if (seller !== null && !sellers.has(seller) && from === null) {
    const known = [...sellers].sort().slice(0, MOST_NAMED).join(', ');
    say(
      'seller',
      `No sales line bears the seller ${seller}; there are ${known || 'none'}. Somebody new needs a first month`,
    );
  }
  if (seller !== null && above.seller !== null && seller !== above.seller) {
    say('seller', `What lies below ${aboveName} counts the sales of ${above.seller} only`);
  }
  if (account !== null && seller === null && above.seller === null) {
    say('account', 'Only below a person, sales are divided by account');
  } else if (account !== null && above.account !== null && account !== above.account) {
    say('account', `What lies below ${aboveName} counts the account ${above.account} only`);
  } else if (account !== null && !accounts.has(account)) {
    say('account', `No sales line bears the account ${account}`);
  }
  if (kind !== 'person') {
    if (from !== null) say('from', ONLY_PEOPLE_JOIN);
    if (until !== null) say('until', ONLY_PEOPLE_LEAVE);
  }
  if (from !== null && until !== null && until < from) {
    say('until', `${monthInWords(until)} is before the first month, ${monthInWords(from)}`);
  }
  for (const id of scope) {
    const dimension = tree.dimensionOf(id);
    const held = above.scope.filter((member) => tree.dimensionOf(member) === dimension);
    if (held.length === 0 || held.some((member) => tree.path(id).includes(member))) continue;
    const names = held.map((member) => tree.member(member).name).join(', ');
    say('scope', `${tree.member(id).name} is outside ${names}, so nothing would count`);
  }
  if (problems.length > 0 || isGroup(entry, above)) return problems;

  // Whoever counts the same sale elsewhere in the tree, and is not above or below it.
  const own = holderOf(path);
  const ids = new Set(path.map(({ id }) => id));
  const clashes = entries.filter((other) => {
    if (ids.has(other.id)) return false;
    // Of thousands most are other sellers: that is seen without looking at what is above them.
    const isOther = (of: 'seller' | 'account'): boolean =>
      own[of] !== null && other[of] !== null && own[of] !== other[of];
    if (isOther('seller') || isOther('account')) return false;
    const theirPath = pathTo(other, find);
    if (!theirPath || theirPath.some(({ id }) => id === entry.id)) return false;
    const theirs = holderOf(theirPath);
    if (isGroup(other, holderOf(theirPath.slice(0, -1)))) return false;
    const apart = (of: 'seller' | 'account'): boolean =>
      own[of] !== null && theirs[of] !== null && own[of] !== theirs[of];
    if (apart('seller') || apart('account')) return false;
    return scopesMeet(tree, own.scope, theirs.scope) && !isApart(path, theirPath, holderOf);
  });
  const twice = seller === null ? undefined : clashes.find((other) => other.seller === seller);
  const [first] = clashes;
  if (twice) {
    say('seller', `${seller ?? ''} is ${twice.name} already; the same sales would count twice`);
  } else if (first) {
    say(
      account === null ? 'scope' : 'account',
      `${first.name} counts some of the same sales; they would count twice`,
    );
  }
  return problems;
}

/** Whether of two nodes one is in a more particular part of the same person: the sale is that one's. */
function isApart(
  path: readonly TargetEntry[],
  other: readonly TargetEntry[],
  holderOf: (way: readonly TargetEntry[]) => Holder,
): boolean {
  const fork = path.findIndex(({ id }, place) => other[place]?.id !== id);
  const [one, two] = [path[fork], other[fork]];
  if (!one || !two || holderOf(path.slice(0, fork)).seller === null) return false;
  return rankOf(one) !== rankOf(two);
}

/** Why a team or the company has no first and last month. */
export const ONLY_PEOPLE_JOIN = 'Only a person has a first month';
export const ONLY_PEOPLE_LEAVE = 'Only a person has a last month';
/** So many seller codes are named. */
const MOST_NAMED = 12;
