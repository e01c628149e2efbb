import { fileURLToPath } from 'node:url';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import { afterOthers } from './pauses.ts';
import { NobodyWaits } from './who-waits.ts';

/** A connection or a transaction: what a store needs. */
export type Database = NodePgDatabase;

/**
 * Connections to the database. Reads and writes have pools of their own, so that nobody who only
 * looks stands behind writers that wait for each other; a transaction that writes may read beside
 * itself on `db` and never waits for a second connection of its own kind.
 */
export interface Connections {
  /** For reads, and for what stands by itself. */
  readonly pool: pg.Pool;
  readonly db: Database;
  /** For transactions that write; see `inTransaction`. */
  readonly writers: pg.Pool;
  /** How long a transaction waits for a lock, in milliseconds; 0 for as long as it takes. */
  readonly lockWaitMs: number;
  readonly url: string;
  /** Aborted when nobody waits any more for what is read here; see `readingUntil`. */
  readonly gone?: AbortSignal;
  /** The same for what others wait for too, whoever asked for it first. */
  readonly lasting: Connections;
  close(): Promise<void>;
}

const CASING = 'snake_case';
const MIGRATIONS = fileURLToPath(new URL('../../migrations', import.meta.url));

/** Connections of each pool of a server process. */
const MOST = 8;
/** How long a request waits for a connection or for a lock before it is told to try again. */
const PATIENCE_MS = 10_000;
/** How often PostgreSQL looks, in the middle of a query, whether its connection is still there. */
const CHECK_MS = 1000;

function poolOf(url: string, max: number, patienceMs: number): pg.Pool {
  const pool = new pg.Pool({
    connectionString: url,
    max,
    options: `-c client_connection_check_interval=${CHECK_MS}`,
    ...(patienceMs > 0 ? { connectionTimeoutMillis: patienceMs } : {}),
  });
  // A connection that breaks while it is idle is replaced at the next query.
  pool.on('error', () => undefined);
  // One that breaks in use fails its query; it must not take the process with it.
  pool.on('connect', (client) => client.on('error', () => undefined));
  return pool;
}

function opened(url: string, patienceMs: number): Connections {
  const pool = poolOf(url, MOST, patienceMs);
  const writers = poolOf(url, MOST, patienceMs);
  const connections = {
    pool,
    db: drizzle(pool, { casing: CASING }),
    writers,
    lockWaitMs: patienceMs,
    url,
    get lasting(): Connections {
      return connections;
    },
    close: async () => {
      await Promise.all([pool.end(), writers.end()]);
    },
  };
  return connections;
}

/**
 * Connections for a request that only reads: what it asks of the database ends with it.
 * @param gone aborted when nobody waits for the answer any more; reads then throw NobodyWaits
 */
export function readingUntil(connections: Connections, gone: AbortSignal): Connections {
  const { pool } = connections;
  const query = (...asked: Parameters<pg.PoolClient['query']>): Promise<unknown> =>
    borrowing(pool, gone, async (client) => client.query(...asked));
  // What a reader does with a pool.
  const lending = { query, connect: () => pool.connect() } as unknown as pg.Pool;
  let db: Database | undefined;
  return {
    ...connections,
    pool: lending,
    get db(): Database {
      return (db ??= drizzle(lending, { casing: CASING }));
    },
    gone,
    lasting: connections,
  };
}

/** Opens pools for requests. Nothing is sent before the first query. */
export const connect = (url: string): Connections => opened(url, PATIENCE_MS);

/** Opens pools for what is done in the background: it waits for locks as long as it takes. */
export const connectJobs = (url: string): Connections => opened(url, 0);

/** Brings the schema up to date; forward only. Safe when several servers start at once. */
export async function migrateUp({ pool }: Connections): Promise<void> {
  const client = await pool.connect();
  try {
    await client.query('select pg_advisory_lock(715517)');
    await migrate(drizzle(client, { casing: CASING }), { migrationsFolder: MIGRATIONS });
  } finally {
    await client.query('select pg_advisory_unlock(715517)').catch(() => undefined);
    client.release();
  }
}

