import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { RowProblem, SalesLines, SalesLinesAddress } from '@dravex/contract';
import type { ActualColumns } from '@dravex/core';
import { and, asc, desc, eq, sql } from 'drizzle-orm';
import type { PoolClient } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { person } from '../people/tables.ts';
import { fromFirst, one, toFirst, type Database } from '../platform/database.ts';
import type { CheckedLine } from './check-row.ts';
import { importBatch, importProblem, salesMonth } from './tables.ts';

export type BatchRow = typeof importBatch.$inferSelect & { createdByName: string };

/** A field of PostgreSQL's COPY text format. */
function copyField(value: string | null): string {
  if (value === null) return '\\N';
  if (!/[\\\t\n\r]/.test(value)) return value;
  return value
    .replaceAll('\\', '\\\\')
    .replaceAll('\t', '\\t')
    .replaceAll('\n', '\\n')
    .replaceAll('\r', '\\r');
}

/** Writes good lines into the staging table as they come. */
export async function stageLines(
  client: PoolClient,
  workspaceId: number,
  batchId: number,
  batches: AsyncIterable<readonly CheckedLine[]>,
): Promise<void> {
  async function* text(): AsyncGenerator<string> {
    for await (const lines of batches) {
      let rows = '';
      for (const line of lines) {
        rows += `${workspaceId}\t${batchId}\t${line.date}\t${line.quantity}\t${line.netAmount}\t${line.cost}\t`;
        rows += `${copyField(line.document)}\t${line.lineNumber}\t${copyField(line.customer)}\t`;
        rows += `${copyField(line.seller)}\t${line.row}\t{${line.members.join()}}\n`;
      }
      yield rows;
    }
  }
  const into = client.query(
    copyFrom(
      `copy staged_line (workspace_id, batch_id, date, quantity, net_amount, cost, document,
       line_number, customer, seller, row, members) from stdin`,
    ),
  );
  await pipeline(Readable.from(text()), into);
}

/** Rows that wait: of previewed files in staging, of files that were taken back set aside. */
const WAITING = sql`(
  select workspace_id, batch_id, date, quantity, net_amount from staged_line
  union all
  select workspace_id, batch_id, date, quantity, net_amount from set_aside_line)`;

