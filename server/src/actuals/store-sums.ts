/** What the lines of a batch add up to, and the monthly summary of those that count. */
import type { ImportNotes } from '@dravex/contract';
import { and, eq, sql } from 'drizzle-orm';
import { inPortions, one, toFirst, type Database } from '../platform/database.ts';
import {
  addToSums,
  dropEmptySums,
  keyOf,
  sumColumns,
  SELLER_SUMS,
  sumSellers,
  sumsOfLines,
  takeFromSums,
} from './line-sums.ts';
import { importMonth } from './tables.ts';

type SalesCounts = Pick<
  ImportNotes,
  'closed' | 'negative' | 'amounts' | 'negativeQuantities' | 'quantities'
>;

/** Sums the lines of a batch anew. */
export async function sumBatch(db: Database, workspaceId: number, batchId: number): Promise<void> {
  await db
    .delete(importMonth)
    .where(and(eq(importMonth.workspaceId, workspaceId), eq(importMonth.batchId, batchId)));
  await db.execute(sql`
    insert into import_month (${keyOf('import_month')}, ${sumColumns})
    select workspace_id, batch_id, date_trunc('month', date)::date, combination_id, ${sumsOfLines}
    from sales_line where workspace_id = ${workspaceId} and batch_id = ${batchId}
    group by 1, 2, 3, 4`);
  await sumSellers(db, workspaceId, batchId);
}

/** How many lines a batch has, by its sums. */
export async function lineCount(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<number> {
  const { rows } = await db.execute<{ lines: number }>(sql`
    select coalesce(sum(lines), 0)::int as lines from import_month
    where workspace_id = ${workspaceId} and batch_id = ${batchId}`);
  return one(rows).lines;
}

/** What is worth knowing of the lines of a batch, as `SalesCheck` counts it row by row. */
export async function countedLines(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<SalesCounts> {
  const { rows } = await db.execute<SalesCounts & Record<string, unknown>>(sql`
    select count(*) filter (where l.date < w.closed_through + interval '1 month')::int as closed,
      count(*) filter (where l.net_amount < 0)::int as negative,
      count(*) filter (where l.net_amount <> 0)::int as amounts,
      count(*) filter (where l.quantity < 0)::int as "negativeQuantities",
      count(*) filter (where l.quantity <> 0)::int as quantities
    from sales_line l join workspace w on w.id = l.workspace_id
    where l.workspace_id = ${workspaceId} and l.batch_id = ${batchId}`);
  return one(rows);
}

export async function insertSums(
  db: Database,
  rows: readonly (typeof importMonth.$inferInsert)[],
): Promise<void> {
  await inPortions(rows, (portion) => db.insert(importMonth).values(portion));
}

/** Adds the sums of a batch to the monthly summary. */
export async function addSums(
  db: Database,
  workspaceId: number,
  batchId: number,
  origin: 'books' | 'hand',
): Promise<void> {
  await db.execute(
    addToSums(
      'sales_month',
      sql`select workspace_id, month, combination_id, ${origin}, ${sumColumns}
        from import_month where workspace_id = ${workspaceId} and batch_id = ${batchId}`,
    ),
  );
}

/** Takes the sums of a batch out of the monthly summary. */
export async function takeSums(
  db: Database,
  workspaceId: number,
  batchId: number,
  origin: 'books' | 'hand',
): Promise<void> {
  await db.execute(
    takeFromSums(
      'sales_month',
      sql`import_month g`,
      sql`g.workspace_id = ${workspaceId} and g.batch_id = ${batchId}
        and m.workspace_id = g.workspace_id and m.month = g.month
        and m.combination_id = g.combination_id and m.origin = ${origin}`,
    ),
  );
  await dropEmptySums(db, workspaceId, 'sales_month');
}

/** What a batch adds to each month, or added, beside what counts now. */
export async function batchMonths(db: Database, workspaceId: number, batchId: number) {
  const { rows } = await db.execute<{
    month: string;
    lines: number;
    units: number;
    revenue: number;
    revenueNow: number;
  }>(sql`
    with own as (
      select month, sum(lines)::int as lines, sum(quantity)::float8 as units,
        sum(net_amount)::float8 as revenue
      from import_month where workspace_id = ${workspaceId} and batch_id = ${batchId}
      group by 1)
    select to_char(own.month, 'YYYY-MM') as month, lines, units, revenue,
      coalesce((select sum(net_amount) from sales_month m
        where m.workspace_id = ${workspaceId} and m.month = own.month), 0)::float8 as "revenueNow"
    from own order by 1`);
  return rows;
}

/** Forgets the rows of files that were put away more than a month ago. */
export async function dropPutAway(db: Database): Promise<void> {
  const sellers = SELLER_SUMS.map(({ table }) => table);
  for (const table of ['sales_line', 'import_row', 'import_month', ...sellers]) {
    await db.execute(sql`
      delete from ${sql.identifier(table)} s using import_batch b
      where b.workspace_id = s.workspace_id and b.id = s.batch_id and b.state = 'putAway'
        and b.created_at < now() - interval '30 days'`);
  }
}

/** The usual price of a unit in minor units by members, from the last twelve months before one. */
export async function usualPrices(
  db: Database,
  workspaceId: number,
  through: string,
): Promise<ReadonlyMap<string, number>> {
  const { rows } = await db.execute<{ members: string; price: number }>(sql`
    select array_to_string(c.members, ',') as members,
      (sum(m.net_amount) / sum(m.quantity))::float8 as price
    from sales_month m join combination c
      on c.workspace_id = m.workspace_id and c.id = m.combination_id
    where m.workspace_id = ${workspaceId} and m.month <= ${toFirst(through)}::date
      and m.month > ${toFirst(through)}::date - interval '12 months'
    group by c.members having sum(m.quantity) > 0 and sum(m.net_amount) > 0`);
  return new Map(rows.map(({ members, price }) => [members, price]));
}
