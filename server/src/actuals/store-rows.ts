/** Rows that were left out, or that are taken and worth a look, as they stand in their file. */
import type { RowProblem } from '@dravex/contract';
import { and, asc, eq, sql } from 'drizzle-orm';
import type { Database } from '../platform/database.ts';
import { importRow } from './tables.ts';

export function insertRows(
  db: Database,
  rows: readonly (typeof importRow.$inferInsert)[],
): Promise<unknown> {
  return rows.length === 0
    ? Promise.resolve()
    : db
        .insert(importRow)
        .values([...rows])
        .onConflictDoNothing();
}

/** Rows of a batch in the order of the file, a page at a time. */
export function rowsOf(
  db: Database,
  workspaceId: number,
  batchId: number,
  { taken, after, limit }: { taken?: boolean; after?: number; limit: number },
) {
  return db
    .select()
    .from(importRow)
    .where(
      and(
        eq(importRow.workspaceId, workspaceId),
        eq(importRow.batchId, batchId),
        taken === undefined ? undefined : eq(importRow.taken, taken),
        after === undefined ? undefined : sql`${importRow.row} > ${after}`,
      ),
    )
    .orderBy(asc(importRow.row), asc(importRow.part))
    .limit(limit);
}

export async function problemsOf(
  db: Database,
  workspaceId: number,
  batchId: number,
  limit: number,
): Promise<RowProblem[]> {
  const rows = await rowsOf(db, workspaceId, batchId, { limit });
  return rows.flatMap(({ problems }) => problems).slice(0, limit);
}

/** How many rows have each kind of problem. */
export async function problemCounts(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<Record<string, number>> {
  const { rows } = await db.execute<{ code: string; rows: number }>(sql`
    select p.code, count(distinct (r.row, r.part))::int as rows
    from import_row r, jsonb_to_recordset(r.problems) as p(code text)
    where workspace_id = ${workspaceId} and batch_id = ${batchId}
    group by 1 order by 2 desc, 1`);
  return Object.fromEntries(rows.map(({ code, rows: count }) => [code, count]));
}

/** Problems with the same value in the same field, the most frequent first. */
export async function problemGroups(
  db: Database,
  workspaceId: number,
  batchId: number,
  limit: number,
) {
  const { rows } = await db.execute<{
    code: RowProblem['code'];
    field: string;
    value: string;
    rows: number;
    row: number;
    message: string;
    taken: boolean;
  }>(sql`
    select p.code, p.field, p.value, count(*)::int as rows, min(r.row) as row,
      (array_agg(p.message order by r.row))[1] as message, r.taken
    from import_row r,
      jsonb_to_recordset(r.problems) as p(code text, field text, value text, message text)
    where workspace_id = ${workspaceId} and batch_id = ${batchId}
    group by p.code, p.field, p.value, r.taken
    order by count(*) desc, min(r.row) limit ${limit}`);
  return rows;
}

/** Takes rows out of the list that have a problem with one of the values, and gives them back. */
export async function pullRows(
  db: Database,
  workspaceId: number,
  batchId: number,
  values: readonly { field: string; from: string }[],
) {
  const wanted = JSON.stringify(values.map(({ field, from }) => ({ field, value: from })));
  const { rows } = await db.execute<{ row: number; part: number; cells: (string | number)[] }>(sql`
    delete from import_row r
    where workspace_id = ${workspaceId} and batch_id = ${batchId} and not taken
      and exists (
        select 1 from jsonb_to_recordset(r.problems) as p(field text, value text)
        join jsonb_to_recordset(${wanted}::jsonb) as w(field text, value text)
          using (field, value))
    returning row, part, cells`);
  return rows.sort((a, b) => a.row - b.row || a.part - b.part);
}

/** Marks rows as taken, or as left out. */
export async function setTaken(
  db: Database,
  workspaceId: number,
  batchId: number,
  rows: readonly number[],
  taken: boolean,
): Promise<void> {
  await db.execute(sql`
    update import_row set taken = ${taken}
    where workspace_id = ${workspaceId} and batch_id = ${batchId}
      and row = any(${sql.param([...rows])}::int[])`);
}
