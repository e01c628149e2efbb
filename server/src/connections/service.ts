/** Connected sources: set up, tested, run, and how they stand. */
import {
  codeSchema,
  type Connection,
  type ConnectionChange,
  type ConnectionRun,
  type HeldDocument,
  type NewConnection,
  type Settlement,
} from '@dravex/contract';
import type { Dimension } from '@dravex/core';
import { sql } from 'drizzle-orm';
import { remember } from '../actuals/store.ts';
import { rememberedId } from '../actuals/thing.ts';
import { MemberCodes } from '../dimensions/codes.ts';
import { insertNewMember } from '../dimensions/members.ts';
import { dimensionRow, dimensionsOf } from '../dimensions/store.ts';
import { journaled } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { inTransaction, one, type Connections } from '../platform/database.ts';
import { badRequest, conflict, notFound } from '../platform/errors.ts';
import type { Queue } from '../platform/queue.ts';
import { fieldFor } from './fields.ts';
import { Feed, FeedFailure } from './feed.ts';
import { askToRun, DIED, keyOf, LOCKS, nextRun, ownerOf, type FeedSettings } from './run.ts';
import * as store from './store.ts';

const SHOWN_RUNS = 50;
const SHOWN_HELD = 200;

/** Runs that say they go on while nobody holds their lock. */
async function noticeDeadRuns(connections: Connections, workspaceId: number): Promise<void> {
  for (const run of await store.openRuns(connections.db, workspaceId)) {
    await inTransaction(connections, async (tx) => {
      const { rows } = await tx.execute<{ free: boolean }>(
        sql`select pg_try_advisory_xact_lock(${LOCKS}, ${run.connectionId}) as free`,
      );
      if (!one(rows).free) return;
      await tx.execute(sql`
        update connection_run set state = 'failed', ended_at = now(), message = ${DIED}
        where workspace_id = ${workspaceId} and id = ${run.id} and state in ('running', 'stopping')`);
    });
  }
}

export async function listConnections(
  connections: Connections,
  { workspaceId }: Actor,
): Promise<Connection[]> {
  const { db } = connections;
  await noticeDeadRuns(connections, workspaceId);
  const [rows, held, open, names, dimensions] = await Promise.all([
    store.connections(db, workspaceId),
    store.heldCounts(db, workspaceId),
    store.openRuns(db, workspaceId),
    store.nameCounts(db, workspaceId),
    dimensionsOf(db, workspaceId),
  ]);
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    url: row.url,
    keyMissing: row.key === '',
    everyMinutes: row.everyMinutes,
    nextRunAt: row.nextRunAt?.toISOString() ?? null,
    awaySince: row.awaySince?.toISOString() ?? null,
    lastDoneAt: row.lastDoneAt?.toISOString() ?? null,
    held: held.get(row.id) ?? 0,
    running: open.some(({ connectionId }) => connectionId === row.id),
    fields: Object.fromEntries(
      dimensions.map((dimension) => [dimension.code, fieldFor(row.fields, dimension) ?? null]),
    ),
    items: names.get(row.id)?.items ?? 0,
    customers: names.get(row.id)?.customers ?? 0,
  }));
}

async function mustConnection(
  { db }: Connections,
  { workspaceId }: Actor,
  id: number,
): Promise<store.ConnectionRow> {
  const row = await store.connectionById(db, workspaceId, id);
  if (!row) throw notFound('such connection');
  return row;
}

/** What the journal keeps of a connection: never its key. */
function shown({ name, url, everyMinutes }: Pick<NewConnection, 'name' | 'url' | 'everyMinutes'>) {
  return { name, url, everyMinutes };
}
const label = (name: string) => (cell: string) => ({
  label: `${name}, ${cell}`,
  unit: 'text' as const,
});

