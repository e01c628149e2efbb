/**
 * `npm run demo`: sets up whatever is missing and serves the application with the sample company;
 * `npm run demo -- --empty` serves an installation in which nothing is planned yet.
 */
import { ensureDependencies } from './dependencies.mjs';
import { ensurePackages } from './packages.mjs';

const empty = process.argv.includes('--empty');
const strange = process.argv.slice(2).find((argument) => argument !== '--empty');
if (strange !== undefined) {
  console.error(`There is no "${strange}"; --empty starts without sample data`);
  process.exit(2);
}

ensurePackages({ postgres: true });
ensureDependencies();

const {
  ensureBuilt,
  openEmpty,
  openSample,
  PLANNER,
  samplePeople,
  serveUntilStopped,
  startOrderBook,
  startServer,
} = await import('./application.mjs');
const { startCluster } = await import('./cluster.mjs');

await ensureBuilt();
const cluster = await startCluster('demo', { durable: true });
const book = startOrderBook(Number(process.env['ORDER_BOOK_PORT'] ?? 4610));
await serveUntilStopped(cluster, async () => {
  const databaseUrl = await (empty ? openEmpty(cluster) : openSample(cluster));
  const server = await startServer({
    databaseUrl,
    port: Number(process.env['PORT'] ?? 4600),
    allowedNetworks: '127.0.0.1',
  });
  const others = empty
    ? ''
    : samplePeople()
        .map(({ role, email, password }) => `  or as a ${role}  ${email}  and  ${password}\n`)
        .join('');
  console.log(`
Dravex is at  http://127.0.0.1:${server.port}
Sign in with  ${PLANNER.email}  and  ${PLANNER.password}
${others}An order book to connect under Settings, Connections:  ${await book}
Stop with     Ctrl+C`);
  return server;
});
