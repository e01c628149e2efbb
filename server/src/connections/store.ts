import type { HeldDocument } from '@dravex/contract';
import { and, asc, desc, eq, inArray, isNotNull, sql } from 'drizzle-orm';
import {
  addToSums,
  dropEmptySums,
  sumColumns,
  sumsOfLines,
  takeFromSums,
} from '../actuals/line-sums.ts';
import { one, type Database } from '../platform/database.ts';
import type { FeedDocument, FeedName } from './feed.ts';
import { connection, connectionRun, feedDocument, feedName } from './tables.ts';

export type ConnectionRow = typeof connection.$inferSelect;
export type RunRow = typeof connectionRun.$inferSelect;

export function connections(db: Database, workspaceId: number): Promise<ConnectionRow[]> {
  return db
    .select()
    .from(connection)
    .where(eq(connection.workspaceId, workspaceId))
    .orderBy(asc(connection.id));
}

export async function connectionById(
  db: Database,
  workspaceId: number,
  id: number,
): Promise<ConnectionRow | undefined> {
  const [row] = await db
    .select()
    .from(connection)
    .where(and(eq(connection.workspaceId, workspaceId), eq(connection.id, id)));
  return row;
}

export async function insertConnection(
  db: Database,
  row: typeof connection.$inferInsert,
): Promise<number> {
  return one(await db.insert(connection).values(row).returning({ id: connection.id })).id;
}

export async function setConnection(
  db: Database,
  workspaceId: number,
  id: number,
  change: Partial<typeof connection.$inferInsert>,
): Promise<void> {
  await db
    .update(connection)
    .set(change)
    .where(and(eq(connection.workspaceId, workspaceId), eq(connection.id, id)));
}

export async function deleteConnection(
  db: Database,
  workspaceId: number,
  id: number,
): Promise<void> {
  await db
    .delete(connection)
    .where(and(eq(connection.workspaceId, workspaceId), eq(connection.id, id)));
}

/** Seals keys that were kept as they are. @returns how many they were */
export async function sealOldKeys(
  db: Database,
  isSealed: (key: string) => boolean,
  seal: (key: string, workspaceId: number) => string,
): Promise<number> {
  const rows = await db
    .select({ workspaceId: connection.workspaceId, id: connection.id, key: connection.key })
    .from(connection);
  const open = rows.filter(({ key }) => key !== '' && !isSealed(key));
  for (const { workspaceId, id, key } of open) {
    await setConnection(db, workspaceId, id, { key: seal(key, workspaceId) });
  }
  return open.length;
}

/** Claims the connections whose time has come; each is claimed by one server process only. */
export async function claimDue(db: Database) {
  const { rows } = await db.execute<{ workspace_id: number; id: number; created_by: number }>(sql`
    update connection set next_run_at = null
    where next_run_at <= now() returning workspace_id, id, created_by`);
  return rows;
}

export async function insertRun(
  db: Database,
  workspaceId: number,
  connectionId: number,
): Promise<number> {
  const rows = await db
    .insert(connectionRun)
    .values({ workspaceId, connectionId, state: 'running' })
    .returning({ id: connectionRun.id });
  return one(rows).id;
}

export async function setRun(
  db: Database,
  workspaceId: number,
  id: number,
  change: Partial<typeof connectionRun.$inferInsert>,
): Promise<void> {
  await db
    .update(connectionRun)
    .set(change)
    .where(and(eq(connectionRun.workspaceId, workspaceId), eq(connectionRun.id, id)));
}

export function runs(
  db: Database,
  workspaceId: number,
  connectionId: number,
  limit: number,
): Promise<RunRow[]> {
  return db
    .select()
    .from(connectionRun)
    .where(
      and(eq(connectionRun.workspaceId, workspaceId), eq(connectionRun.connectionId, connectionId)),
    )
    .orderBy(desc(connectionRun.id))
    .limit(limit);
}

const isOpen = inArray(connectionRun.state, ['running', 'stopping']);

/** Runs that say they go on. */
export function openRuns(db: Database, workspaceId: number): Promise<RunRow[]> {
  return db
    .select()
    .from(connectionRun)
    .where(and(eq(connectionRun.workspaceId, workspaceId), isOpen));
}

/** Asks what runs of a connection to stop. @returns whether something ran */
export async function stopRuns(
  db: Database,
  workspaceId: number,
  connectionId: number,
): Promise<boolean> {
  const { rowCount } = await db
    .update(connectionRun)
    .set({ state: 'stopping' })
    .where(
      and(
        eq(connectionRun.workspaceId, workspaceId),
        eq(connectionRun.connectionId, connectionId),
        isOpen,
      ),
    );
  return (rowCount ?? 0) > 0;
}

