/**
 * A process that serves many databases one after the other, or side by side: for tasks in the
 * browser, which each have a database of their own and would wait for a process of their own. Asked
 * by messages; see `startHost` of the scripts.
 */
import type { AddressInfo } from 'node:net';
import { createApp } from '../api/app.ts';
import { serverOf } from '../api/server.ts';
import { TEST_CONFIG } from './config.ts';
import { connect, migrateUp } from '../platform/database.ts';
import { makeLog } from '../platform/log.ts';

type Asked =
  | { readonly id: number; readonly open: string; readonly webFolder: string }
  | { readonly id: number; readonly close: number };

const serving = new Map<number, () => Promise<void>>();

/** @returns the port at which a database is served from now on */
async function open(databaseUrl: string, webFolder: string): Promise<number> {
  const connections = connect(databaseUrl);
  await migrateUp(connections);
  const config = { ...TEST_CONFIG, webFolder };
  const { app, queue, close } = createApp(connections, config, makeLog('error'));
  await queue.start();
  const server = serverOf(app);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  serving.set(port, async () => {
    await close();
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
    await connections.close();
  });
  return port;
}

process.on('message', (asked: Asked) => {
  const answer = async (): Promise<number> => {
    if ('open' in asked) return open(asked.open, asked.webFolder);
    await serving.get(asked.close)?.();
    serving.delete(asked.close);
    return 0;
  };
  answer().then(
    (port) => process.send?.({ id: asked.id, port }),
    (error: unknown) => process.send?.({ id: asked.id, error: String(error) }),
  );
});
process.on('disconnect', () => process.exit(0));