export function addConnection(
  connections: Connections,
  { sealer }: FeedSettings,
  actor: Actor,
  input: NewConnection,
): Promise<{ id: number }> {
  const { workspaceId, personId } = actor;
  return journaled(connections, actor, 'actuals', async (tx, record) => {
    const id = await store.insertConnection(tx, {
      workspaceId,
      ...input,
      key: sealer.seal(input.key, ownerOf(workspaceId)),
      createdBy: personId,
      nextRunAt: nextRun(new Date(), input.everyMinutes),
    });
    record.undoable = false;
    record.say(`Connected ${input.name}`);
    record.changed('connection', id, null, shown(input), label(input.name));
    return { id };
  });
}

/** What names the members of each dimension, as the journal keeps it. */
function inCells(fields: store.ConnectionRow['fields']): Record<string, string> {
  return Object.fromEntries(
    Object.entries(fields).map(([code, field]) => [
      `fields.${code}`,
      typeof field === 'string' ? field : `always ${field.member}`,
    ]),
  );
}

/** @throws HttpProblem 400 for a dimension or a member that is not there */
function mustName(dimensions: readonly Dimension[], fields: store.ConnectionRow['fields']): void {
  const codes = new MemberCodes(dimensions);
  for (const [code, field] of Object.entries(fields)) {
    const refuse = (message: string): never => {
      throw badRequest(message, [{ path: `fields.${code}`, message }]);
    };
    if (!dimensions.some((dimension) => dimension.code === code)) {
      refuse(`There is no dimension "${code}"`);
    }
    if (typeof field === 'string') continue;
    const { problem } = codes.leaf(code, field.member);
    if (problem) refuse(problem.message);
  }
}

export async function changeConnection(
  connections: Connections,
  { sealer }: FeedSettings,
  actor: Actor,
  id: number,
  change: ConnectionChange,
): Promise<void> {
  const before = await mustConnection(connections, actor, id);
  await journaled(connections, actor, 'actuals', async (tx, record) => {
    const { everyMinutes, fields, key } = change;
    const moved = change.url !== undefined && change.url !== before.url;
    if (fields) mustName(await dimensionsOf(tx, actor.workspaceId), fields);
    await store.setConnection(tx, actor.workspaceId, id, {
      ...change,
      ...(key === undefined ? {} : { key: sealer.seal(key, ownerOf(actor.workspaceId)) }),
      // The key of one service is not sent to another.
      ...(moved && key === undefined ? { key: '' } : {}),
      ...(everyMinutes === undefined ? {} : { nextRunAt: nextRun(new Date(), everyMinutes) }),
      // Another address is another feed: what it holds is told apart by its documents' numbers.
      ...(moved ? { cursor: 0, itemCursor: 0, customerCursor: 0 } : {}),
      ...(fields ? { fields: { ...before.fields, ...fields } } : {}),
    });
    record.undoable = false;
    record.say(`Changed the connection ${change.name ?? before.name}`);
    const { name = before.name, url = before.url } = change;
    const after = shown({ name, url, everyMinutes: everyMinutes ?? before.everyMinutes });
    record.changed(
      'connection',
      id,
      { ...shown(before), ...inCells(before.fields) },
      {
        ...after,
        ...inCells({ ...before.fields, ...fields }),
        ...(key === undefined ? {} : { key: 'another one' }),
        ...(moved && key === undefined ? { key: 'forgotten' } : {}),
      },
      label(before.name),
    );
    return {};
  });
}