/** Whether a run was asked to stop, or is gone with its connection. */
export async function isEnding(db: Database, workspaceId: number, id: number): Promise<boolean> {
  const [run] = await db
    .select({ state: connectionRun.state })
    .from(connectionRun)
    .where(and(eq(connectionRun.workspaceId, workspaceId), eq(connectionRun.id, id)));
  return !run || run.state === 'stopping';
}

/** What is known of documents, by their numbers. */
export async function knownDocuments(
  db: Database,
  workspaceId: number,
  connectionId: number,
  numbers: readonly string[],
) {
  const rows = await db
    .select({ number: feedDocument.number, revision: feedDocument.revision })
    .from(feedDocument)
    .where(
      and(
        eq(feedDocument.workspaceId, workspaceId),
        eq(feedDocument.connectionId, connectionId),
        sql`${feedDocument.number} = any(${sql.param([...numbers])}::text[])`,
      ),
    );
  return new Map(rows.map(({ number, revision }) => [number, revision]));
}

const ofConnection = (workspaceId: number, connectionId: number) =>
  and(eq(feedDocument.workspaceId, workspaceId), eq(feedDocument.connectionId, connectionId));

export async function waitingDocuments(
  db: Database,
  workspaceId: number,
  connectionId: number,
): Promise<FeedDocument[]> {
  const rows = await db
    .select({ waiting: feedDocument.waiting })
    .from(feedDocument)
    .where(and(ofConnection(workspaceId, connectionId), isNotNull(feedDocument.waiting)));
  return rows.flatMap(({ waiting }) => (waiting ? [waiting] : []));
}

export async function heldDocuments(
  db: Database,
  workspaceId: number,
  connectionId: number,
  limit: number,
): Promise<HeldDocument[]> {
  const rows = await db
    .select({
      number: feedDocument.number,
      waiting: feedDocument.waiting,
      reason: feedDocument.reason,
      dimension: feedDocument.dimension,
      value: feedDocument.value,
      name: sql<string>`coalesce((select max(n.name) from ${feedName} n
        where n.workspace_id = ${workspaceId} and n.connection_id = ${connectionId}
          and n.code = ${feedDocument.value}), '')`,
    })
    .from(feedDocument)
    .where(and(ofConnection(workspaceId, connectionId), isNotNull(feedDocument.waiting)))
    .orderBy(asc(feedDocument.number))
    .limit(limit);
  return rows.map(({ number, waiting, reason, dimension, value, name }) => ({
    name,
    number,
    date: waiting?.date ?? '',
    reason,
    dimension,
    value,
  }));
}

/** Keeps what a service says of its items or customers; what it says later holds. */
export async function keepNames(
  db: Database,
  workspaceId: number,
  connectionId: number,
  kind: 'item' | 'customer',
  names: readonly FeedName[],
): Promise<void> {
  const newest = new Map(names.map(({ sequence: _, ...name }) => [name.code, name]));
  if (newest.size === 0) return;
  await db
    .insert(feedName)
    .values([...newest.values()].map((name) => ({ workspaceId, connectionId, kind, ...name })))
    .onConflictDoUpdate({
      target: [feedName.workspaceId, feedName.connectionId, feedName.kind, feedName.code],
      set: {
        name: sql`excluded.name`,
        group: sql`excluded."group"`,
        since: sql`excluded.since`,
      },
    });
}

/**
 * Assigns customers to the members that their groups name, from the day that the service says;
 * what was assigned by hand for the same day stays.
 * @returns how many assignments are new
 */
export async function assignByGroup(
  db: Database,
  workspaceId: number,
  connectionId: number,
  dimensionCode: string,
): Promise<number> {
  const { rowCount } = await db.execute(sql`
    insert into assignment (workspace_id, dimension_id, customer, "from", member_id)
    select n.workspace_id, d.id, n.code, n.since::date, m.id
    from ${feedName} n
      join dimension d on d.workspace_id = n.workspace_id and d.code = ${dimensionCode}
      join member m on m.workspace_id = d.workspace_id and m.dimension_id = d.id
        and m.code = n."group"
    where n.workspace_id = ${workspaceId} and n.connection_id = ${connectionId}
      and n.kind = 'customer' and not exists (
        select 1 from member b where b.workspace_id = m.workspace_id and b.parent_id = m.id)
    on conflict do nothing`);
  return rowCount ?? 0;
}

/** How many items and customers each connection has told of. */
export async function nameCounts(db: Database, workspaceId: number) {
  const rows = await db
    .select({
      id: feedName.connectionId,
      items: sql<number>`count(*) filter (where ${feedName.kind} = 'item')::int`,
      customers: sql<number>`count(*) filter (where ${feedName.kind} = 'customer')::int`,
    })
    .from(feedName)
    .where(eq(feedName.workspaceId, workspaceId))
    .groupBy(feedName.connectionId);
  return new Map(rows.map((row) => [row.id, row]));
}

