import type { MemberTree } from './member-tree.ts';

/**
 * The member that stands for another one in the end: what replaces it, what replaces that, and so on;
 * itself where nothing does.
 */
export function lastSuccessors(tree: MemberTree): (member: number) => number {
  const next = new Map<number, number>();
  for (const { members } of tree.dimensions) {
    for (const { id, replaces } of members) if (replaces !== undefined) next.set(replaces, id);
  }
  return (member) => {
    const seen = new Set([member]);
    let at = member;
    for (;;) {
      const after = next.get(at);
      if (after === undefined || seen.has(after)) return at;
      seen.add(after);
      at = after;
    }
  };
}

/**
 * Why a member cannot replace another one, in words; undefined where it can.
 * @param members of one dimension, as they are
 */
export function whyNotReplaces(
  members: readonly {
    readonly id: number;
    readonly name: string;
    readonly replaces?: number | null | undefined;
  }[],
  id: number,
  replaced: number,
): string | undefined {
  const other = members.find((member) => member.id === replaced);
  if (!other) return 'it is no member of this dimension';
  if (id === replaced) return 'it cannot replace itself';
  const taken = members.find((member) => member.replaces === replaced && member.id !== id);
  if (taken) return `${taken.name} replaces ${other.name} already`;
  const before = new Map(members.map((member) => [member.id, member.replaces ?? undefined]));
  const seen = new Set<number>();
  let at: number | undefined = replaced;
  while (at !== undefined && !seen.has(at)) {
    if (at === id) return `${other.name} replaces it in turn`;
    seen.add(at);
    at = before.get(at);
  }
  return undefined;
}