export async function dropConnection(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<void> {
  const before = await mustConnection(connections, actor, id);
  await journaled(connections, actor, 'actuals', async (tx, record) => {
    await store.deleteConnection(tx, actor.workspaceId, id);
    record.undoable = false;
    record.say(`Disconnected ${before.name}; the sales it delivered stay`);
    record.changed('connection', id, shown(before), null, label(before.name));
    return {};
  });
}

/** Asks the service whether it is there. @throws HttpProblem 409 saying what it answered */
export async function testConnection(
  connections: Connections,
  settings: FeedSettings,
  actor: Actor,
  id: number,
): Promise<{ message: string }> {
  mustPlan(actor);
  const connection = await mustConnection(connections, actor, id);
  try {
    const { allowedNetworks: allowed, patience } = settings;
    const feed = new Feed(connection.url, keyOf(connection, settings), { allowed, patience });
    const { service, changes } = await feed.status();
    return { message: `It answers: ${service}, ${changes} changes so far` };
  } catch (error) {
    if (!(error instanceof FeedFailure)) throw error;
    throw conflict(`${error.message}. Check the address and the key`);
  }
}

export async function runNow(
  connections: Connections,
  queue: Queue,
  actor: Actor,
  id: number,
): Promise<void> {
  mustPlan(actor);
  await mustConnection(connections, actor, id);
  await askToRun(queue, actor.workspaceId, id, actor.personId);
}

/** Stops a run before it asks the service again. @throws HttpProblem 409 where nothing runs */
export async function stopNow(connections: Connections, actor: Actor, id: number): Promise<void> {
  mustPlan(actor);
  const { name } = await mustConnection(connections, actor, id);
  if (!(await store.stopRuns(connections.db, actor.workspaceId, id))) {
    throw conflict(`Nothing is being imported from ${name}`);
  }
}

export async function listRuns(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<ConnectionRun[]> {
  await mustConnection(connections, actor, id);
  await noticeDeadRuns(connections, actor.workspaceId);
  const rows = await store.runs(connections.db, actor.workspaceId, id, SHOWN_RUNS);
  return rows.map(({ workspaceId: _, connectionId: __, batchId: ___, ...run }) => ({
    ...run,
    startedAt: run.startedAt.toISOString(),
    endedAt: run.endedAt?.toISOString() ?? null,
  }));
}

export async function listHeld(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<HeldDocument[]> {
  await mustConnection(connections, actor, id);
  return store.heldDocuments(connections.db, actor.workspaceId, id, SHOWN_HELD);
}

/**
 * Settles a code that documents wait for: it becomes a member, or stands for one from now on. What
 * waited is taken in by a run that starts at once.
 * @throws HttpProblem 400 or 409 saying what stands in the way
 */
export async function settleHeld(
  connections: Connections,
  queue: Queue,
  actor: Actor,
  id: number,
  { dimension: code, value, as }: Settlement,
): Promise<void> {
  const { workspaceId } = actor;
  await mustConnection(connections, actor, id);
  await journaled(connections, actor, 'dimensions', async (tx, record) => {
    const dimension = await dimensionRow(tx, workspaceId, code);
    if (!dimension) throw notFound('such dimension');
    if (as.kind === 'new') {
      const { name, parent } = as;
      const asCode = codeSchema.safeParse(value);
      if (!asCode.success) {
        const message = `"${value}" cannot be a member's code: ${asCode.error.issues[0]?.message ?? ''}. Say which member it stands for`;
        throw badRequest(message, [{ path: 'value', message }]);
      }
      await insertNewMember(tx, record, dimension, { code: value, name, parent });
      record.say(`Added ${name} to ${dimension.name}, as an order book has it`);
      return {};
    }
    const codes = new MemberCodes(await dimensionsOf(tx, workspaceId));
    const { problem } = codes.leaf(code, as.member);
    if (problem)
      throw badRequest(problem.message, [{ path: 'as.member', message: problem.message }]);
    const repair = { kind: 'sales', field: code, from: value, to: as.member } as const;
    await remember(tx, workspaceId, repair);
    record.say(`"${value}" is read as ${as.member} of ${dimension.name}`);
    record.changed('remembered', rememberedId(repair), null, { to: as.member }, () => ({
      label: `${code} “${value}”`,
      unit: 'text',
    }));
    return {};
  });
  await askToRun(queue, workspaceId, id, actor.personId);
}
