/** Runs a connection: takes up where it stopped, page by page, each page and its cursor as one unit. */
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import {
  assignedMembers,
  insertBatch,
  remembered,
  validities,
  type AssignedMembers,
} from '../actuals/store.ts';
import { MemberCodes } from '../dimensions/codes.ts';
import { CombinationIds, dimensionsOf } from '../dimensions/store.ts';
import { calendarOf } from '../forecast/calendar.ts';
import { journaled } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import { actorIn } from '../people/service.ts';
import { inTransaction, one, type Connections, type Database } from '../platform/database.ts';
import type { Queue } from '../platform/queue.ts';
import { workspaceById } from '../workspaces/store.ts';
import { fieldFor, namedBy } from './fields.ts';
import { Feed, FeedFailure, PATIENT, type FeedDocument, type Patience } from './feed.ts';
import * as store from './store.ts';

const KIND = 'run-connection';
const jobSchema = z.object({
  workspaceId: z.number(),
  connectionId: z.number(),
  personId: z.number(),
});
/** What is said of a run whose server ended. */
export const DIED =
  'The server ended while this ran; what it had taken is kept, and the next run goes on';
/** The number space of the locks that say a connection is being run. */
export const LOCKS = 715_519;
/** How long a service that is away is left alone, in minutes: growing, and then an hour. */
const PAUSES = [1, 2, 5, 10, 30, 60];
const LOOK_EVERY_MS = 10_000;

/** Tells the queue how connections are run, and looks whose time has come. @returns how to end that */
export function defineRunning(
  connections: Connections,
  queue: Queue,
  patience: Patience = PATIENT,
): () => void {
  queue.define(KIND, async (data) => {
    const { workspaceId, connectionId, personId } = jobSchema.parse(data);
    await runConnection(connections, workspaceId, connectionId, personId, patience);
  });
  const look = async (): Promise<void> => {
    await inTransaction(connections, async (tx, client) => {
      for (const due of await store.claimDue(tx)) {
        const job = {
          workspaceId: due.workspace_id,
          connectionId: due.id,
          personId: due.created_by,
        };
        await queue.send(KIND, job, client);
      }
    });
  };
  const timer = setInterval(() => void look().catch(() => undefined), LOOK_EVERY_MS);
  timer.unref();
  return () => clearInterval(timer);
}

/** Runs a connection as soon as a server process is free. */
export async function askToRun(
  queue: Queue,
  workspaceId: number,
  connectionId: number,
  personId: number,
): Promise<void> {
  await queue.send(KIND, { workspaceId, connectionId, personId }, undefined);
  queue.nudge(KIND);
}

interface Tally {
  added: number;
  replaced: number;
  same: number;
  held: number;
  revenue: number;
}

async function runConnection(
  connections: Connections,
  workspaceId: number,
  connectionId: number,
  personId: number,
  patience: Patience,
): Promise<void> {
  const { db, pool } = connections;
  // Held on a client of its own for the whole run: two runs at once would do the same work twice.
  const client = await pool.connect();
  try {
    const { rows } = await client.query<{ free: boolean }>(
      'select pg_try_advisory_lock($1, $2) as free',
      [LOCKS, connectionId],
    );
    if (!one(rows).free) return;
    const connection = await store.connectionById(db, workspaceId, connectionId);
    const actor = await actorIn(connections, workspaceId, personId);
    if (!connection || actor?.role !== 'planner') return;
    await endDeadRuns(db, workspaceId, connectionId);
    const runId = await store.insertRun(db, workspaceId, connectionId);
    const tally: Tally = { added: 0, replaced: 0, same: 0, held: 0, revenue: 0 };
    try {
      await takeAll(connections, actor, connection, runId, tally, patience);
      await ended(db, connection, runId, tally);
    } catch (error) {
      await failed(db, connection, runId, tally, error);
    }
  } finally {
    await client
      .query('select pg_advisory_unlock($1, $2)', [LOCKS, connectionId])
      .catch(() => undefined);
    client.release();
  }
}

