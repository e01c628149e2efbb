/** Building, starting and filling the application; used by the demo, by `start` and by the tests. */
import { fork, spawn, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { createDatabase, databaseExists, dropDatabase, renameDatabase } from './databases.mjs';
import { ROOT, stateFolder } from './places.mjs';
import { MEMORY_ENVIRONMENT, memoryFlags } from '../server/src/platform/memory.mjs';

const BUILT = `${ROOT}/web/dist`;

/**
 * Every file below a folder, with what tells whether it changed.
 * @param {string} folder
 * @returns {string[]}
 */
function fingerprints(folder) {
  return readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => {
      const path = `${entry.parentPath}/${entry.name}`;
      const { size, mtimeMs } = statSync(path);
      return `${path} ${size} ${mtimeMs}`;
    })
    .sort();
}

/**
 * Runs a program to its end while this process goes on.
 * @param {string} program
 * @param {string[]} args
 * @param {import('node:child_process').SpawnOptions} [options]
 * @returns {Promise<void>} refused when it ends badly
 */
function runToEnd(program, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { cwd: ROOT, ...options });
    child.once('error', reject);
    child.once('exit', (code) => {
      if (code === 0) resolve();
      else reject(new Error(`${program} ${args[0] ?? ''} ended with ${code}`));
    });
  });
}

/** Builds the browser application unless what is built comes from the same sources. */
export async function ensureBuilt() {
  const sources = ['web/src', 'web/public', 'core/src', 'contract/src']
    .map((name) => `${ROOT}/${name}`)
    .filter((path) => existsSync(path))
    .flatMap(fingerprints);
  const single = ['web/index.html', 'web/vite.config.ts', 'package-lock.json'].map((name) =>
    readFileSync(`${ROOT}/${name}`, 'utf8'),
  );
  const hash = createHash('sha256')
    .update([...sources, ...single].join('\n'))
    .digest('hex');
  const stamp = `${BUILT}/.sources`;
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return;
  console.log('Building the browser application');
  await runToEnd('npm', ['run', '--silent', 'build', '-w', 'web'], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  writeFileSync(stamp, hash);
}

/** A secret for signing session cookies, made once for this clone. */
export function sessionSecret() {
  const file = `${stateFolder()}/session-secret`;
  if (!existsSync(file))
    writeFileSync(file, randomBytes(32).toString('base64url'), { mode: 0o600 });
  return readFileSync(file, 'utf8');
}

/**
 * Starts the server as a process of its own and waits until it listens. The simulated order book is
 * on this machine: where it is tried, `allowedNetworks` lets connections ask it.
 * @param {{ databaseUrl: string, port?: number, host?: string, webFolder?: string, logLevel?: string, watch?: boolean, allowedNetworks?: string }} options
 * @returns {Promise<{ port: number, process: import('node:child_process').ChildProcess, stop(): Promise<void> }>}
 */
export function startServer({
  databaseUrl,
  port = 0,
  host = '127.0.0.1',
  webFolder = BUILT,
  logLevel = 'error',
  watch = false,
  allowedNetworks = '',
}) {
  const child = fork(`${ROOT}/server/src/api/main.ts`, {
    execArgv: [
      ...(watch ? ['--watch', '--watch-preserve-output'] : []),
      ...memoryFlags(process.env),
      '--import',
      'tsx',
    ],
    cwd: ROOT,
    env: {
      ...MEMORY_ENVIRONMENT,
      ...process.env,
      DATABASE_URL: databaseUrl,
      SESSION_SECRET: process.env['SESSION_SECRET'] ?? sessionSecret(),
      PORT: String(port),
      HOST: host,
      ...(webFolder === '' ? {} : { WEB_FOLDER: webFolder }),
      LOG_LEVEL: process.env['LOG_LEVEL'] ?? logLevel,
      ALLOWED_NETWORKS: process.env['ALLOWED_NETWORKS'] ?? allowedNetworks,
    },
  });
  return new Promise((resolve, reject) => {
    child.once('message', (message) => {
      const { port: listening } = /** @type {{ port: number }} */ (message);
      resolve({
        port: listening,
        process: child,
        stop: () =>
          new Promise((done) => {
            if (child.exitCode !== null || child.signalCode !== null) {
              done();
              return;
            }
            child.once('exit', () => done());
            child.kill('SIGTERM');
          }),
      });
    });
    child.once('exit', (code) =>
      reject(new Error(`The server ended at its start (exit code ${code})`)),
    );
  });
}

/**
 * Starts a process that serves databases one after the other: a server for each costs seconds.
 * @returns {{ open(databaseUrl: string): Promise<{ port: number, stop(): Promise<unknown> }>, end(): void }}
 */
export function startHost() {
  const child = fork(`${ROOT}/server/src/testing/host.ts`, {
    execArgv: ['--import', 'tsx'],
    cwd: ROOT,
  });
  /** @type {Map<number, { resolve(port: number): void, reject(error: Error): void }>} */
  const waiting = new Map();
  let asked = 0;
  child.on('message', (message) => {
    const { id, port, error } = /** @type {{ id: number, port: number, error?: string }} */ (
      message
    );
    if (error === undefined) waiting.get(id)?.resolve(port);
    else waiting.get(id)?.reject(new Error(error));
    waiting.delete(id);
  });
  child.once('exit', () => {
    for (const { reject } of waiting.values()) reject(new Error('The process of servers ended'));
  });
  /** @returns {Promise<number>} */
  const ask = (/** @type {object} */ what) =>
    new Promise((resolve, reject) => {
      asked += 1;
      waiting.set(asked, { resolve, reject });
      child.send({ id: asked, ...what });
    });
  return {
    open: async (databaseUrl) => {
      const port = await ask({ open: databaseUrl, webFolder: BUILT });
      return { port, stop: () => ask({ close: port }) };
    },
    end: () => child.disconnect(),
  };
}

/**
 * Creates somebody who can sign in.
 * @param {string} databaseUrl
 * @param {{ email: string, name: string, password: string }} person
 */
export function createPerson(databaseUrl, { email, name, password }) {
  const script = `${ROOT}/server/src/people/create-person.ts`;
  const result = spawnSync(process.execPath, ['--import', 'tsx', script, email, name], {
    cwd: ROOT,
    input: password,
    encoding: 'utf8',
    env: { ...process.env, DATABASE_URL: databaseUrl },
  });
  if (result.status !== 0) throw new Error(`The first person could not be made:\n${result.stderr}`);
}

/**
 * Loads the sample company through a running server, as `dravex load` does for anybody's files.
 * @param {number} port
 * @param {{ email: string, password: string }} person
 */
function loadSample(port, { email, password }) {
  return runToEnd(
    process.execPath,
    [
      `${ROOT}/cli/dravex.mjs`,
      'load',
      `${ROOT}/sample/data`,
      '--server',
      `http://127.0.0.1:${port}`,
      '--email',
      email,
    ],
    {
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, DRAVEX_PASSWORD: password },
    },
  );
}