export async function heldCounts(
  db: Database,
  workspaceId: number,
): Promise<ReadonlyMap<number, number>> {
  const rows = await db
    .select({ id: feedDocument.connectionId, count: sql<number>`count(*)::int` })
    .from(feedDocument)
    .where(and(eq(feedDocument.workspaceId, workspaceId), isNotNull(feedDocument.waiting)))
    .groupBy(feedDocument.connectionId);
  return new Map(rows.map(({ id, count }) => [id, count]));
}

export async function keepDocuments(
  db: Database,
  rows: readonly (typeof feedDocument.$inferInsert)[],
): Promise<void> {
  if (rows.length === 0) return;
  await db
    .insert(feedDocument)
    .values([...rows])
    .onConflictDoUpdate({
      target: [feedDocument.workspaceId, feedDocument.connectionId, feedDocument.number],
      set: {
        revision: sql`excluded.revision`,
        waiting: sql`excluded.waiting`,
        reason: sql`excluded.reason`,
        dimension: sql`excluded.dimension`,
        value: sql`excluded.value`,
      },
    });
}

/** Takes the lines of documents out, wherever they were brought, and out of every sum they are in. */
export async function dropDocumentLines(
  db: Database,
  workspaceId: number,
  documents: readonly string[],
): Promise<void> {
  if (documents.length === 0) return;
  await db.execute(sql`
    with gone as (
      delete from sales_line l using import_batch b
      where l.workspace_id = ${workspaceId} and b.workspace_id = l.workspace_id
        and b.id = l.batch_id and b.source = 'connection'
        and l.document = any(${sql.param([...documents])}::text[])
      returning l.batch_id, b.state, date_trunc('month', l.date)::date as month,
        l.combination_id, l.quantity, l.net_amount, l.cost),
    by_batch as (
      select batch_id, month, combination_id, ${sumsOfLines} from gone group by 1, 2, 3),
    counted as (
      select month, combination_id, ${sumsOfLines} from gone where state = 'applied' group by 1, 2),
    batches as (
      update import_batch b set good = b.good - g.lines, rows = b.rows - g.lines
      from (select batch_id, sum(lines)::int as lines from by_batch group by 1) g
      where b.workspace_id = ${workspaceId} and b.id = g.batch_id),
    months as (${takeFromSums(
      'import_month',
      sql`by_batch g`,
      sql`m.workspace_id = ${workspaceId} and m.batch_id = g.batch_id and m.month = g.month
        and m.combination_id = g.combination_id`,
    )})
    ${takeFromSums(
      'sales_month',
      sql`counted g`,
      sql`m.workspace_id = ${workspaceId} and m.month = g.month
        and m.combination_id = g.combination_id and m.origin = 'books'`,
    )}`);
  await dropEmptySums(db, workspaceId, 'import_month');
  await dropEmptySums(db, workspaceId, 'sales_month');
}

/** Adds lines to a batch that counts, and to every sum. */
export async function addLines(
  db: Database,
  workspaceId: number,
  batchId: number,
  lines: readonly {
    readonly row: number;
    readonly date: string;
    readonly combinationId: number;
    readonly quantity: number;
    readonly netAmount: number;
    readonly cost: number;
    readonly document: string;
    readonly lineNumber: number;
    readonly customer: string | null;
  }[],
): Promise<void> {
  if (lines.length === 0) return;
  await db.execute(sql`
    with given as (
      select "row", date, "combinationId" as combination_id, quantity, "netAmount" as net_amount,
        cost, document, "lineNumber" as line_number, customer
      from jsonb_to_recordset(${JSON.stringify(lines)}::jsonb) as g("row" integer,
        date date, "combinationId" integer, quantity numeric, "netAmount" bigint, cost bigint,
        document text, "lineNumber" integer, customer text)),
    kept as (
      insert into sales_line (workspace_id, batch_id, row, date, combination_id, quantity,
        net_amount, cost, document, line_number, customer, seller, origin)
      select ${workspaceId}, ${batchId}, "row", date, combination_id, quantity, net_amount, cost,
        document, line_number, customer, null, 'books' from given),
    sums as (
      select date_trunc('month', date)::date as month, combination_id, ${sumsOfLines}
      from given group by 1, 2),
    months as (${addToSums(
      'import_month',
      sql`select ${workspaceId}, ${batchId}, month, combination_id, ${sumColumns} from sums`,
    )}),
    batches as (
      update import_batch set good = good + ${lines.length}, rows = rows + ${lines.length}
      where workspace_id = ${workspaceId} and id = ${batchId})
    ${addToSums(
      'sales_month',
      sql`select ${workspaceId}, month, combination_id, 'books', ${sumColumns} from sums`,
    )}`);
}
