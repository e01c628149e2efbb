/** Rules that tell the members of a dimension apart by those of another one. */
import { MemberTree, type Dimension } from '@dravex/core';
import { and, eq } from 'drizzle-orm';
import type { Database } from '../platform/database.ts';
import { dimensionRule } from './tables.ts';

/** Says the member of a dimension from the leaves of the others; undefined where no rule does. */
export type Telling = (leaves: Iterable<number>) => number | undefined;

/** What stands for all members that no rule names. */
export const ALL_OTHERS = 0;

export interface DimensionRuleRow {
  readonly dimensionId: number;
  /** A member of another dimension, of any depth; `ALL_OTHERS` for the rest. */
  readonly sourceMemberId: number;
  readonly memberId: number;
}

export function rulesOf(db: Database, workspaceId: number): Promise<DimensionRuleRow[]> {
  return db
    .select({
      dimensionId: dimensionRule.dimensionId,
      sourceMemberId: dimensionRule.sourceMemberId,
      memberId: dimensionRule.memberId,
    })
    .from(dimensionRule)
    .where(eq(dimensionRule.workspaceId, workspaceId));
}

/** Keeps the rules of a dimension in place of those it had. */
export async function setRules(
  db: Database,
  workspaceId: number,
  dimensionId: number,
  rows: readonly Omit<DimensionRuleRow, 'dimensionId'>[],
): Promise<void> {
  await db
    .delete(dimensionRule)
    .where(
      and(eq(dimensionRule.workspaceId, workspaceId), eq(dimensionRule.dimensionId, dimensionId)),
    );
  if (rows.length === 0) return;
  await db.insert(dimensionRule).values(rows.map((row) => ({ workspaceId, dimensionId, ...row })));
}

/** How the rules of a dimension say its member: the nearest member above a leaf that one names. */
export function tellingBy(
  tree: MemberTree,
  rules: readonly Omit<DimensionRuleRow, 'dimensionId'>[],
): Telling {
  const byMember = new Map(rules.map(({ sourceMemberId, memberId }) => [sourceMemberId, memberId]));
  return (leaves) => {
    for (const leaf of leaves) {
      for (const member of tree.path(leaf).toReversed()) {
        const told = byMember.get(member);
        if (told !== undefined) return told;
      }
    }
    return byMember.get(ALL_OTHERS);
  };
}

/** What says the members of dimensions that have rules, by their codes. */
export async function tellings(
  db: Database,
  workspaceId: number,
  dimensions: readonly Dimension[],
): Promise<ReadonlyMap<string, Telling>> {
  const rules = await rulesOf(db, workspaceId);
  if (rules.length === 0) return new Map();
  const tree = new MemberTree(dimensions);
  return new Map(
    dimensions.flatMap(({ code, members }) => {
      const ids = new Set(members.map(({ id }) => id));
      const own = rules.filter(({ memberId }) => ids.has(memberId));
      return own.length > 0 ? [[code, tellingBy(tree, own)] as const] : [];
    }),
  );
}