/** Runs that a server left behind when it ended: what they had taken is kept, the rest comes now. */
async function endDeadRuns(db: Database, workspaceId: number, connectionId: number): Promise<void> {
  for (const run of await store.openRuns(db, workspaceId)) {
    if (run.connectionId !== connectionId) continue;
    await store.setRun(db, workspaceId, run.id, {
      state: 'failed',
      endedAt: new Date(),
      message: DIED,
    });
  }
}

async function ended(
  db: Database,
  { workspaceId, id, everyMinutes }: store.ConnectionRow,
  runId: number,
  tally: Tally,
): Promise<void> {
  const now = new Date();
  await store.setRun(db, workspaceId, runId, { ...tally, state: 'done', endedAt: now });
  await store.setConnection(db, workspaceId, id, {
    lastDoneAt: now,
    awaySince: null,
    misses: 0,
    nextRunAt: everyMinutes === null ? null : new Date(now.getTime() + everyMinutes * 60_000),
  });
}

async function failed(
  db: Database,
  { workspaceId, id, everyMinutes, awaySince, misses }: store.ConnectionRow,
  runId: number,
  tally: Tally,
  error: unknown,
): Promise<void> {
  const now = new Date();
  const known = error instanceof FeedFailure;
  const message = known ? error.message : 'Something failed on our side';
  await store.setRun(db, workspaceId, runId, { ...tally, state: 'failed', endedAt: now, message });
  const pause = PAUSES[Math.min(misses, PAUSES.length - 1)] ?? 60;
  const away = known && error.away;
  await store.setConnection(db, workspaceId, id, {
    awaySince: away ? (awaySince ?? now) : null,
    misses: away ? misses + 1 : 0,
    nextRunAt:
      everyMinutes === null
        ? null
        : new Date(now.getTime() + (away ? Math.min(pause, everyMinutes) : everyMinutes) * 60_000),
  });
  if (!known) throw error;
}

/** Reads what the service says of its items and customers since it was last asked. */
async function takeNames(
  { db }: Connections,
  { workspaceId, id, itemCursor, customerCursor }: store.ConnectionRow,
  feed: Feed,
): Promise<void> {
  for (const kind of ['item', 'customer'] as const) {
    let after = kind === 'item' ? itemCursor : customerCursor;
    for (;;) {
      const { names, next, more } = await feed.names(kind, after);
      await store.keepNames(db, workspaceId, id, kind, names);
      // After the names: a server that ends in between reads them again, which changes nothing.
      const cursor = kind === 'item' ? { itemCursor: next } : { customerCursor: next };
      if (next !== after) await store.setConnection(db, workspaceId, id, cursor);
      if (next < after || (more && next === after)) throw new FeedFailure(REPEATS, false);
      after = next;
      if (!more) break;
    }
  }
}

/** Assigns customers as the service groups them, for the dimensions that are read so. */
async function assignGroups(
  connections: Connections,
  actor: Actor,
  { workspaceId, id, name, fields }: store.ConnectionRow,
): Promise<void> {
  const assigned = Object.keys(fields).filter((code) => fields[code] === 'assigned');
  if (assigned.length === 0) return;
  await journaled(connections, actor, 'dimensions', async (tx, record) => {
    record.undoable = false;
    for (const code of assigned) {
      const customers = await store.assignByGroup(tx, workspaceId, id, code);
      if (customers === 0) continue;
      record.say(`${name}: ${customers} customers assigned as the order book groups them`);
      record.changed('assignment', code, null, { customers }, () => ({
        label: name,
        unit: 'text',
      }));
    }
    return {};
  });
}

const REPEATS = 'The service gives the same page again and again';

