/**
 * `npm run backup -- FILE` and `npm run restore -- FILE`: everything of an installation in one file,
 * and back. The database is the one of DATABASE_URL, or the demo's.
 */
import { spawnSync } from 'node:child_process';
import { existsSync, renameSync, rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { ensureDependencies } from './dependencies.mjs';
import { ensurePackages, postgresFolder } from './packages.mjs';

/**
 * @param {string} message
 * @returns {never}
 */
function giveUp(message) {
  console.error(message);
  process.exit(1);
}

const [what, name] = process.argv.slice(2);
if ((what !== 'backup' && what !== 'restore') || name === undefined) {
  giveUp(`Name the file: npm run ${what ?? 'backup'} -- FILE`);
}
const file = resolve(process.env['INIT_CWD'] ?? process.cwd(), name);
if (what === 'restore' && !existsSync(file)) giveUp(`${file} is not there`);

ensurePackages({ postgres: true });
ensureDependencies();
const { startCluster } = await import('./cluster.mjs');
const { createDatabase, databaseExists, dropDatabase, renameDatabase } =
  await import('./databases.mjs');

/**
 * Runs a PostgreSQL program on a database; what it says is shown when it fails.
 * @param {string} program
 * @param {string[]} args
 * @param {string} url
 * @returns {boolean}
 */
function run(program, args, url) {
  const { username, password, hostname, port, pathname } = new URL(url);
  const { status, stderr } = spawnSync(`${postgresFolder()}/${program}`, args, {
    encoding: 'utf8',
    env: {
      ...process.env,
      PGUSER: decodeURIComponent(username),
      PGPASSWORD: decodeURIComponent(password),
      PGHOST: hostname,
      PGPORT: port || '5432',
      PGDATABASE: pathname.slice(1),
    },
  });
  if (status !== 0) console.error(stderr);
  return status === 0;
}

const outside = process.env['DATABASE_URL'];
const cluster = outside === undefined ? await startCluster('demo', { durable: true }) : undefined;
const url = outside ?? cluster?.url('ondwell') ?? '';
const database = new URL(url).pathname.slice(1);
const admin = new URL(url);
admin.pathname = '/postgres';
/** @param {string} other */
const beside = (other) => Object.assign(new URL(url), { pathname: `/${other}` }).href;

try {
  if (what === 'backup') {
    // Everything of a company is in it: nobody else of the machine reads it.
    process.umask(0o077);
    // Under another name first: a back-up that was broken off is never taken for a whole one.
    const part = `${file}.part`;
    if (!run('pg_dump', ['--format=custom', '--no-owner', `--file=${part}`], url)) {
      rmSync(part, { force: true });
      throw new Error('The back-up failed; nothing was written');
    }
    renameSync(part, file);
    console.log(`Everything of ${database} is in ${file}`);
  } else {
    const fresh = `${database}_restoring`;
    await dropDatabase(admin.href, fresh);
    await createDatabase(admin.href, fresh);
    const args = ['--no-owner', '--exit-on-error', '--single-transaction'];
    if (!run('pg_restore', [...args, `--dbname=${fresh}`, file], beside(fresh))) {
      await dropDatabase(admin.href, fresh);
      throw new Error('The file could not be restored; what was there is still there');
    }
    const before = `${database}_before_restore`;
    if (await databaseExists(admin.href, database)) {
      await dropDatabase(admin.href, before);
      await renameDatabase(admin.href, database, before);
    }
    await renameDatabase(admin.href, fresh, database);
    console.log(`${database} is as it was in ${file}; what was there before is kept in ${before}`);
  }
} catch (error) {
  process.exitCode = 1;
  const inUse = error instanceof Error && /being accessed by other users/.test(error.message);
  console.error(
    inUse
      ? `${database} is in use; stop the application first`
      : error instanceof Error
        ? error.message
        : error,
  );
} finally {
  cluster?.stop();
}
