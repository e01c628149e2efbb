/** `npm run demo`: sets up whatever is missing and serves the application with the sample company. */
import { ensureDependencies } from './dependencies.mjs';
import { ensurePackages } from './packages.mjs';

ensurePackages({ postgres: true });
ensureDependencies();

const { startCluster } = await import('./cluster.mjs');
const { createDatabase, databaseExists, dropDatabase, renameDatabase } =
  await import('./databases.mjs');
const { createPerson, ensureBuilt, loadSample, PLANNER, startServer } =
  await import('./application.mjs');

const NAME = 'ondwell';
const LOADING = 'ondwell_loading';
const PORT = Number(process.env['PORT'] ?? 4600);

ensureBuilt();
const cluster = await startCluster('demo', { durable: true });
const admin = cluster.url('postgres');

/** @type {Awaited<ReturnType<typeof startServer>> | undefined} */
let server;
let stopping = false;
async function stop() {
  if (stopping) return;
  stopping = true;
  await server?.stop();
  cluster.stop();
  process.exit(0);
}
process.on('SIGINT', () => void stop());
process.on('SIGTERM', () => void stop());

try {
  if (!(await databaseExists(admin, NAME))) {
    console.log('Loading the sample company');
    // Loaded under another name first, so that an interrupted load is never taken for the whole.
    await dropDatabase(admin, LOADING);
    await createDatabase(admin, LOADING);
    createPerson(cluster.url(LOADING), PLANNER);
    const loading = await startServer({ databaseUrl: cluster.url(LOADING) });
    loadSample(loading.port, PLANNER);
    await loading.stop();
    await renameDatabase(admin, LOADING, NAME);
  }
  server = await startServer({ databaseUrl: cluster.url(NAME), port: PORT });
  server.process.once('exit', () => void stop());
  console.log(`
Dravex is at  http://127.0.0.1:${server.port}
Sign in with  ${PLANNER.email}  and  ${PLANNER.password}
Stop with     Ctrl+C`);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  if (!stopping) cluster.stop();
  process.exit(1);
}
