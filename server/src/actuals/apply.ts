/** Applies a batch in the background: one unit, with progress, and it can be stopped. */
import type { ImportBatch } from '@dravex/contract';
import { dayInWords } from '@dravex/core';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { answeredOnce, journaled, recorded } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { actorIn } from '../people/service.ts';
import { inTransaction, one, type Connections, type Database } from '../platform/database.ts';
import { badRequest, conflict, HttpProblem, notFound } from '../platform/errors.ts';
import type { Queue } from '../platform/queue.ts';
import { moveAsOf } from '../workspaces/calendar.ts';
import { toBatch } from './batch.ts';
import * as store from './store.ts';
import { batchName, moveBatch } from './thing.ts';

const KIND = 'apply-import';
const jobSchema = z.object({ workspaceId: z.number(), batchId: z.number(), personId: z.number() });

/** How long a request waits for the end of the job that it asked for. */
const PATIENCE_MS = 8000;
const LOOK_MS = 40;
/** The number space of the locks that say a batch is being worked on. */
const LOCKS = 715_518;
const DIED = 'The server ended during the import; nothing of it was imported. Import it again';
const STOPPED = 'Stopped; nothing of it was imported';

/** Tells the queue how batches are applied. */
export function defineApplying(connections: Connections, queue: Queue): void {
  queue.define(KIND, async (data) => {
    const { workspaceId, batchId, personId } = jobSchema.parse(data);
    // Held for the whole job, from its very beginning: who asks sees that somebody is at it.
    const client = await connections.pool.connect();
    try {
      await client.query('select pg_advisory_lock($1, $2)', [LOCKS, batchId]);
      await run(connections, workspaceId, batchId, personId);
    } finally {
      await client
        .query('select pg_advisory_unlock($1, $2)', [LOCKS, batchId])
        .catch(() => undefined);
      client.release();
    }
  });
}

const isCancelled = (error: unknown): boolean => {
  const cause = error instanceof Error && error.cause !== undefined ? error.cause : error;
  return typeof cause === 'object' && cause !== null && 'code' in cause && cause.code === '57014';
};

class Stopped extends Error {}

async function run(
  connections: Connections,
  workspaceId: number,
  batchId: number,
  personId: number,
): Promise<void> {
  const { db } = connections;
  const told = (change: Parameters<typeof store.changeJob>[3]): Promise<void> =>
    store.changeJob(db, workspaceId, batchId, change);
  const mayGoOn = async (): Promise<void> => {
    const job = await store.jobOf(db, workspaceId, batchId);
    if (!job || job.stop) throw new Stopped();
  };
  try {
    await mayGoOn();
    const actor = await actorIn(connections, workspaceId, personId);
    if (!actor) throw conflict('Whoever asked for this plans here no longer');
    await journaled(connections, actor, 'actuals', async (tx, record) => {
      const { rows } = await tx.execute<{ pid: number }>(sql`select pg_backend_pid() as pid`);
      const backend = one(rows).pid;
      await told({ state: 'running', backend, step: 0 });
      const batch = await store.batchById(tx, workspaceId, batchId);
      if (!batch) throw notFound('such file');
      if (batch.state !== 'previewed') throw conflict('This file is imported or discarded already');
      await moveBatch(tx, workspaceId, batchId, 'previewed', 'applied', async (step, steps) => {
        await mayGoOn();
        await told({ step, steps });
      });
      await mayGoOn();
      const { fileName, good } = batch;
      await followLines(tx, actor, batchId, fileName);
      record.say(`Imported ${good} rows of ${fileName}`);
      record.changed(
        'import',
        batchId,
        { state: 'previewed' },
        { state: 'applied' },
        batchName(fileName),
      );
    });
    await told({ state: 'done', message: '', backend: null });
  } catch (error) {
    const stopped = error instanceof Stopped || isCancelled(error);
    const message = stopped
      ? STOPPED
      : error instanceof HttpProblem
        ? error.message
        : 'Something failed on our side; nothing of it was imported. Try again';
    await told({ state: stopped ? 'stopped' : 'failed', message, backend: null });
    if (!stopped && !(error instanceof HttpProblem)) throw error;
  }
}

/** Days after the as-of date have happened, or there were no sales in them: it moves to them. */
async function followLines(
  tx: Database,
  actor: Actor,
  batchId: number,
  fileName: string,
): Promise<void> {
  const latest = await store.latestOfBatch(tx, actor.workspaceId, batchId);
  if (latest === null) return;
  // A record of its own: a file can be taken back also after later ones moved the date on, and
  // what is taken back next is the file.
  await recorded(tx, actor, 'workspace', async (record) => {
    if (await moveAsOf(tx, actor, record, latest)) {
      record.undoable = false;
      record.say(`The as-of date is ${dayInWords(latest)}, the last day of ${fileName}`);
    }
  });
}

