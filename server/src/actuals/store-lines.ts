/** Sales lines of batches, and what they are checked against. */
import { sql } from 'drizzle-orm';
import { one, type Database } from '../platform/database.ts';

/** Lines that count: those of applied batches. */
export const COUNTED = sql`(
  select l.* from sales_line l join import_batch b
    on b.workspace_id = l.workspace_id and b.id = l.batch_id and b.state = 'applied')`;

/** A line that was taken out of a batch, and where the one stands that it repeats. */
export interface DroppedLine extends Record<string, unknown> {
  row: number;
  date: string;
  members: number[];
  quantity: string;
  net_amount: string;
  cost: string;
  document: string;
  line_number: number;
  customer: string | null;
  seller: string | null;
  first: number;
}

/** Takes the lines of a batch out that stand in an earlier row of it. */
export async function dropRepeated(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<DroppedLine[]> {
  const { rows } = await db.execute<DroppedLine>(sql`
    with repeated as materialized (
      select row, document, line_number, first from (
        select row, document, line_number,
          min(row) over (partition by document, line_number) as first
        from sales_line where workspace_id = ${workspaceId} and batch_id = ${batchId}) rows
      where row > first)
    delete from sales_line l using repeated r, combination c
    where l.workspace_id = ${workspaceId} and l.batch_id = ${batchId}
      and l.document = r.document and l.line_number = r.line_number and l.row = r.row
      and c.workspace_id = l.workspace_id and c.id = l.combination_id
    returning l.row, l.date::text as date, c.members, l.quantity, l.net_amount, l.cost,
      l.document, l.line_number, l.customer, l.seller, r.first`);
  return rows;
}

/** Takes the lines of a batch out whose document lines count already. */
export async function dropAlreadyThere(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<DroppedLine[]> {
  const { rows } = await db.execute<DroppedLine>(sql`
    with there as materialized (
      select l.row, l.document, l.line_number, min(o.batch_id) as first
      from sales_line l join ${COUNTED} o
        on o.workspace_id = l.workspace_id and o.document = l.document
          and o.line_number = l.line_number
      where l.workspace_id = ${workspaceId} and l.batch_id = ${batchId}
        and o.batch_id <> ${batchId}
      group by 1, 2, 3)
    delete from sales_line l using there t, combination c
    where l.workspace_id = ${workspaceId} and l.batch_id = ${batchId}
      and l.document = t.document and l.line_number = t.line_number and l.row = t.row
      and c.workspace_id = l.workspace_id and c.id = l.combination_id
    returning l.row, l.date::text as date, c.members, l.quantity, l.net_amount, l.cost,
      l.document, l.line_number, l.customer, l.seller, t.first`);
  return rows;
}

/** Whether any lines count that are not of this batch. */
export async function hasOtherLines(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<boolean> {
  const { rows } = await db.execute<{ others: boolean }>(sql`
    select exists (
      select 1 from import_batch where workspace_id = ${workspaceId} and id <> ${batchId}
        and state = 'applied' and kind = 'sales') as others`);
  return one(rows).others;
}

/** How many lines of a batch bear a document line that counts in another one. */
export async function clashes(db: Database, workspaceId: number, batchId: number): Promise<number> {
  const { rows } = await db.execute<{ lines: number }>(sql`
    select count(*)::int as lines from sales_line l join ${COUNTED} o
      on o.workspace_id = l.workspace_id and o.document = l.document
        and o.line_number = l.line_number
    where l.workspace_id = ${workspaceId} and l.batch_id = ${batchId}
      and o.batch_id <> ${batchId}`);
  return one(rows).lines;
}

/** Takes lines of a batch out by the rows of its file. */
export async function deleteLines(
  db: Database,
  workspaceId: number,
  batchId: number,
  rows: readonly number[],
): Promise<void> {
  await db.execute(sql`
    delete from sales_line where workspace_id = ${workspaceId} and batch_id = ${batchId}
      and row = any(${sql.param([...rows])}::int[])`);
}

const TURNED = { quantity: 'quantity', 'net amount': 'net_amount', cost: 'cost' } as const;

/** Turns the sign of a field in every line of a batch that does not count yet. */
export async function turnSign(
  db: Database,
  workspaceId: number,
  batchId: number,
  field: keyof typeof TURNED,
): Promise<void> {
  const column = sql.identifier(TURNED[field]);
  await db.execute(sql`
    update sales_line set ${column} = -${column}
    where workspace_id = ${workspaceId} and batch_id = ${batchId}`);
}

/** Which member a customer belongs to, from which day on, by the dimension's code: the newest first. */
export type AssignedMembers = ReadonlyMap<
  string,
  ReadonlyMap<string, readonly { readonly from: string; readonly member: number }[]>
>;

export async function assignedMembers(db: Database, workspaceId: number): Promise<AssignedMembers> {
  const { rows } = await db.execute<{
    code: string;
    customer: string;
    from: string;
    member: number;
  }>(sql`
    select d.code, a.customer, a."from"::text as "from", a.member_id as member
    from assignment a join dimension d on d.workspace_id = a.workspace_id and d.id = a.dimension_id
    where a.workspace_id = ${workspaceId} order by a."from" desc`);
  const assignmentsByCustomer = new Map<string, Map<string, { from: string; member: number }[]>>();
  for (const { code, customer, from, member } of rows) {
    const ofDimension =
      assignmentsByCustomer.get(code) ?? new Map<string, { from: string; member: number }[]>();
    assignmentsByCustomer.set(code, ofDimension);
    ofDimension.set(customer, [...(ofDimension.get(customer) ?? []), { from, member }]);
  }
  return assignmentsByCustomer;
}

/** From and to which day members are valid; those without bounds are left out. */
export async function validities(
  db: Database,
  workspaceId: number,
): Promise<ReadonlyMap<number, { readonly from: string | null; readonly to: string | null }>> {
  const { rows } = await db.execute<{ id: number; from: string | null; to: string | null }>(sql`
    select id, valid_from::text as "from", valid_to::text as "to" from member
    where workspace_id = ${workspaceId} and (valid_from is not null or valid_to is not null)`);
  return new Map(rows.map(({ id, from, to }) => [id, { from, to }]));
}

/** The day of the last sales line that counts; null without any. */
export async function latestLine(db: Database, workspaceId: number): Promise<string | null> {
  const { rows } = await db.execute<{ day: string | null }>(sql`
    select to_char(max(l.date), 'YYYY-MM-DD') as day
    from sales_line l join import_batch b on b.workspace_id = l.workspace_id and b.id = l.batch_id
    where l.workspace_id = ${workspaceId} and b.state = 'applied'`);
  return one(rows).day;
}

/**
 * The day up to which a batch says what was sold, whether it counts or not; null without lines.
 * Months across are whole months, and so are several months of which each has its first day only.
 */
export async function latestOfBatch(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<string | null> {
  const { rows } = await db.execute<{ day: string | null }>(sql`
    select to_char(
      case when bool_or(b.reading->>'shape' = 'wide')
          or (bool_and(extract(day from l.date) = 1) and count(distinct l.date) > 1)
        then date_trunc('month', max(l.date)) + interval '1 month - 1 day'
        else max(l.date) end, 'YYYY-MM-DD') as day
    from sales_line l
      join import_batch b on b.workspace_id = l.workspace_id and b.id = l.batch_id
    where l.workspace_id = ${workspaceId} and l.batch_id = ${batchId}`);
  return one(rows).day;
}
