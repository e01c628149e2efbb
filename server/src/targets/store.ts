import { monthFrom, type SellerSales } from '@dravex/core';
import { and, asc, eq, inArray, max, sql } from 'drizzle-orm';
import { one, toFirst, type Database } from '../platform/database.ts';
import { targetNode } from './tables.ts';

export type TargetRow = typeof targetNode.$inferSelect;

/** A year's nodes in the order in which siblings are shown. */
export function nodesOf(
  db: Database,
  workspaceId: number,
  fiscalYear: number,
): Promise<TargetRow[]> {
  return db
    .select()
    .from(targetNode)
    .where(and(eq(targetNode.workspaceId, workspaceId), eq(targetNode.fiscalYear, fiscalYear)))
    .orderBy(asc(targetNode.position), asc(targetNode.id));
}

/** The nodes of all years, those above before those below. */
export function allNodes(db: Database, workspaceId: number): Promise<TargetRow[]> {
  return db
    .select()
    .from(targetNode)
    .where(eq(targetNode.workspaceId, workspaceId))
    .orderBy(asc(targetNode.fiscalYear), asc(targetNode.position), asc(targetNode.id));
}

export async function nodesById(
  db: Database,
  workspaceId: number,
  ids: readonly number[],
): Promise<TargetRow[]> {
  if (ids.length === 0) return [];
  return db
    .select()
    .from(targetNode)
    .where(and(eq(targetNode.workspaceId, workspaceId), inArray(targetNode.id, [...ids])));
}

/** How many parts lie directly below a node. */
export async function childrenOf(
  db: Database,
  workspaceId: number,
  parentId: number,
): Promise<number> {
  return db.$count(
    targetNode,
    and(eq(targetNode.workspaceId, workspaceId), eq(targetNode.parentId, parentId)),
  );
}

/** Brings a node back under the id it had. */
export async function restoreNode(db: Database, row: TargetRow): Promise<void> {
  await db.insert(targetNode).overridingSystemValue().values(row);
}

export async function insertNode(
  db: Database,
  row: Omit<typeof targetNode.$inferInsert, 'position'>,
): Promise<number> {
  const last = await db
    .select({ position: max(targetNode.position) })
    .from(targetNode)
    .where(
      and(eq(targetNode.workspaceId, row.workspaceId), eq(targetNode.fiscalYear, row.fiscalYear)),
    );
  const position = (one(last).position ?? 0) + 1;
  return one(
    await db
      .insert(targetNode)
      .values({ ...row, position })
      .returning({ id: targetNode.id }),
  ).id;
}

export async function updateNode(
  db: Database,
  workspaceId: number,
  id: number,
  change: Partial<typeof targetNode.$inferInsert>,
): Promise<void> {
  await db
    .update(targetNode)
    .set(change)
    .where(and(eq(targetNode.workspaceId, workspaceId), eq(targetNode.id, id)));
}

export async function deleteNode(db: Database, workspaceId: number, id: number): Promise<void> {
  await db
    .delete(targetNode)
    .where(and(eq(targetNode.workspaceId, workspaceId), eq(targetNode.id, id)));
}

/** Sums of sellers that count. */
const COUNTED_SELLERS = sql`seller_month s join import_batch b
  on b.workspace_id = s.workspace_id and b.id = s.batch_id and b.state = 'applied'`;

/** The codes of sellers that applied sales lines bear. */
export async function sellerCodes(db: Database, workspaceId: number): Promise<Set<string>> {
  const { rows } = await db.execute<{ seller: string }>(sql`
    select distinct s.seller from ${COUNTED_SELLERS} where s.workspace_id = ${workspaceId}`);
  return new Set(rows.map(({ seller }) => seller));
}

/** What each seller sold by combination and month, from a month on; of all, or in the books only. */
export async function sellerSales(
  db: Database,
  workspaceId: number,
  fromMonth: string,
  origin: 'all' | 'books',
): Promise<SellerSales[]> {
  const { rows } = await db.execute<{
    seller: string;
    combination: number;
    month: string;
    revenue: number;
  }>(sql`
    select s.seller, s.combination_id as combination, to_char(s.month, 'YYYY-MM') as month,
      sum(s.net_amount)::float8 as revenue
    from ${COUNTED_SELLERS}
    where s.workspace_id = ${workspaceId} and s.month >= ${toFirst(fromMonth)}::date
      ${origin === 'books' ? sql`and b.source <> 'hand'` : sql``}
    group by 1, 2, 3`);
  return rows.map((row) => ({ ...row, month: monthFrom(row.month) }));
}