/** Takes rows out of staging whose document line stands in an earlier row of the file, and says which. */
export async function dropRepeated(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<RowProblem[]> {
  const { rows } = await db.execute<{
    row: number;
    document: string;
    line_number: number;
    first: number;
  }>(sql`
    with repeated as materialized (
      select row, first from (
        select row, min(row) over (partition by document, line_number) as first
        from staged_line where workspace_id = ${workspaceId} and batch_id = ${batchId}) rows
      where row > first)
    delete from staged_line s using repeated r
    where s.workspace_id = ${workspaceId} and s.batch_id = ${batchId} and s.row = r.row
    returning s.row, s.document, s.line_number, r.first`);
  return rows.map(({ row, document, line_number, first }) => ({
    row,
    field: 'document',
    value: document,
    code: 'repeated-line',
    message: `Line ${line_number} of ${document} stands in row ${first} already`,
  }));
}

/** Takes rows out of staging whose document line is kept already, and says which. */
export async function dropAlreadyThere(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<RowProblem[]> {
  const { rows } = await db.execute<{ row: number; document: string; line_number: number }>(sql`
    delete from staged_line s using sales_line l
    where s.workspace_id = ${workspaceId} and s.batch_id = ${batchId}
      and l.workspace_id = s.workspace_id and l.document = s.document
      and l.line_number = s.line_number
    returning s.row, s.document, s.line_number`);
  return rows.map(({ row, document, line_number }) => ({
    row,
    field: 'document',
    value: document,
    code: 'already-there',
    message: `Line ${line_number} of ${document} was taken in before`,
  }));
}

export async function insertBatch(
  db: Database,
  row: typeof importBatch.$inferInsert,
): Promise<number> {
  return one(await db.insert(importBatch).values(row).returning({ id: importBatch.id })).id;
}

export async function setBatch(
  db: Database,
  workspaceId: number,
  id: number,
  change: Partial<typeof importBatch.$inferInsert>,
): Promise<void> {
  await db
    .update(importBatch)
    .set(change)
    .where(and(eq(importBatch.workspaceId, workspaceId), eq(importBatch.id, id)));
}

export async function insertProblems(
  db: Database,
  workspaceId: number,
  batchId: number,
  problems: readonly RowProblem[],
): Promise<void> {
  for (let start = 0; start < problems.length; start += 2000) {
    const rows = problems.slice(start, start + 2000);
    await db.insert(importProblem).values(rows.map((p) => ({ workspaceId, batchId, ...p })));
  }
}

const batchColumns = {
  workspaceId: importBatch.workspaceId,
  id: importBatch.id,
  fileName: importBatch.fileName,
  state: importBatch.state,
  rows: importBatch.rows,
  good: importBatch.good,
  faulty: importBatch.faulty,
  createdBy: importBatch.createdBy,
  createdAt: importBatch.createdAt,
  appliedAt: importBatch.appliedAt,
  createdByName: person.name,
};

export function batches(db: Database, workspaceId: number): Promise<BatchRow[]> {
  return db
    .select(batchColumns)
    .from(importBatch)
    .innerJoin(person, eq(person.id, importBatch.createdBy))
    .where(eq(importBatch.workspaceId, workspaceId))
    .orderBy(desc(importBatch.id));
}

export async function batchById(
  db: Database,
  workspaceId: number,
  id: number,
): Promise<BatchRow | undefined> {
  const [row] = await db
    .select(batchColumns)
    .from(importBatch)
    .innerJoin(person, eq(person.id, importBatch.createdBy))
    .where(and(eq(importBatch.workspaceId, workspaceId), eq(importBatch.id, id)));
  return row;
}

/** The state of a batch, locked until the transaction ends. */
export async function lockBatch(db: Database, workspaceId: number, id: number) {
  const [row] = await db
    .select({ state: importBatch.state, good: importBatch.good })
    .from(importBatch)
    .where(and(eq(importBatch.workspaceId, workspaceId), eq(importBatch.id, id)))
    .for('update');
  return row;
}

export async function problemsOf(
  db: Database,
  workspaceId: number,
  batchId: number,
  limit: number,
): Promise<RowProblem[]> {
  const rows = await db
    .select({
      row: importProblem.row,
      field: importProblem.field,
      value: importProblem.value,
      code: importProblem.code,
      message: importProblem.message,
    })
    .from(importProblem)
    .where(and(eq(importProblem.workspaceId, workspaceId), eq(importProblem.batchId, batchId)))
    .orderBy(asc(importProblem.row), asc(importProblem.field))
    .limit(limit);
  return rows as RowProblem[];
}

export async function problemCounts(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<Record<string, number>> {
  const { rows } = await db.execute<{ code: string; rows: number }>(sql`
    select code, count(distinct row)::int as rows from import_problem
    where workspace_id = ${workspaceId} and batch_id = ${batchId}
    group by code order by 2 desc, 1`);
  return Object.fromEntries(rows.map(({ code, rows: count }) => [code, count]));
}

/** What the rows of a batch add to each month, waiting or applied, beside what is there. */
export async function batchMonths(
  db: Database,
  workspaceId: number,
  batchId: number,
  lines: 'waiting' | 'applied',
) {
  const { rows } = await db.execute<{
    month: string;
    lines: number;
    units: number;
    revenue: number;
    revenueNow: number;
  }>(sql`
    with staged as (
      select date_trunc('month', date)::date as month, count(*)::int as lines,
        sum(quantity)::float8 as units, sum(net_amount)::float8 as revenue
      from ${lines === 'applied' ? sql`sales_line` : WAITING} l
      where workspace_id = ${workspaceId} and batch_id = ${batchId}
      group by 1)
    select to_char(staged.month, 'YYYY-MM') as month, lines, units, revenue,
      coalesce((select sum(net_amount) from sales_month m
        where m.workspace_id = ${workspaceId} and m.month = staged.month), 0)::float8 as "revenueNow"
    from staged order by 1`);
  return rows;
}

/** How many rows of a batch wait to be applied. */
export async function stagedCount(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<number> {
  const { rows } = await db.execute<{ lines: number }>(sql`
    select count(*)::int as lines from ${WAITING} l
    where workspace_id = ${workspaceId} and batch_id = ${batchId}`);
  return one(rows).lines;
}

/**
 * Turns the waiting rows of a batch into sales lines and adds them to the monthly summary. Both in
 * the caller's transaction, so neither is ever without the other.
 */
export async function applyStaged(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<void> {
  await db.execute(sql`
    with again as (
      delete from set_aside_line
      where workspace_id = ${workspaceId} and batch_id = ${batchId} returning *)
    insert into staged_line (workspace_id, batch_id, date, quantity, net_amount, cost, document,
      line_number, customer, seller, row, members)
    select workspace_id, batch_id, date, quantity, net_amount, cost, document,
      line_number, customer, seller, row, members from again`);
  await db.execute(sql`
    insert into combination (workspace_id, members)
    select distinct workspace_id, members from staged_line
    where workspace_id = ${workspaceId} and batch_id = ${batchId}
    on conflict do nothing`);
  await db.execute(sql`
    insert into sales_line (workspace_id, batch_id, date, combination_id, quantity, net_amount,
      cost, document, line_number, customer, seller, origin)
    select s.workspace_id, s.batch_id, s.date, c.id, s.quantity, s.net_amount,
      s.cost, s.document, s.line_number, s.customer, s.seller, 'books'
    from staged_line s join combination c
      on c.workspace_id = s.workspace_id and c.members = s.members
    where s.workspace_id = ${workspaceId} and s.batch_id = ${batchId}`);
  await db.execute(sql`
    insert into sales_month (workspace_id, month, combination_id, origin, quantity, net_amount,
      cost, lines)
    select s.workspace_id, date_trunc('month', s.date)::date, c.id, 'books', sum(s.quantity),
      sum(s.net_amount), sum(s.cost), count(*)
    from staged_line s join combination c
      on c.workspace_id = s.workspace_id and c.members = s.members
    where s.workspace_id = ${workspaceId} and s.batch_id = ${batchId}
    group by 1, 2, 3
    on conflict (workspace_id, month, combination_id, origin) do update set
      quantity = sales_month.quantity + excluded.quantity,
      net_amount = sales_month.net_amount + excluded.net_amount,
      cost = sales_month.cost + excluded.cost,
      lines = sales_month.lines + excluded.lines`);
  await dropStaged(db, workspaceId, batchId);
}

async function dropStaged(db: Database, workspaceId: number, batchId: number): Promise<void> {
  await db.execute(sql`
    delete from staged_line where workspace_id = ${workspaceId} and batch_id = ${batchId}`);
}

/**
 * Takes the sales lines of a batch out again and subtracts them from the monthly summary, both in
 * the caller's transaction. They wait to be applied again, in a table that survives a crash.
 */
export async function takeBackApplied(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<void> {
  await db.execute(sql`
    with sums as (
      select date_trunc('month', date)::date as month, combination_id, origin,
        sum(quantity) as quantity, sum(net_amount) as net_amount, sum(cost) as cost,
        count(*) as lines
      from sales_line where workspace_id = ${workspaceId} and batch_id = ${batchId}
      group by 1, 2, 3)
    update sales_month m set
      quantity = m.quantity - s.quantity, net_amount = m.net_amount - s.net_amount,
      cost = m.cost - s.cost, lines = m.lines - s.lines
    from sums s
    where m.workspace_id = ${workspaceId} and m.month = s.month
      and m.combination_id = s.combination_id and m.origin = s.origin`);
  await db.execute(sql`
    delete from sales_month where workspace_id = ${workspaceId} and lines = 0`);
  await db.execute(sql`
    with gone as (
      delete from sales_line where workspace_id = ${workspaceId} and batch_id = ${batchId}
      returning *)
    insert into set_aside_line (workspace_id, batch_id, date, quantity, net_amount, cost, document,
      line_number, customer, seller, row, members)
    select g.workspace_id, g.batch_id, g.date, g.quantity, g.net_amount, g.cost, g.document,
      g.line_number, g.customer, g.seller, row_number() over (order by g.id), c.members
    from gone g join combination c on c.workspace_id = g.workspace_id and c.id = g.combination_id`);
}

/** Forgets the waiting rows of files that were put away more than a month ago. */
export async function dropPutAway(db: Database): Promise<void> {
  for (const table of ['staged_line', 'set_aside_line']) {
    await db.execute(sql`
      delete from ${sql.identifier(table)} s using import_batch b
      where b.workspace_id = s.workspace_id and b.id = s.batch_id and b.state = 'putAway'
        and b.created_at < now() - interval '30 days'`);
  }
}

/** Sales lines of combinations (all, when none are named) and a stretch of months, largest first. */
export async function salesLines(
  db: Database,
  workspaceId: number,
  which: Omit<SalesLinesAddress, 'scope'> & { combinations: readonly number[] | undefined },
): Promise<SalesLines> {
  const { combinations, from, to, seller, skip, limit } = which;
  const named = sql.param([...(combinations ?? [])]);
  const held = sql`l.workspace_id = ${workspaceId}
    and l.date >= ${toFirst(from)}::date and l.date < ${toFirst(to)}::date + interval '1 month'
    ${combinations === undefined ? sql`` : sql`and l.combination_id = any(${named}::int[])`}
    ${seller === undefined ? sql`` : sql`and l.seller = ${seller}`}`;
  const [sums, lines] = await Promise.all([
    db.execute<Omit<SalesLines, 'lines'>>(sql`
      select count(*)::int as count, coalesce(sum(quantity), 0)::float8 as units,
        coalesce(sum(net_amount), 0)::float8 as revenue, coalesce(sum(cost), 0)::float8 as cost
      from sales_line l where ${held}`),
    db.execute<SalesLines['lines'][number]>(sql`
      select l.id::float8 as id, l.date::text as date, c.members, l.quantity::float8 as quantity,
        l.net_amount::float8 as "netAmount", l.cost::float8 as cost, l.document,
        l.line_number as "lineNumber", l.customer, l.seller, l.batch_id as batch,
        b.file_name as "fileName"
      from sales_line l
        join combination c on c.workspace_id = l.workspace_id and c.id = l.combination_id
        join import_batch b on b.workspace_id = l.workspace_id and b.id = l.batch_id
      where ${held}
      order by abs(l.net_amount) desc, l.id limit ${limit} offset ${skip}`),
  ]);
  return { ...one(sums.rows), lines: lines.rows };
}

/** Sales by combination and month from the summary, all origins together. */
export async function actualColumns(db: Database, workspaceId: number): Promise<ActualColumns> {
  const rows = await db
    .select({
      combination: salesMonth.combinationId,
      month: salesMonth.month,
      units: sql<number>`sum(${salesMonth.quantity})::float8`,
      revenue: sql<number>`sum(${salesMonth.netAmount})::float8`,
      cost: sql<number>`sum(${salesMonth.cost})::float8`,
    })
    .from(salesMonth)
    .where(eq(salesMonth.workspaceId, workspaceId))
    .groupBy(salesMonth.combinationId, salesMonth.month)
    .orderBy(asc(salesMonth.combinationId), asc(salesMonth.month));
  return {
    combination: rows.map((row) => row.combination),
    month: rows.map((row) => fromFirst(row.month)),
    units: rows.map((row) => row.units),
    revenue: rows.map((row) => row.revenue),
    cost: rows.map((row) => row.cost),
  };
}

/** Cells in which the summary and a full recount of the sales lines differ; none, always. */
export async function summaryDifferences(db: Database, workspaceId: number): Promise<number> {
  const { rows } = await db.execute<{ differences: number }>(sql`
    with counted as (
      select date_trunc('month', date)::date as month, combination_id, origin,
        sum(quantity) as quantity, sum(net_amount) as net_amount, sum(cost) as cost,
        count(*) as lines
      from sales_line where workspace_id = ${workspaceId} group by 1, 2, 3),
    kept as (select * from sales_month where workspace_id = ${workspaceId})
    select count(*)::int as differences
    from counted c full join kept k using (month, combination_id, origin)
    where c.quantity is distinct from k.quantity or c.net_amount is distinct from k.net_amount
      or c.cost is distinct from k.cost or c.lines is distinct from k.lines`);
  return one(rows).differences;
}