/** So long a job may be on its way from the queue to its work, in seconds. */
const ON_THE_WAY = 5;

/**
 * Notices jobs whose server ended: nobody is at them, though they say that they run, or the queue
 * says that somebody took them. Their transaction went with the server, so nothing of them was
 * taken in. A job that nobody took yet goes on waiting.
 */
export async function noticeDeadJobs(connections: Connections, workspaceId: number): Promise<void> {
  const { rows } = await connections.db.execute<{ batch_id: number }>(sql`
    select batch_id from import_job
    where workspace_id = ${workspaceId} and state in ('running', 'waiting')`);
  for (const { batch_id: batchId } of rows) {
    await inTransaction(connections, async (tx) => {
      const { rows: locked } = await tx.execute<{ free: boolean }>(
        sql`select pg_try_advisory_xact_lock(${LOCKS}, ${batchId}) as free`,
      );
      if (!one(locked).free) return;
      const job = await store.jobOf(tx, workspaceId, batchId);
      if (!isOpen(job?.state)) return;
      if (job?.state === 'waiting' && (await isStillQueued(tx, workspaceId, batchId))) return;
      const batch = await store.batchById(tx, workspaceId, batchId);
      // It may have ended well a moment ago, and not have come to say so.
      const applied = batch?.state === 'applied';
      await store.changeJob(tx, workspaceId, batchId, {
        state: applied ? 'done' : 'failed',
        message: applied ? '' : DIED,
      });
    });
  }
}

/** Whether a job waits in the queue, or was taken from it only a moment ago. */
async function isStillQueued(tx: Database, workspaceId: number, batchId: number): Promise<boolean> {
  const { rows } = await tx.execute<{ queued: boolean }>(sql`
    select exists (select from queue.job where name = ${KIND}
      and (data->>'workspaceId')::int = ${workspaceId} and (data->>'batchId')::int = ${batchId}
      and (state in ('created', 'retry')
        or (state = 'active' and started_on > now() - make_interval(secs => ${ON_THE_WAY}))))
      as queued`);
  return one(rows).queued;
}

const isOpen = (state: string | undefined): boolean => state === 'waiting' || state === 'running';

/**
 * Applies a previewed file, all or none, in the background. Answers when that is done, or after
 * some seconds with how far it is.
 */
export async function applyBatch(
  connections: Connections,
  queue: Queue,
  actor: Actor,
  id: number,
): Promise<ImportBatch> {
  mustPlan(actor);
  const { workspaceId, personId, requestKey } = actor;
  await noticeDeadJobs(connections, workspaceId);
  await queue.start();
  await answeredOnce(connections, personId, requestKey, async (tx, client) => {
    const locked = await store.lockBatch(tx, workspaceId, id);
    const batch = locked && (await store.batchById(tx, workspaceId, id));
    if (!batch) throw notFound('such import');
    if (batch.state === 'putAway') {
      throw conflict('This file was discarded; undo that first');
    }
    if (batch.state === 'applied') throw conflict('These rows are imported already');
    if (batch.good === 0) throw badRequest('No row of this file can be imported');
    if (isOpen(batch.job?.state)) return { id };
    await store.setJob(tx, {
      workspaceId,
      batchId: id,
      state: 'waiting',
      step: 0,
      steps: 3,
      message: '',
      stop: false,
      backend: null,
      requestedBy: personId,
    });
    await queue.send(KIND, { workspaceId, batchId: id, personId }, client);
    return { id };
  });
  queue.nudge(KIND);
  const end = Date.now() + PATIENCE_MS;
  for (;;) {
    const batch = await store.batchById(connections.db, workspaceId, id);
    if (!batch) throw notFound('such import');
    if (!isOpen(batch.job?.state) || Date.now() > end) {
      if (batch.job?.state === 'failed') throw conflict(batch.job.message);
      return toBatch(batch);
    }
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  }
}

/** Stops applying a file; what is done already is rolled back. */
export async function stopBatch(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<ImportBatch> {
  mustPlan(actor);
  const { workspaceId } = actor;
  await noticeDeadJobs(connections, workspaceId);
  const job = await store.jobOf(connections.db, workspaceId, id);
  if (!job || !isOpen(job.state)) throw conflict('This file is not being imported');
  const waits = job.state === 'waiting';
  await store.changeJob(connections.db, workspaceId, id, {
    stop: true,
    // What has not begun is stopped at once; what runs says so when it has.
    ...(waits ? { state: 'stopped' as const, message: STOPPED } : {}),
  });
  if (job.backend !== null) {
    await connections.db.execute(sql`select pg_cancel_backend(${job.backend})`);
  }
  const batch = await store.batchById(connections.db, workspaceId, id);
  if (!batch) throw notFound('such import');
  return toBatch(batch);
}
