/** `npm run demo`: sets up whatever is missing and serves the application with the sample company. */
import { ensureDependencies } from './dependencies.mjs';
import { ensurePackages } from './packages.mjs';

ensurePackages({ postgres: true });
ensureDependencies();

const { ensureBuilt, openSample, PLANNER, serveUntilStopped, startServer } =
  await import('./application.mjs');
const { startCluster } = await import('./cluster.mjs');

ensureBuilt();
const cluster = await startCluster('demo', { durable: true });
await serveUntilStopped(cluster, async () => {
  const databaseUrl = await openSample(cluster);
  const server = await startServer({ databaseUrl, port: Number(process.env['PORT'] ?? 4600) });
  console.log(`
Dravex is at  http://127.0.0.1:${server.port}
Sign in with  ${PLANNER.email}  and  ${PLANNER.password}
Stop with     Ctrl+C`);
  return server;
});
