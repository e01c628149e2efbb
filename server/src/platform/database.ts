import { fileURLToPath } from 'node:url';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';

/** A connection or a transaction: what a store needs. */
export type Database = NodePgDatabase;

/** The pool of connections and Drizzle on top of it. */
export interface Connections {
  readonly pool: pg.Pool;
  readonly db: Database;
  readonly url: string;
  close(): Promise<void>;
}

const CASING = 'snake_case';
const MIGRATIONS = fileURLToPath(new URL('../../migrations', import.meta.url));

/** Opens a pool. Nothing is sent before the first query. */
export function connect(url: string): Connections {
  const pool = new pg.Pool({ connectionString: url, max: 10 });
  // A connection that breaks while it is idle is replaced at the next query.
  pool.on('error', () => undefined);
  // One that breaks in use fails its query; it must not take the process with it.
  pool.on('connect', (client) => client.on('error', () => undefined));
  return { pool, db: drizzle(pool, { casing: CASING }), url, close: () => pool.end() };
}

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
 * Runs work in one transaction on one connection; the bare client is there for COPY.
 * Whatever is thrown rolls everything back.
 */
export async function inTransaction<T>(
  { pool }: Connections,
  work: (tx: Database, client: pg.PoolClient) => Promise<T>,
): Promise<T> {
  const client = await pool.connect();
  let broken: Error | undefined;
  try {
    await client.query('begin');
    const result = await work(drizzle(client, { casing: CASING }), client);
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch((failure: unknown) => {
      broken = failure instanceof Error ? failure : new Error(String(failure));
    });
    throw error;
  } finally {
    client.release(broken);
  }
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
