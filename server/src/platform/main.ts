/** Starts the server: reads the environment, brings the schema up to date, listens. */
import { createServer } from 'node:http';
import { pino } from 'pino';
import { createApp } from './app.ts';
import { readConfig } from './config.ts';
import { connect, migrateUp } from './database.ts';

const config = readConfig(process.env);
const log = pino({
  level: config.logLevel,
  redact: ['req.headers.cookie', 'req.headers["x-csrf-token"]', 'res.headers["set-cookie"]'],
});
const connections = connect(config.databaseUrl);
await migrateUp(connections);

const server = createServer(createApp(connections, config, log));
server.listen(config.port, config.host, () => {
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : config.port;
  log.info(`Dravex listens on http://${config.host}:${port}`);
  process.send?.({ port });
});

function stop(): void {
  server.close(() => void connections.close().then(() => process.exit(0)));
  server.closeIdleConnections();
  setTimeout(() => process.exit(0), 5000).unref();
}
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
process.on('disconnect', stop);
