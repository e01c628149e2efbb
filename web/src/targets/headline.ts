import type { TargetNode } from '@dravex/contract';

/**
 * What stands out in a target tree, in a sentence that is true of every level: what is left at the
 * top, where more is assigned than there is, and what is left below.
 * @param words an amount in minor units, in words
 */
export function targetHeadline(
  nodes: readonly TargetNode[],
  fiscalYear: number,
  words: (amount: number) => string,
): string {
  const [top, ...below] = nodes;
  if (!top) return `FY ${fiscalYear} has no target yet`;
  const over = nodes.filter(({ overAssigned }) => (overAssigned ?? 0) > 0);
  const left = below.filter(({ unassigned }) => (unassigned ?? 0) > 0);
  const sum = (list: readonly TargetNode[], of: 'overAssigned' | 'unassigned'): number =>
    list.reduce((all, node) => all + (node[of] ?? 0), 0);
  const where = (list: readonly TargetNode[]): string =>
    list.length === 1 ? `below ${list[0]?.name ?? ''}` : `below ${list.length} teams`;
  const parts = [
    ...((top.unassigned ?? 0) > 0
      ? [`${words(top.unassigned ?? 0)} of ${words(top.amount)} unassigned`]
      : []),
    ...(over.length > 0
      ? [`${words(sum(over, 'overAssigned'))} over-assigned ${where(over)}`]
      : []),
    ...(left.length > 0 ? [`${words(sum(left, 'unassigned'))} unassigned ${where(left)}`] : []),
  ];
  if (parts.length === 0) {
    // What does not add up is set row by row; nothing of it is assigned.
    if (top.unassigned === null && below.length > 0) {
      const more =
        below.length === 1 ? 'one row below has its' : `${below.length} rows below have their`;
      return `The target is ${words(top.amount)}; ${more} own`;
    }
    return top.unassigned === null
      ? `The target is ${words(top.amount)}, not divided yet`
      : `The target of ${words(top.amount)} is fully assigned`;
  }
  return parts.join('; ');
}