/** The sample planner, in the sample data and nowhere else. */
export const PLANNER = {
  email: 'planner@ondwell.example',
  name: 'Mara Ellingsen',
  password: 'plan the year',
};

/**
 * Whoever else can sign in to the sample company.
 * @returns {{ role: string, email: string, password: string }[]}
 */
export function samplePeople() {
  return JSON.parse(readFileSync(`${ROOT}/sample/data/people.json`, 'utf8'));
}

const SAMPLE_DATABASE = 'ondwell';
const LOADING = 'ondwell_loading';

/**
 * The address of the sample company's database in a cluster; loads it the first time. It is loaded
 * under another name first, so that an interrupted load is never taken for the whole.
 * @param {{ url(database: string): string }} cluster
 * @returns {Promise<string>}
 */
export async function openSample(cluster) {
  const admin = cluster.url('postgres');
  if (!(await databaseExists(admin, SAMPLE_DATABASE))) {
    console.log('Loading the sample company');
    await dropDatabase(admin, LOADING);
    await createDatabase(admin, LOADING);
    await fillWithSample(cluster.url(LOADING));
    await renameDatabase(admin, LOADING, SAMPLE_DATABASE);
  }
  return cluster.url(SAMPLE_DATABASE);
}

const EMPTY_DATABASE = 'empty';

/**
 * The address of a database in which nothing is planned, with somebody who can sign in.
 * @param {{ url(database: string): string }} cluster
 * @returns {Promise<string>}
 */
export async function openEmpty(cluster) {
  const admin = cluster.url('postgres');
  if (!(await databaseExists(admin, EMPTY_DATABASE))) {
    await createDatabase(admin, EMPTY_DATABASE);
    createPerson(cluster.url(EMPTY_DATABASE), PLANNER);
  }
  return cluster.url(EMPTY_DATABASE);
}

/**
 * Loads the sample company into an empty database, through a server of its own.
 * @param {string} databaseUrl
 */
export async function fillWithSample(databaseUrl) {
  createPerson(databaseUrl, PLANNER);
  const server = await startServer({ databaseUrl, webFolder: '' });
  try {
    await loadSample(server.port, PLANNER);
  } finally {
    await server.stop();
  }
}

/** The database that every test clones. */
export const TEMPLATE = 'sample_template';

/**
 * The sample company once, as a template that every test clones.
 * @param {{ url(database: string): string }} cluster
 */
export async function makeTemplate(cluster) {
  const admin = cluster.url('postgres');
  await dropDatabase(admin, TEMPLATE);
  await createDatabase(admin, TEMPLATE);
  await fillWithSample(cluster.url(TEMPLATE));
}

/**
 * Starts the simulated order book in a process of its own, which ends with this one.
 * @param {number} port
 * @returns {Promise<string>} in words: its address and its key, or why it is not there
 */
export function startOrderBook(port) {
  const key = 'a-key-for-trying';
  const child = fork(`${ROOT}/standins/src/main.ts`, {
    execArgv: ['--import', 'tsx'],
    cwd: ROOT,
    env: { ...process.env, ORDER_BOOK_PORT: String(port), ORDER_BOOK_KEY: key },
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  });
  child.unref();
  return new Promise((resolve) => {
    child.once('message', (message) => {
      child.channel?.unref();
      const { port: listening } = /** @type {{ port: number }} */ (message);
      resolve(`http://127.0.0.1:${listening}, key ${key}`);
    });
    child.once('exit', () => resolve(`none, port ${port} is taken; ORDER_BOOK_PORT names another`));
  });
}

/**
 * Starts something and stops it, with its cluster, on Ctrl+C, on a kill, or when it ends by itself.
 * @param {{ stop(): void } | undefined} cluster
 * @param {() => Promise<{ process: import('node:child_process').ChildProcess, stop(): Promise<void> }>} start
 */
export async function serveUntilStopped(cluster, start) {
  /** @type {Awaited<ReturnType<typeof start>> | undefined} */
  let server;
  let stopping = false;
  /** @param {number} code */
  async function stop(code) {
    if (stopping) return;
    stopping = true;
    await server?.stop();
    cluster?.stop();
    process.exit(code);
  }
  process.on('SIGINT', () => void stop(0));
  process.on('SIGTERM', () => void stop(0));
  try {
    server = await start();
    server.process.once('exit', () => void stop(1));
  } catch (error) {
    console.error(error instanceof Error ? error.message : error);
    await stop(1);
  }
}
