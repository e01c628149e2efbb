/**
 * `npm start`: serves the built application on an outside database named by DATABASE_URL; without
 * one, on a cluster of this clone's own with an empty database.
 */
import { ensureDependencies } from './dependencies.mjs';
import { ensurePackages } from './packages.mjs';

const outside = process.env['DATABASE_URL'];
ensurePackages({ postgres: outside === undefined });
ensureDependencies();

const { ensureBuilt, serveUntilStopped, startServer } = await import('./application.mjs');
const { startCluster } = await import('./cluster.mjs');
const { createDatabase, databaseExists } = await import('./databases.mjs');

await ensureBuilt();
const cluster = outside === undefined ? await startCluster('main', { durable: true }) : undefined;
await serveUntilStopped(cluster, async () => {
  if (cluster && !(await databaseExists(cluster.url('postgres'), 'dravex'))) {
    await createDatabase(cluster.url('postgres'), 'dravex');
  }
  const server = await startServer({
    databaseUrl: outside ?? cluster?.url('dravex') ?? '',
    port: Number(process.env['PORT'] ?? 4600),
    host: process.env['HOST'] ?? '127.0.0.1',
    logLevel: 'info',
  });
  console.log(`Dravex is at http://${process.env['HOST'] ?? '127.0.0.1'}:${server.port}`);
  return server;
});
