/** What was brought in: batches with their rows, and how they are moved between waiting and counting. */
import type { ImportJob, Mapping, NewMapping, Remembered, RowProblem } from '@dravex/contract';
import { and, asc, desc, eq, sql, type SQL } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import { one, toFirst, type Database } from '../platform/database.ts';
import {
  importBatch,
  importJob,
  importMapping,
  importMonth,
  importRow,
  rememberedRepair,
} from './tables.ts';

export type BatchRow = typeof importBatch.$inferSelect & {
  createdByName: string;
  job: (ImportJob & { changedAt: Date }) | null;
};

/** Lines that count: those of applied batches. */
export const COUNTED = sql`(
  select l.* from sales_line l join import_batch b
    on b.workspace_id = l.workspace_id and b.id = l.batch_id and b.state = 'applied')`;

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

function selectBatches(db: Database, where: SQL | undefined): Promise<BatchRow[]> {
  const { workspaceId, batchId, stop: _, backend: __, requestedBy: ___, ...job } = jobColumns;
  return db
    .select({ batch: importBatch, createdByName: person.name, job })
    .from(importBatch)
    .innerJoin(person, eq(person.id, importBatch.createdBy))
    .leftJoin(importJob, and(eq(workspaceId, importBatch.workspaceId), eq(batchId, importBatch.id)))
    .where(where)
    .orderBy(desc(importBatch.id))
    .then((rows) => rows.map(({ batch, ...rest }) => ({ ...batch, ...rest })));
}

const jobColumns = {
  workspaceId: importJob.workspaceId,
  batchId: importJob.batchId,
  state: importJob.state,
  step: importJob.step,
  steps: importJob.steps,
  message: importJob.message,
  stop: importJob.stop,
  backend: importJob.backend,
  requestedBy: importJob.requestedBy,
  changedAt: importJob.changedAt,
};

export function batches(db: Database, workspaceId: number): Promise<BatchRow[]> {
  return selectBatches(db, eq(importBatch.workspaceId, workspaceId));
}

export async function batchById(
  db: Database,
  workspaceId: number,
  id: number,
): Promise<BatchRow | undefined> {
  const own = and(eq(importBatch.workspaceId, workspaceId), eq(importBatch.id, id));
  const [row] = await selectBatches(db, own);
  return row;
}

/** The state of a batch, locked until the transaction ends. */
export async function lockBatch(db: Database, workspaceId: number, id: number) {
  const [row] = await db
    .select({
      kind: importBatch.kind,
      source: importBatch.source,
      state: importBatch.state,
      good: importBatch.good,
    })
    .from(importBatch)
    .where(and(eq(importBatch.workspaceId, workspaceId), eq(importBatch.id, id)))
    .for('update');
  return row;
}

/** The newest batch of the same bytes, other than the one asked for, that was not put away. */
export async function batchLike(
  db: Database,
  workspaceId: number,
  { id, fingerprint }: Pick<BatchRow, 'id' | 'fingerprint'>,
) {
  if (fingerprint === null) return undefined;
  const [row] = await db
    .select()
    .from(importBatch)
    .where(
      and(
        eq(importBatch.workspaceId, workspaceId),
        eq(importBatch.fingerprint, fingerprint),
        sql`${importBatch.state} <> 'putAway' and ${importBatch.id} < ${id}`,
      ),
    )
    .orderBy(desc(importBatch.id))
    .limit(1);
  return row;
}

// --- rows that were left out, or are worth a look --------------------------------------------

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

// --- lines ----------------------------------------------------------------------------------

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

// --- sums -----------------------------------------------------------------------------------

