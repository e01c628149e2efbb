/** What a tree becomes as soon as parts of it are typed, before anybody has read it anew. */
import { ratio } from '../measures/nature.ts';
import { phase } from './attainment.ts';
import type { TargetPart } from './share-out.ts';
import { meaningOf, type TargetMeasure } from './target-measure.ts';
import { targetParts, type TargetLine } from './target-tree.ts';

/** What of a node a change of targets can change, and what it follows from. */
export interface Retargetable extends Pick<
  TargetLine,
  | 'amount'
  | 'share'
  | 'assignable'
  | 'unassigned'
  | 'overAssigned'
  | 'cushionUsed'
  | 'percentsBelow'
  | 'actual'
  | 'known'
  | 'attained'
  | 'toDate'
  | 'pace'
> {
  readonly id: number;
  readonly parent: number | null;
  readonly cushion: number;
  readonly part: TargetPart;
  readonly months: readonly number[] | null;
}

/**
 * Gives nodes other parts, and works out again whatever follows from them down the tree. Where
 * everybody stands stays as it is. What each open month has to bring is left open until it is read.
 * @param nodes one tree, those above before those below
 * @param parts new parts by node
 * @param closedMonths of the fiscal year
 * @returns the same objects where nothing changes
 */
export function retarget<T extends Retargetable>(
  nodes: readonly T[],
  parts: ReadonlyMap<number, TargetPart>,
  { measure, closedMonths }: { readonly measure: TargetMeasure; readonly closedMonths: number },
): T[] {
  const { adds } = meaningOf(measure);
  const next = nodes.map((node) => {
    const part = parts.get(node.id);
    return part ? { ...node, part } : node;
  });
  const below = new Map<number, T[]>();
  for (const node of next) {
    if (node.parent === null) continue;
    const siblings = below.get(node.parent);
    if (siblings) siblings.push(node);
    else below.set(node.parent, [node]);
  }
  /** What a node becomes, and of what above it. */
  const amounts = new Map<number, { readonly own: number; readonly above: number | null }>();
  return next.map((node) => {
    const top = node.part.kind === 'amount' ? node.part.amount : node.amount;
    const { own, above } = amounts.get(node.id) ?? { own: top, above: null };
    const children = below.get(node.id) ?? [];
    const { amounts: shared, ...figures } = targetParts(node, own, children, adds);
    children.forEach(({ id }, place) => {
      amounts.set(id, { own: shared[place] ?? 0, above: own });
    });
    const share = above === null || !adds ? null : ratio(own, above);
    const same =
      node.amount === own &&
      node.share === share &&
      (Object.keys(figures) as (keyof typeof figures)[]).every((key) => node[key] === figures[key]);
    if (same) return node;
    // The months that were are the weights by which it is phased.
    const months = node.months && node.amount > 0 ? phase(own, node.months) : node.months;
    const due = months?.slice(0, closedMonths).reduce((sum, month) => sum + month, 0);
    return {
      ...node,
      ...figures,
      ...{ amount: own, share, months },
      attained: node.known ? ratio(node.actual, own) : null,
      toDate: node.known && due !== undefined ? ratio(node.actual, due) : null,
      pace: null,
    };
  });
}