/** Takes pages until there is no more; documents that wait are tried first. */
async function takeAll(
  connections: Connections,
  actor: Actor,
  connection: store.ConnectionRow,
  runId: number,
  tally: Tally,
  patience: Patience,
): Promise<void> {
  const { db } = connections;
  const { workspaceId, id, url, key, name } = connection;
  const feed = new Feed(url, key, patience);
  let batchId: number | undefined;
  const take = async (documents: readonly FeedDocument[], next: number | undefined) => {
    const page = await journaled(connections, actor, 'actuals', async (tx, record) => {
      const found = await takePage(tx, actor, connection, documents, batchId);
      if (next !== undefined) await store.setConnection(tx, workspaceId, id, { cursor: next });
      const changed = found.tally.added + found.tally.replaced;
      record.undoable = false;
      record.say(
        `${name}: ${found.tally.added} new documents, ${found.tally.replaced} corrected, ${found.tally.held} wait`,
      );
      if (changed > 0) {
        record.changed('feed', runId, null, { documents: changed }, () => ({
          label: name,
          unit: 'text',
        }));
      }
      return found;
    });
    batchId = page.batchId ?? batchId;
    for (const part of Object.keys(tally) as (keyof Tally)[]) tally[part] += page.tally[part];
    await store.setRun(db, workspaceId, runId, { ...tally, batchId: batchId ?? null });
  };
  await takeNames(connections, connection, feed);
  await assignGroups(connections, actor, connection);
  const waiting = await store.waitingDocuments(db, workspaceId, id);
  if (waiting.length > 0) await take(waiting, undefined);
  tally.held = 0;
  let { cursor } = connection;
  for (;;) {
    const { documents, next, more } = await feed.page(cursor);
    if (documents.length > 0) await take(documents, next);
    if (next < cursor || (more && next === cursor)) throw new FeedFailure(REPEATS, false);
    cursor = next;
    if (!more) return;
  }
}

/** Keeps the documents of a page: lines of new ones, those of corrected ones in place of the old. */
async function takePage(
  tx: Database,
  { workspaceId, personId }: Actor,
  connection: store.ConnectionRow,
  documents: readonly FeedDocument[],
  openBatch: number | undefined,
): Promise<{ batchId: number | undefined; tally: Tally }> {
  const workspace = await workspaceById(tx, workspaceId);
  if (!workspace) throw new FeedFailure('The workspace is gone', false);
  const dimensions = await dimensionsOf(tx, workspaceId);
  const rules: Checks = {
    fields: connection.fields,
    assigned: await assignedMembers(tx, workspaceId),
    validity: await validities(tx, workspaceId),
    codes: new MemberCodes(dimensions),
    calendar: calendarOf(workspace),
    replace: new Map(
      (await remembered(tx, workspaceId))
        .filter(({ kind }) => kind === 'sales')
        .map(({ field, from, to }) => [`${field} ${from}`, to]),
    ),
  };
  // The last revision of a page is the one that holds.
  const newest = new Map<string, FeedDocument>();
  for (const document of documents) {
    const other = newest.get(document.number);
    if (!other || other.revision <= document.revision) newest.set(document.number, document);
  }
  const known = await store.knownDocuments(tx, workspaceId, connection.id, [...newest.keys()]);
  const waits = new Set(
    (await store.waitingDocuments(tx, workspaceId, connection.id)).map(({ number }) => number),
  );
  const tally: Tally = { added: 0, replaced: 0, same: 0, held: 0, revenue: 0 };
  const good: { document: FeedDocument; members: number[][] }[] = [];
  const rows: Parameters<typeof store.keepDocuments>[1][number][] = [];
  for (const document of newest.values()) {
    const { number, revision } = document;
    const before = known.get(number);
    if (before !== undefined && before >= revision && !waits.has(number)) {
      tally.same += 1;
      continue;
    }
    const own = { workspaceId, connectionId: connection.id, number, revision };
    const checked = check(document, rules);
    if ('reason' in checked) {
      tally.held += 1;
      rows.push({ ...own, waiting: document, ...checked });
      continue;
    }
    if (before === undefined || waits.has(number)) tally.added += 1;
    else tally.replaced += 1;
    good.push({ document, members: checked.members });
    rows.push({ ...own, waiting: null, reason: '', dimension: null, value: '' });
  }
  const names = good.map(({ document }) => nameOf(connection.id, document.number));
  const revenueBefore = await revenueOf(tx, workspaceId, names);
  await store.dropDocumentLines(tx, workspaceId, names);
  await store.keepDocuments(tx, rows);
  if (good.length === 0) return { batchId: openBatch, tally };
  const batchId =
    openBatch ??
    (await insertBatch(tx, {
      workspaceId,
      source: 'connection',
      fileName: connection.name,
      state: 'applied',
      rows: 0,
      good: 0,
      faulty: 0,
      createdBy: personId,
      appliedAt: new Date(),
    }));
  const combinations = new CombinationIds(tx, workspaceId);
  const ids = await combinations.of(good.flatMap(({ members }) => members));
  let at = 0;
  const lines = good.flatMap(({ document }) =>
    document.lines.map((line) => ({
      row: document.sequence,
      date: document.date,
      combinationId: ids[at++] ?? 0,
      quantity: Math.round(line.quantity * 1000) / 1000,
      netAmount: line.net,
      cost: line.cost,
      document: nameOf(connection.id, document.number),
      lineNumber: line.line,
      customer: document.customer === '' ? null : document.customer,
    })),
  );
  await store.addLines(tx, workspaceId, batchId, lines);
  tally.revenue = lines.reduce((sum, { netAmount }) => sum + netAmount, 0) - revenueBefore;
  return { batchId, tally };
}

