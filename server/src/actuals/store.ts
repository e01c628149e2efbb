import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { RowProblem } from '@dravex/contract';
import type { ActualColumns } from '@dravex/core';
import { and, asc, desc, eq, sql } from 'drizzle-orm';
import type { PoolClient } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { person } from '../people/tables.ts';
import { fromFirst, one, type Database } from '../platform/database.ts';
import type { CheckedLine } from './check-row.ts';
import { importBatch, importProblem, salesMonth } from './tables.ts';

export type BatchRow = typeof importBatch.$inferSelect & { createdByName: string };

/** A field of PostgreSQL's COPY text format. */
function copyField(value: string | number | null): string {
  if (value === null) return '\\N';
  return String(value)
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
  lines: AsyncIterable<CheckedLine>,
): Promise<void> {
  async function* text(): AsyncGenerator<string> {
    for await (const line of lines) {
      const fields = [
        workspaceId,
        batchId,
        line.date,
        line.quantity,
        line.netAmount,
        line.cost,
        line.document,
        line.lineNumber,
        line.customer,
        line.seller,
        line.row,
        `{${line.members.join()}}`,
      ];
      yield `${fields.map(copyField).join('\t')}\n`;
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

/** What waiting rows would add to each month, beside what is there. */
export async function stagedMonths(db: Database, workspaceId: number, batchId: number) {
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
      from staged_line where workspace_id = ${workspaceId} and batch_id = ${batchId}
      group by 1)
    select to_char(staged.month, 'YYYY-MM') as month, lines, units, revenue,
      coalesce((select sum(net_amount) from sales_month m
        where m.workspace_id = ${workspaceId} and m.month = staged.month), 0)::float8 as "revenueNow"
    from staged order by 1`);
  return rows;
}

/** How many rows of a batch wait in staging. */
export async function stagedCount(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<number> {
  const { rows } = await db.execute<{ lines: number }>(sql`
    select count(*)::int as lines from staged_line
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

export async function dropStaged(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<void> {
  await db.execute(sql`
    delete from staged_line where workspace_id = ${workspaceId} and batch_id = ${batchId}`);
}

export async function deleteBatch(db: Database, workspaceId: number, id: number): Promise<void> {
  await dropStaged(db, workspaceId, id);
  await db
    .delete(importBatch)
    .where(and(eq(importBatch.workspaceId, workspaceId), eq(importBatch.id, id)));
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
