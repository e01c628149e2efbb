/** Work that is done in the background: jobs in the database, taken by whichever server process is free. */
import type { PoolClient } from 'pg';
import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { Connections } from './database.ts';
import { isUnreachable } from './errors.ts';

/** What a kind of job does. It is to be safe to be begun again after a crash. */
export type Work = (data: unknown) => Promise<void>;

const POLL_SECONDS = 1;
const START_LOCK = 715_518;
/** How long a queue waits until it looks whether its database is back. */
const LOOK_AGAIN_MS = 500;

/** The queue of a server process. Jobs that were sent before it started are done as well. */
export class Queue {
  readonly #boss: PgBoss;
  readonly #kinds = new Map<string, Work>();
  readonly #workers = new Map<string, string>();
  #started: Promise<void> | undefined;
  #closed = false;

  constructor(
    private readonly connections: Connections,
    private readonly log: Logger,
  ) {
    this.#boss = new PgBoss({
      db: {
        executeSql: (text, values) => this.#patiently(text, values as unknown[]),
      },
      schema: 'queue',
      schedule: false,
      monitorStateIntervalSeconds: 60,
    });
    this.#boss.on('error', (error) => this.log.warn({ error }, 'the queue of jobs broke'));
  }

  /**
   * Runs a statement of the queue itself. A database that is away is waited for: the queue would
   * otherwise fail where nobody catches it, and take the process with it.
   */
  async #patiently(text: string, values: unknown[]): Promise<{ rows: unknown[] }> {
    for (;;) {
      try {
        return await this.connections.pool.query(text, values);
      } catch (error) {
        if (this.#closed || !isUnreachable(error)) throw error;
        await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS));
      }
    }
  }

  /** Names a kind of job; before `start`. */
  define(kind: string, work: Work): void {
    this.#kinds.set(kind, work);
  }

  /** Starts to take jobs. Called again, it waits for the same start. */
  start(): Promise<void> {
    this.#started ??= this.#start().catch((error: unknown) => {
      this.#started = undefined;
      throw error;
    });
    return this.#started;
  }

  async #start(): Promise<void> {
    // Servers that start at once would make the same tables: one after the other.
    const client = await this.connections.pool.connect();
    try {
      await client.query('select pg_advisory_lock($1)', [START_LOCK]);
      await this.#boss.start();
      await this.#work();
    } finally {
      await client.query('select pg_advisory_unlock($1)', [START_LOCK]).catch(() => undefined);
      client.release();
    }
  }

  async #work(): Promise<void> {
    for (const [kind, work] of this.#kinds) {
      // A job that fails says so where it is looked at; it is not tried again behind people's backs.
      await this.#boss.createQueue(kind, { name: kind, retryLimit: 0, expireInSeconds: 3600 });
      const worker = await this.#boss.work(
        kind,
        { batchSize: 1, pollingIntervalSeconds: POLL_SECONDS },
        async ([job]) => {
          try {
            await work(job?.data);
          } catch (error) {
            // What became of it is kept where the job is looked at, not in the queue.
            this.tell(kind, error);
          }
        },
      );
      this.#workers.set(kind, worker);
    }
  }

  /**
   * Sends a job.
   * @param client in a transaction: the job is there when that ends well, and not before
   * @param options.after seconds to wait first; `key`: while a job with the same key waits, no other one does
   */
  async send(
    kind: string,
    data: object,
    client: PoolClient | undefined,
    options: { after?: number; key?: string } = {},
  ): Promise<void> {
    await this.start();
    const db = client && {
      executeSql: (text: string, values: unknown[]) => client.query(text, values),
    };
    await this.#boss.send(kind, data, {
      ...(db ? { db } : {}),
      ...(options.after === undefined ? {} : { startAfter: options.after }),
      ...(options.key === undefined ? {} : { singletonKey: options.key }),
    });
  }

  /** Writes down that a job failed. */
  tell(kind: string, error: unknown): void {
    this.log.error({ error, kind }, 'a job failed');
  }

  /** Looks for jobs now rather than at the next turn. */
  nudge(kind: string): void {
    const worker = this.#workers.get(kind);
    if (worker !== undefined) this.#boss.notifyWorker(worker);
  }

  /** Waits for the jobs at work, and takes no more. */
  async close(): Promise<void> {
    if (this.#closed || !this.#started) return;
    this.#closed = true;
    await this.#started.catch(() => undefined);
    await this.#boss.stop({ graceful: true, wait: true, timeout: 5000 });
  }
}
