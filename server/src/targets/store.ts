import { monthFrom, type SellerSales } from '@dravex/core';
import { and, asc, eq, inArray, isNotNull, max, notInArray, sql } from 'drizzle-orm';
import { one, type Database } from '../platform/database.ts';
import { subscriberCounts } from '../facts/store.ts';
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

/** How many nodes lie directly below some nodes and are none of them. */
export async function partsBeyond(
  db: Database,
  workspaceId: number,
  ids: readonly number[],
): Promise<number> {
  if (ids.length === 0) return 0;
  return db.$count(
    targetNode,
    and(
      eq(targetNode.workspaceId, workspaceId),
      inArray(targetNode.parentId, [...ids]),
      notInArray(targetNode.id, [...ids]),
    ),
  );
}

/** Brings nodes back under the ids they had. */
export async function restoreNodes(db: Database, rows: readonly TargetRow[]): Promise<void> {
  if (rows.length === 0) return;
  await db
    .insert(targetNode)
    .overridingSystemValue()
    .values([...rows]);
}

/** Deletes nodes, with those below them where they are named, too. */
export async function deleteNodes(
  db: Database,
  workspaceId: number,
  ids: readonly number[],
): Promise<void> {
  if (ids.length === 0) return;
  await db
    .delete(targetNode)
    .where(and(eq(targetNode.workspaceId, workspaceId), inArray(targetNode.id, [...ids])));
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

/** Changes many nodes' parts at once. */
export async function updateParts(
  db: Database,
  workspaceId: number,
  parts: readonly { id: number; percent: string | null; amount: number | null }[],
): Promise<void> {
  const columns = {
    id: parts.map(({ id }) => id),
    percent: parts.map(({ percent }) => percent),
    amount: parts.map(({ amount }) => amount),
  };
  await db.execute(sql`
    update target_node n set percent = p.percent, amount = p.amount
    from unnest(${sql.param(columns.id)}::int[], ${sql.param(columns.percent)}::numeric[],
      ${sql.param(columns.amount)}::bigint[]) as p(id, percent, amount)
    where n.workspace_id = ${workspaceId} and n.id = p.id`);
}

/** Sums that count, of one of the tables of sums. */
const counted = (table: 'seller_month' | 'account_month') => sql`${sql.identifier(table)} s
  join import_batch b
  on b.workspace_id = s.workspace_id and b.id = s.batch_id and b.state = 'applied'`;

/** The codes of sellers that applied sales lines bear. */
export async function sellerCodes(db: Database, workspaceId: number): Promise<Set<string>> {
  const { rows } = await db.execute<{ seller: string }>(sql`
    select distinct s.seller from ${counted('seller_month')} where s.workspace_id = ${workspaceId}`);
  return new Set(rows.map(({ seller }) => seller));
}

/** What the sellers are called whom targets name. */
export async function sellerNames(db: Database, workspaceId: number): Promise<Map<string, string>> {
  const rows = await db
    .select({ seller: targetNode.seller, name: targetNode.name })
    .from(targetNode)
    .where(and(eq(targetNode.workspaceId, workspaceId), isNotNull(targetNode.seller)))
    .orderBy(asc(targetNode.id));
  return new Map(rows.flatMap(({ seller, name }) => (seller === null ? [] : [[seller, name]])));
}

/** The codes of customers in applied sales lines of sellers: of one seller, or of all. */
export async function accountCodes(
  db: Database,
  workspaceId: number,
  seller?: string,
): Promise<Set<string>> {
  const { rows } = await db.execute<{ customer: string }>(sql`
    select distinct s.customer from ${counted('account_month')}
    where s.workspace_id = ${workspaceId}
      ${seller === undefined ? sql`` : sql`and s.seller = ${seller}`} order by 1`);
  return new Set(rows.map(({ customer }) => customer));
}

/**
 * What each seller sold by combination and month; of all, or in the books only. What went to one of
 * the accounts that are named stands apart from the rest.
 */
export async function sellerSales(
  db: Database,
  workspaceId: number,
  origin: 'all' | 'books',
  accounts: readonly string[],
): Promise<SellerSales[]> {
  type Row = Omit<SellerSales, 'month'> & { month: string } & Record<string, unknown>;
  const read = async (
    table: 'seller_month' | 'account_month',
    account: ReturnType<typeof sql>,
    which: ReturnType<typeof sql>,
  ): Promise<SellerSales[]> => {
    const { rows } = await db.execute<Row>(sql`
      select s.seller, ${account} as account, s.combination_id as combination,
        to_char(s.month, 'YYYY-MM') as month, sum(s.net_amount)::float8 as revenue,
        sum(s.quantity)::float8 as units, sum(s.cost)::float8 as cost
      from ${counted(table)}
      where s.workspace_id = ${workspaceId}
        ${origin === 'books' ? sql`and b.source <> 'hand'` : sql``} ${which}
      group by 1, 2, 3, 4`);
    return rows.map((row) => ({ ...row, month: monthFrom(row.month) }));
  };
  const all = await read('seller_month', sql`''`, sql``);
  if (accounts.length === 0) return all;
  const named = sql`and s.customer = any(${sql.param([...accounts])}::text[])`;
  const apart = await read('account_month', sql`s.customer`, named);
  const back = apart.map((sale) => ({
    ...sale,
    account: '',
    revenue: -sale.revenue,
    units: -sale.units,
    cost: -sale.cost,
  }));
  return [...all, ...apart, ...back];
}

/** Who started, by the members that their records name, and the month. */
export async function startedByMembers(
  db: Database,
  workspaceId: number,
): Promise<{ members: number[]; month: string; count: number }[]> {
  const rows = await subscriberCounts(db, workspaceId);
  return rows.map(({ members, start, count }) => ({ members, month: start, count }));
}