/**
 * Runs work that writes in one transaction on one connection; the bare client is there for COPY.
 * Whatever is thrown rolls everything back. Waiting for a lock has a limit, see `isBusy`.
 */
export function inTransaction<T>(
  { writers, lockWaitMs }: Connections,
  work: (tx: Database, client: pg.PoolClient) => Promise<T>,
): Promise<T> {
  const begin = lockWaitMs > 0 ? `begin; set local lock_timeout = ${lockWaitMs}` : 'begin';
  return transaction(writers, undefined, begin, work);
}

/** Reads several things as one moment of the database. */
export function atOneMoment<T>(
  { pool, gone }: Connections,
  work: (tx: Database) => Promise<T>,
): Promise<T> {
  return transaction(pool, gone, 'begin isolation level repeatable read, read only', work);
}

function transaction<T>(
  pool: pg.Pool,
  gone: AbortSignal | undefined,
  begin: string,
  work: (tx: Database, client: pg.PoolClient) => Promise<T>,
): Promise<T> {
  return borrowing(pool, gone, async (client, release) => {
    try {
      await client.query(begin);
      const result = await work(drizzle(client, { casing: CASING }), client);
      await client.query('commit');
      return result;
    } catch (error) {
      await client.query('rollback').catch(() => release(true));
      throw error;
    }
  });
}

/**
 * Lends a connection to a piece of work. When nobody waits for it any more the connection is cut,
 * and PostgreSQL notices; see `CHECK_MS`.
 * @param work gets the connection, and how it is given back, broken or not, before its end
 * @throws NobodyWaits
 */
async function borrowing<T>(
  pool: pg.Pool,
  gone: AbortSignal | undefined,
  work: (client: pg.PoolClient, release: (broken: boolean) => void) => Promise<T>,
): Promise<T> {
  if (gone?.aborted) throw new NobodyWaits();
  const client = await pool.connect();
  let given = false;
  const release = (broken: boolean): void => {
    if (!given) client.release(broken);
    given = true;
  };
  const cut = (): void => release(true);
  gone?.addEventListener('abort', cut);
  try {
    if (gone?.aborted) throw new NobodyWaits();
    return await work(client, release);
  } catch (error) {
    throw gone?.aborted ? new NobodyWaits() : error;
  } finally {
    gone?.removeEventListener('abort', cut);
    release(false);
  }
}

/**
 * Rows of a statement. It has room for some tens of thousands of values, and no row here has more
 * than twelve; but putting it together keeps others waiting.
 */
const PORTION = 500;

/** Does something with rows, a portion after the other, in their order; they are made as needed. */
export async function inPortions<Row>(
  rows: Iterable<Row>,
  work: (portion: Row[]) => Promise<unknown>,
): Promise<void> {
  let portion: Row[] = [];
  for (const row of rows) {
    portion.push(row);
    if (portion.length < PORTION) continue;
    await work(portion);
    await afterOthers();
    portion = [];
  }
  if (portion.length > 0) await work(portion);
}

/**
 * Inserts rows that get ids, a portion after the other.
 * @returns the ids in the order of the rows: they are handed out in it, and come back in any
 */
export async function insertedIds<Row>(
  rows: Iterable<Row>,
  insert: (portion: Row[]) => Promise<{ id: number }[]>,
): Promise<number[]> {
  const ids: number[] = [];
  await inPortions(rows, async (portion) => {
    const made = await insert(portion);
    ids.push(...made.map(({ id }) => id).sort((a, b) => a - b));
  });
  return ids;
}

/** The first row, which the caller knows to be there (an insert that returns, an aggregate). */
export function one<T>(rows: readonly T[]): T {
  const [row] = rows;
  if (row === undefined) throw new Error('A query that always gives a row gave none');
  return row;
}

/** A month as the database keeps it: the first of the month. */
export function toFirst(month: string): string {
  return `${month}-01`;
}

/** A month as the wire has it, `2026-04`, from the first of the month. */
export function fromFirst(date: string): string {
  return date.slice(0, 7);
}