/** Sums the lines of a batch anew. */
export async function sumBatch(db: Database, workspaceId: number, batchId: number): Promise<void> {
  await db
    .delete(importMonth)
    .where(and(eq(importMonth.workspaceId, workspaceId), eq(importMonth.batchId, batchId)));
  await db.execute(sql`
    insert into import_month (workspace_id, batch_id, month, combination_id, quantity, net_amount,
      cost, lines)
    select workspace_id, batch_id, date_trunc('month', date)::date, combination_id,
      sum(quantity), sum(net_amount), sum(cost), count(*)
    from sales_line where workspace_id = ${workspaceId} and batch_id = ${batchId}
    group by 1, 2, 3, 4`);
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

export async function insertSums(
  db: Database,
  rows: readonly (typeof importMonth.$inferInsert)[],
): Promise<void> {
  for (let start = 0; start < rows.length; start += 5000) {
    await db.insert(importMonth).values(rows.slice(start, start + 5000));
  }
}

/** Adds the sums of a batch to the monthly summary. */
export async function addSums(
  db: Database,
  workspaceId: number,
  batchId: number,
  origin: 'books' | 'hand',
): Promise<void> {
  await db.execute(sql`
    insert into sales_month (workspace_id, month, combination_id, origin, quantity, net_amount,
      cost, lines)
    select workspace_id, month, combination_id, ${origin}, quantity, net_amount, cost, lines
    from import_month where workspace_id = ${workspaceId} and batch_id = ${batchId}
    on conflict (workspace_id, month, combination_id, origin) do update set
      quantity = sales_month.quantity + excluded.quantity,
      net_amount = sales_month.net_amount + excluded.net_amount,
      cost = sales_month.cost + excluded.cost,
      lines = sales_month.lines + excluded.lines`);
}

/** Takes the sums of a batch out of the monthly summary. */
export async function takeSums(
  db: Database,
  workspaceId: number,
  batchId: number,
  origin: 'books' | 'hand',
): Promise<void> {
  await db.execute(sql`
    update sales_month m set
      quantity = m.quantity - s.quantity, net_amount = m.net_amount - s.net_amount,
      cost = m.cost - s.cost, lines = m.lines - s.lines
    from import_month s
    where s.workspace_id = ${workspaceId} and s.batch_id = ${batchId}
      and m.workspace_id = s.workspace_id and m.month = s.month
      and m.combination_id = s.combination_id and m.origin = ${origin}`);
  await db.execute(sql`
    delete from sales_month where workspace_id = ${workspaceId} and lines = 0`);
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
  for (const table of ['sales_line', 'import_row', 'import_month']) {
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

// --- jobs -----------------------------------------------------------------------------------

export async function setJob(db: Database, row: typeof importJob.$inferInsert): Promise<void> {
  const { workspaceId: _, batchId: __, ...rest } = row;
  const set = { ...rest, changedAt: new Date() };
  await db
    .insert(importJob)
    .values(row)
    .onConflictDoUpdate({ target: [importJob.workspaceId, importJob.batchId], set });
}

export async function changeJob(
  db: Database,
  workspaceId: number,
  batchId: number,
  change: Partial<typeof importJob.$inferInsert>,
): Promise<void> {
  await db
    .update(importJob)
    .set({ ...change, changedAt: new Date() })
    .where(and(eq(importJob.workspaceId, workspaceId), eq(importJob.batchId, batchId)));
}

export async function jobOf(db: Database, workspaceId: number, batchId: number) {
  const [row] = await db
    .select(jobColumns)
    .from(importJob)
    .where(and(eq(importJob.workspaceId, workspaceId), eq(importJob.batchId, batchId)));
  return row;
}

// --- mappings and remembered repairs ---------------------------------------------------------

export async function mappings(db: Database, workspaceId: number): Promise<Mapping[]> {
  const rows = await db
    .select({
      id: importMapping.id,
      name: importMapping.name,
      kind: importMapping.kind,
      header: importMapping.header,
      reading: importMapping.reading,
    })
    .from(importMapping)
    .where(eq(importMapping.workspaceId, workspaceId))
    .orderBy(asc(importMapping.name));
  return rows.map((row) => ({ ...row, header: [...row.header] }));
}

export async function keepMapping(
  db: Database,
  workspaceId: number,
  mapping: NewMapping,
): Promise<number> {
  const { kind, header, reading } = mapping;
  const rows = await db
    .insert(importMapping)
    .values({ workspaceId, ...mapping })
    .onConflictDoUpdate({
      target: [importMapping.workspaceId, importMapping.name],
      set: { kind, header, reading },
    })
    .returning({ id: importMapping.id });
  return one(rows).id;
}

export async function dropMapping(db: Database, workspaceId: number, id: number): Promise<void> {
  await db
    .delete(importMapping)
    .where(and(eq(importMapping.workspaceId, workspaceId), eq(importMapping.id, id)));
}

export function remembered(db: Database, workspaceId: number): Promise<Remembered[]> {
  return db
    .select({
      kind: rememberedRepair.kind,
      field: rememberedRepair.field,
      from: rememberedRepair.from,
      to: rememberedRepair.to,
    })
    .from(rememberedRepair)
    .where(eq(rememberedRepair.workspaceId, workspaceId))
    .orderBy(asc(rememberedRepair.field), asc(rememberedRepair.from));
}

export async function remember(db: Database, workspaceId: number, repair: Remembered) {
  await db
    .insert(rememberedRepair)
    .values({ workspaceId, ...repair })
    .onConflictDoUpdate({
      target: [
        rememberedRepair.workspaceId,
        rememberedRepair.kind,
        rememberedRepair.field,
        rememberedRepair.from,
      ],
      set: { to: repair.to },
    });
}

export async function forget(
  db: Database,
  workspaceId: number,
  { kind, field, from }: Omit<Remembered, 'to'>,
): Promise<void> {
  await db
    .delete(rememberedRepair)
    .where(
      and(
        eq(rememberedRepair.workspaceId, workspaceId),
        eq(rememberedRepair.kind, kind),
        eq(rememberedRepair.field, field),
        eq(rememberedRepair.from, from),
      ),
    );
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

// --- what lines are checked against ------------------------------------------------------------

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
  const found = new Map<string, Map<string, { from: string; member: number }[]>>();
  for (const { code, customer, from, member } of rows) {
    const ofDimension = found.get(code) ?? new Map<string, { from: string; member: number }[]>();
    found.set(code, ofDimension);
    ofDimension.set(customer, [...(ofDimension.get(customer) ?? []), { from, member }]);
  }
  return found;
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
