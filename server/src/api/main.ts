/** Starts the server: reads the environment, brings the schema up to date, listens. */
import { dropPutAway } from '../actuals/store.ts';
import { dropOldAnswers } from '../journal/store.ts';
import { ownerOf } from '../connections/run.ts';
import { sealOldKeys } from '../connections/store.ts';
import { createApp } from './app.ts';
import { serverOf } from './server.ts';
import { dropOldEvents } from '../people/audit.ts';
import { dropOver } from '../people/throttle.ts';
import { readConfig, type Config } from '../platform/config.ts';
import { connect, migrateUp, type Connections } from '../platform/database.ts';
import { makeLog } from '../platform/log.ts';
import { Sealer } from '../platform/sealer.ts';
import { dropLeftWork } from '../platform/work-files.ts';

/** Ends the process with a sentence instead of a stack. */
function giveUp(what: string, error: unknown): never {
  const reason = error instanceof Error ? error.message || error.name : String(error);
  process.stderr.write(`${what}: ${reason}\n`);
  process.exit(1);
}

function configured(): Config {
  try {
    return readConfig(process.env);
  } catch (error) {
    return giveUp('Dravex cannot start', error);
  }
}

async function opened({ databaseUrl, readOnly }: Config): Promise<Connections> {
  try {
    const connections = connect(databaseUrl);
    // A replica is brought up to date by what it copies.
    if (!readOnly) await migrateUp(connections);
    return connections;
  } catch (error) {
    return giveUp('The database that DATABASE_URL names cannot be used', error);
  }
}

const HOUR_MS = 3_600_000;

/** What a server does at its start, and every hour, that writes. */
async function begin(): Promise<void> {
  const sealer = new Sealer(config.secretKey);
  await sealOldKeys(connections.db, Sealer.isSealed, (key, workspaceId) =>
    sealer.seal(key, ownerOf(workspaceId)),
  );
  const tidy = (): Promise<unknown> =>
    Promise.all([
      dropOldAnswers(connections.db),
      dropPutAway(connections.db),
      dropOldEvents(connections.db),
      dropOver(connections),
    ]);
  await tidy();
  setInterval(() => void tidy().catch(() => undefined), HOUR_MS).unref();
  // What was sent and not done when a server ended is done by the next one.
  await queue.start();
}

const config = configured();
const log = makeLog(config.logLevel);
const connections = await opened(config);

const { app, queue, close } = createApp(connections, config, log);
const server = serverOf(app);
await dropLeftWork();
if (!config.readOnly) await begin();
server.on('error', (error) => {
  giveUp(`Dravex cannot listen on ${config.host}:${config.port}; PORT names another port`, error);
});
server.listen(config.port, config.host, () => {
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : config.port;
  log.info(`Dravex listens on http://${config.host}:${port}`);
  process.send?.({ port });
});

/** Requests that are being answered. Browsers also keep connections open that ask nothing. */
let answering = 0;
let ending = false;
const hangUp = (): void => {
  if (ending && answering === 0) server.closeAllConnections();
};
server.on('request', (_, response) => {
  answering += 1;
  response.once('close', () => {
    answering -= 1;
    hangUp();
  });
});

function stop(): void {
  ending = true;
  const closed = close();
  server.close(() => void closed.then(() => connections.close()).then(() => process.exit(0)));
  hangUp();
  setTimeout(() => process.exit(0), 5000).unref();
}
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
process.on('disconnect', stop);
