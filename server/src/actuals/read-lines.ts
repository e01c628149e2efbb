/** Reading what counts: sales lines, and their monthly sums. */
import type { SalesLines, SalesLinesAddress } from '@dravex/contract';
import type { ActualColumns, HandColumns } from '@dravex/core';
import { and, asc, eq, sql, type SQL } from 'drizzle-orm';
import { fromFirst, one, toFirst, type Database } from '../platform/database.ts';
import { COUNTED } from './store.ts';
import {
  countedSums,
  isOfSeller,
  keyOf,
  linesOfSellers,
  SELLER_SUMS,
  sumsDiffer,
  sumsOfLines,
} from './line-sums.ts';
import { salesMonth } from './tables.ts';

/** Whose sales lines: of combinations (all, when none are named), of a seller, of a customer. */
export interface Whose {
  readonly combinations?: readonly number[] | undefined;
  readonly seller?: string | undefined;
  readonly customer?: string | undefined;
  /** What of it counts elsewhere. */
  readonly less?: readonly Whose[] | undefined;
}

const oneOf = ({ combinations, seller, customer, less = [] }: Whose): SQL => sql`(true
  ${combinations === undefined ? sql`` : sql`and l.combination_id = any(${sql.param([...combinations])}::int[])`}
  ${seller === undefined ? sql`` : sql`and ${isOfSeller(seller)}`}
  ${customer === undefined ? sql`` : sql`and l.customer = ${customer}`}
  ${less.length === 0 ? sql`` : sql`and not ${ofAny(less)}`})`;

/** Lines `l` that are of any of them; of none where the list is empty. */
const ofAny = (whose: readonly Whose[]): SQL =>
  whose.length === 0 ? sql`false` : sql`(${sql.join(whose.map(oneOf), sql` or `)})`;

/** The sellers of whom lines are wanted; undefined where somebody's are wanted whoever sold them. */
function sellersOf(whose: readonly Whose[]): string[] | undefined {
  const sellers = whose.flatMap(({ seller }) => seller ?? []);
  return sellers.length === whose.length ? [...new Set(sellers)] : undefined;
}

/** Sales lines of some and a stretch of months, largest first; of those that sellers share their parts. */
export async function salesLines(
  db: Database,
  workspaceId: number,
  which: Omit<SalesLinesAddress, 'scope' | 'seller'> & { readonly whose: readonly Whose[] },
): Promise<SalesLines> {
  const { whose, from, to, fromDay, toDay, document, batch, origin, skip, limit } = which;
  const held = sql`l.workspace_id = ${workspaceId}
    and l.date >= ${toFirst(from)}::date and l.date < ${toFirst(to)}::date + interval '1 month'
    and ${ofAny(whose)}
    ${fromDay === undefined ? sql`` : sql`and l.date >= ${fromDay}::date`}
    ${toDay === undefined ? sql`` : sql`and l.date <= ${toDay}::date`}
    ${document === undefined ? sql`` : sql`and l.document = ${document}`}
    ${batch === undefined ? sql`` : sql`and l.batch_id = ${batch}`}
    ${origin === undefined ? sql`` : sql`and l.origin = ${origin}`}`;
  const counted = linesOfSellers(COUNTED, sellersOf(whose));
  const [sums, lines] = await Promise.all([
    db.execute<Omit<SalesLines, 'lines'>>(sql`
      select count(*)::int as count, coalesce(sum(quantity), 0)::float8 as units,
        coalesce(sum(net_amount), 0)::float8 as revenue, coalesce(sum(cost), 0)::float8 as cost
      from ${counted} l where ${held}`),
    db.execute<SalesLines['lines'][number]>(sql`
      select l.date::text as date, c.members, l.quantity::float8 as quantity,
        l.net_amount::float8 as "netAmount", l.cost::float8 as cost, l.document,
        l.line_number as "lineNumber", l.customer, l.seller, l.origin, l.note,
        l.batch_id as batch, l.row, b.file_name as "fileName"
      from ${counted} l
        join combination c on c.workspace_id = l.workspace_id and c.id = l.combination_id
        join import_batch b on b.workspace_id = l.workspace_id and b.id = l.batch_id
      where ${held}
      order by abs(l.net_amount) desc, l.document, l.line_number limit ${limit} offset ${skip}`),
  ]);
  return { ...one(sums.rows), lines: lines.rows };
}

