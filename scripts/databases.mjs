/** Databases inside a cluster: looked for, made, cloned from a template, dropped. */
import pg from 'pg';

/**
 * @template T
 * @param {string} url of the cluster's database `postgres`
 * @param {(client: pg.Client) => Promise<T>} work
 * @returns {Promise<T>}
 */
async function administer(url, work) {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

/**
 * @param {string} url
 * @param {string} name
 */
export function databaseExists(url, name) {
  return administer(url, async (client) => {
    const { rowCount } = await client.query('select from pg_database where datname = $1', [name]);
    return rowCount === 1;
  });
}

/**
 * Makes a database, empty or as a copy of another one that nobody is connected to.
 * @param {string} url
 * @param {string} name
 * @param {string} [template]
 */
export function createDatabase(url, name, template = 'template0') {
  return administer(url, async (client) => {
    const quote = client.escapeIdentifier.bind(client);
    await client.query(`create database ${quote(name)} template ${quote(template)}`);
  });
}

/**
 * @param {string} url
 * @param {string} name
 */
export function dropDatabase(url, name) {
  return administer(url, async (client) => {
    await client.query(`drop database if exists ${client.escapeIdentifier(name)} with (force)`);
  });
}

/**
 * @param {string} url
 * @param {string} from
 * @param {string} to
 */
export function renameDatabase(url, from, to) {
  return administer(url, async (client) => {
    const quote = client.escapeIdentifier.bind(client);
    await client.query(`alter database ${quote(from)} rename to ${quote(to)}`);
  });
}