/** What a document is called among those of all sources. */
function nameOf(connectionId: number, number: string): string {
  return `${number} (feed ${connectionId})`;
}

async function revenueOf(
  db: Database,
  workspaceId: number,
  documents: readonly string[],
): Promise<number> {
  const { rows } = await db.execute<{ revenue: number }>(sql`
    select coalesce(sum(net_amount), 0)::float8 as revenue from sales_line
    where workspace_id = ${workspaceId} and document = any(${sql.param([...documents])}::text[])`);
  return one(rows).revenue;
}

interface Checks {
  readonly fields: store.ConnectionRow['fields'];
  readonly assigned: AssignedMembers;
  readonly validity: Awaited<ReturnType<typeof validities>>;
  readonly codes: MemberCodes;
  readonly calendar: ReturnType<typeof calendarOf>;
  readonly replace: ReadonlyMap<string, string>;
}

/** Why a document waits; with the code that would have to be known, where it is one. */
interface Waits {
  readonly reason: string;
  readonly dimension: string | null;
  readonly value: string;
}

/** The members of every line of a document; or why it waits as a whole. */
function check(document: FeedDocument, rules: Checks): { members: number[][] } | Waits {
  const { date } = document;
  const { calendar } = rules;
  if (date < `${calendar.first}-01` || date > calendar.asOf) {
    const reason = `${date} lies outside ${calendar.first} to ${calendar.asOf}`;
    return { reason, dimension: null, value: date };
  }
  const twice = new Set(document.lines.map(({ line }) => line)).size !== document.lines.length;
  if (twice) return { reason: 'It has a line number twice', dimension: null, value: '' };
  const members: number[][] = [];
  for (const { item } of document.lines) {
    const own: number[] = [];
    for (const dimension of rules.codes.dimensions) {
      const found = memberOf(document, item, dimension, rules);
      if (typeof found === 'object') return found;
      own.push(found);
    }
    members.push(own);
  }
  return { members };
}

function memberOf(
  document: FeedDocument,
  item: string,
  dimension: { readonly code: string; readonly name: string },
  { fields, assigned, validity, codes, replace }: Checks,
): number | Waits {
  const { code, name } = dimension;
  const named = namedBy(fieldFor(fields, dimension), document, item, assigned.get(code));
  if ('id' in named) {
    if (named.id !== undefined) return named.id;
    const reason = `Customer "${document.customer}" belongs to no member of ${name} on ${document.date}`;
    return { reason, dimension: null, value: document.customer };
  }
  const { id, problem } = codes.leaf(code, replace.get(`${code} ${named.text}`) ?? named.text);
  if (problem) return { reason: problem.message, dimension: code, value: named.text };
  const bounds = validity.get(id);
  const early = bounds?.from && document.date < bounds.from;
  const late = bounds?.to && document.date > bounds.to;
  if (!early && !late) return id;
  const reason = `"${named.text}" of ${name} is not valid on ${document.date}`;
  return { reason, dimension: null, value: named.text };
}
