/** Runs a connection: takes up where it stopped, page by page, each page and its cursor as one unit. */
import { plansIn } from '@dravex/contract';
import { z } from 'zod';
import { actorIn } from '../people/service.ts';
import { inTransaction, one, type Connections, type Database } from '../platform/database.ts';
import type { Queue } from '../platform/queue.ts';
import { FeedFailure, PATIENT, Stopped, type Patience } from './feed.ts';
import * as store from './store.ts';
import { emptyTally, takeAll, type Tally } from './take.ts';

const KIND = 'run-connection';

const jobSchema = z.object({
  workspaceId: z.number(),
  connectionId: z.number(),
  personId: z.number(),
});

/** What is said of a run whose server ended. */
export const DIED =
  'The server ended while this ran; what it had taken is kept, and the next run goes on';

const STOPPED = 'Stopped; what it had taken is kept, and the next run goes on';

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
    if (!connection || !actor || !plansIn(actor.role)) return;
    await endDeadRuns(db, workspaceId, connectionId);
    const runId = await store.insertRun(db, workspaceId, connectionId);
    const tally = emptyTally();
    try {
      await takeAll(connections, actor, connection, runId, tally, patience);
      await ended(db, connection, runId, tally);
    } catch (error) {
      if (error instanceof Stopped) await stopped(db, connection, runId, tally);
      else await failed(db, connection, runId, tally, error);
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

/** When a connection runs next by itself, if it does. */
export function nextRun(now: Date, everyMinutes: number | null): Date | null {
  return everyMinutes === null ? null : new Date(now.getTime() + everyMinutes * 60_000);
}

async function stopped(
  db: Database,
  { workspaceId, id, everyMinutes }: store.ConnectionRow,
  runId: number,
  tally: Tally,
): Promise<void> {
  const now = new Date();
  const run = { ...tally, state: 'stopped', endedAt: now, message: STOPPED } as const;
  await store.setRun(db, workspaceId, runId, run);
  await store.setConnection(db, workspaceId, id, { nextRunAt: nextRun(now, everyMinutes) });
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
    nextRunAt: nextRun(now, everyMinutes),
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
  const expectedFailure = error instanceof FeedFailure;
  const message = expectedFailure ? error.message : 'Something failed on our side';
  await store.setRun(db, workspaceId, runId, { ...tally, state: 'failed', endedAt: now, message });
  const pause = PAUSES[Math.min(misses, PAUSES.length - 1)] ?? 60;
  const away = expectedFailure && error.away;
  await store.setConnection(db, workspaceId, id, {
    awaySince: away ? (awaySince ?? now) : null,
    misses: away ? misses + 1 : 0,
    nextRunAt: nextRun(
      now,
      everyMinutes === null || !away ? everyMinutes : Math.min(pause, everyMinutes),
    ),
  });
  if (!expectedFailure) throw error;
}
