/** Runs a connection: takes up where it stopped, page by page, each page and its cursor as one unit. */
import { plansIn } from '@dravex/contract';
import pg from 'pg';
import { z } from 'zod';
import { actorIn } from '../people/service.ts';
import { inTransaction, one, type Connections, type Database } from '../platform/database.ts';
import type { Queue } from '../platform/queue.ts';
import type { Sealer } from '../platform/sealer.ts';
import { Feed, FeedFailure, Stopped, type Patience } from './feed.ts';
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
  'The server ended while this ran; what it had imported is kept, and the next run goes on';

const STOPPED = 'Stopped; what it had imported is kept, and the next run goes on';

/** The number space of the locks that say a connection is being run. */
export const LOCKS = 715_519;

/** How long a service that is away is left alone, in minutes: growing, and then an hour. */
const PAUSES = [1, 2, 5, 10, 30, 60];

const LOOK_EVERY_MS = 10_000;
const LOOK_IF_STOPPED_MS = 1000;
const LATER_SECONDS = 5;

/** What a server has for asking services outside. */
export interface FeedSettings {
  readonly patience?: Patience | undefined;
  readonly allowedNetworks: readonly string[];
  /** Opens the keys of connections. */
  readonly sealer: Sealer;
}

/** Whose key it is: sealed for one workspace, it opens in no other. */
export const ownerOf = (workspaceId: number): string => `workspace ${workspaceId}`;

/** A connection's key, to be sent to its service. @throws FeedFailure where there is none */
export function keyOf({ key, workspaceId }: store.ConnectionRow, { sealer }: FeedSettings): string {
  if (key === '') throw new FeedFailure('The key is missing: enter the key of this address', false);
  const opened = sealer.open(key, ownerOf(workspaceId));
  if (opened === undefined) {
    throw new FeedFailure(
      'The key cannot be read any more: the secret of the server is another one. Enter it again',
      false,
    );
  }
  return opened;
}

/** Runs that a server process has under way at once; more wait for the next look. */
const MOST_RUNS = 40;

/**
 * Tells the queue how connections are run, and looks whose time has come. Runs go on beside each
 * other: a slow service keeps nobody else's waiting.
 * @returns how to end that
 */
export function defineRunning(
  connections: Connections,
  queue: Queue,
  settings: FeedSettings,
): () => Promise<void> {
  const going = new Map<AbortController, Promise<void>>();
  queue.define(KIND, async (data) => {
    const { workspaceId, connectionId, personId } = jobSchema.parse(data);
    if (going.size >= MOST_RUNS) {
      await queue.send(KIND, data as object, undefined, { after: LATER_SECONDS });
      return;
    }
    const ending = new AbortController();
    const run = runConnection(connections, workspaceId, connectionId, personId, settings, ending)
      .catch((error: unknown) => queue.tell(KIND, error))
      .finally(() => going.delete(ending));
    going.set(ending, run);
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
  return async () => {
    clearInterval(timer);
    const runs = [...going.values()];
    for (const ending of going.keys()) ending.abort();
    await Promise.all(runs);
  };
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
  settings: FeedSettings,
  ending: AbortController,
): Promise<void> {
  const { db, url } = connections;
  // Held on a connection of its own for the whole run: two runs at once would do the same work twice.
  const lock = new pg.Client({ connectionString: url, application_name: 'dravex: a run' });
  lock.on('error', () => ending.abort());
  try {
    await lock.connect();
    const { rows } = await lock.query<{ free: boolean }>(
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
    const mustGoOn = async (): Promise<void> => {
      if (ending.signal.aborted || (await store.isEnding(db, workspaceId, runId)))
        throw new Stopped();
    };
    const looking = setInterval(() => {
      mustGoOn().catch((error: unknown) => {
        if (error instanceof Stopped) ending.abort();
      });
    }, LOOK_IF_STOPPED_MS);
    try {
      const feed = new Feed(connection.url, keyOf(connection, settings), {
        allowed: settings.allowedNetworks,
        patience: settings.patience,
        mayAsk: mustGoOn,
        signal: ending.signal,
      });
      await takeAll(connections, actor, connection, runId, tally, feed);
      await ended(db, connection, runId, tally);
    } catch (error) {
      // What is taken in of a connection that is gone meanwhile refers to nothing.
      const gone = !(await store.connectionById(db, workspaceId, connectionId));
      if (gone || error instanceof Stopped) await stopped(db, connection, runId, tally);
      else await failed(db, connection, runId, tally, error);
    } finally {
      clearInterval(looking);
    }
  } finally {
    // The lock goes with its connection.
    await lock.end().catch(() => undefined);
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