/** What each sales document is worth, of some and in months, in minor units, the largest first. */
export async function documentValues(
  db: Database,
  workspaceId: number,
  { from, to, whose }: { from: string; to: string; whose: readonly Whose[] },
): Promise<number[]> {
  const { rows } = await db.execute<{ value: number }>(sql`
    select sum(l.net_amount)::float8 as value from ${COUNTED} l
    where l.workspace_id = ${workspaceId}
      and l.date >= ${toFirst(from)}::date and l.date < ${toFirst(to)}::date + interval '1 month'
      and ${ofAny(whose)}
    group by l.document having sum(l.net_amount) > 0 order by 1 desc`);
  return rows.map(({ value }) => value);
}

/** Sales by combination and month from the summary, all origins together, and what of it is by hand. */
export async function actualColumns(db: Database, workspaceId: number): Promise<ActualColumns> {
  const rows = await db
    .select({
      combination: salesMonth.combinationId,
      month: salesMonth.month,
      units: sql<number>`sum(${salesMonth.quantity})::float8`,
      revenue: sql<number>`sum(${salesMonth.netAmount})::float8`,
      cost: sql<number>`sum(${salesMonth.cost})::float8`,
      returned: sql<number>`sum(${salesMonth.returned})::float8`,
    })
    .from(salesMonth)
    .where(eq(salesMonth.workspaceId, workspaceId))
    .groupBy(salesMonth.combinationId, salesMonth.month)
    .orderBy(asc(salesMonth.combinationId), asc(salesMonth.month));
  const hand = await handColumns(db, workspaceId, rows);
  return {
    ...(hand ? { byHand: hand } : {}),
    combination: rows.map((row) => row.combination),
    month: rows.map((row) => fromFirst(row.month)),
    units: rows.map((row) => row.units),
    revenue: rows.map((row) => row.revenue),
    cost: rows.map((row) => row.cost),
    returned: rows.map((row) => row.returned),
  };
}

/** What of some rows of sales was entered by hand; undefined where nothing was. */
async function handColumns(
  db: Database,
  workspaceId: number,
  rows: readonly { readonly combination: number; readonly month: string }[],
): Promise<HandColumns | undefined> {
  const byHand = await db
    .select({
      combination: salesMonth.combinationId,
      month: salesMonth.month,
      units: sql<number>`${salesMonth.quantity}::float8`,
      revenue: salesMonth.netAmount,
      cost: salesMonth.cost,
      only: sql<boolean>`not exists (select from sales_month b
        where b.workspace_id = sales_month.workspace_id and b.month = sales_month.month
          and b.combination_id = sales_month.combination_id and b.origin = 'books')`,
    })
    .from(salesMonth)
    .where(and(eq(salesMonth.workspaceId, workspaceId), eq(salesMonth.origin, 'hand')))
    .orderBy(asc(salesMonth.combinationId), asc(salesMonth.month));
  if (byHand.length === 0) return undefined;
  const keyOfRow = (row: { combination: number; month: string }): string =>
    `${row.combination} ${row.month}`;
  const place = new Map(rows.map((row, index) => [keyOfRow(row), index]));
  return {
    row: byHand.map((row) => place.get(keyOfRow(row)) ?? -1),
    units: byHand.map(({ units }) => units),
    revenue: byHand.map(({ revenue }) => revenue),
    cost: byHand.map(({ cost }) => cost),
    only: byHand.map(({ only }) => only),
  };
}

/** Cells in which the summary and a full recount of the sales lines differ; none, always. */
export async function summaryDifferences(db: Database, workspaceId: number): Promise<number> {
  const { rows } = await db.execute<{ differences: number }>(sql`
    with counted as (
      select date_trunc('month', date)::date as month, combination_id, origin, ${sumsOfLines}
      from ${COUNTED} l where workspace_id = ${workspaceId} group by 1, 2, 3),
    kept as (select * from sales_month where workspace_id = ${workspaceId})
    select count(*)::int as differences
    from counted c full join kept k using (month, combination_id, origin)
    where ${sumsDiffer('c', 'k')}`);
  return one(rows).differences + (await sellerDifferences(db, workspaceId));
}

/** The same of what sellers sold, batch by batch, all and by customer. */
async function sellerDifferences(db: Database, workspaceId: number): Promise<number> {
  let differences = 0;
  for (const sums of SELLER_SUMS) {
    const { rows } = await db.execute<{ differences: number }>(sql`
      with counted as (${countedSums(sums, workspaceId)}),
      kept as (select * from ${sql.identifier(sums.table)} where workspace_id = ${workspaceId})
      select count(*)::int as differences
      from counted c full join kept k using (${keyOf(sums.table)})
      where ${sumsDiffer('c', 'k')}`);
    differences += one(rows).differences;
  }
  return differences;
}
