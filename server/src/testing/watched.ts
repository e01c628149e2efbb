/**
 * A server in a process of its own that is watched while it answers: how long its event loop was
 * kept by one piece of work, and how much memory it held. Driven by messages; see `startWatched`.
 *
 * What is counted is the time in which the main thread really ran, as Linux tells it: a machine that
 * is busy with something else makes the wait longer, and not the work.
 */
import { readFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { createApp } from '../api/app.ts';
import { serverOf } from '../api/server.ts';
import { TEST_CONFIG } from './config.ts';
import { connect } from '../platform/database.ts';
import { makeLog } from '../platform/log.ts';

/** What was seen since it was last asked for. */
export interface Watched {
  /** The longest that other requests waited for the main thread, in milliseconds of its own time. */
  readonly heldMs: number;
  /** The most memory that the process held, in megabytes. */
  readonly memoryMb: number;
}

const LOOK_EVERY_MS = 10;
const seen = { held: 0, memory: 0 };

/** How long the main thread ran so far, in milliseconds. */
const ran = (): number =>
  Number(readFileSync(`/proc/self/task/${process.pid}/schedstat`, 'utf8').split(' ')[0]) / 1e6;

let before = ran();
setInterval(() => {
  const now = ran();
  seen.held = Math.max(seen.held, now - before);
  seen.memory = Math.max(seen.memory, process.memoryUsage.rss());
  before = now;
}, LOOK_EVERY_MS);

const connections = connect(process.env['DATABASE_URL'] ?? '');
const config = {
  ...TEST_CONFIG,
  patience: { tries: 1, firstPauseMs: 5 },
};
const { app, queue } = createApp(connections, config, makeLog('error'));
await queue.start();
const server = serverOf(app);
server.listen(0, '127.0.0.1', () => {
  process.send?.({ port: (server.address() as AddressInfo).port });
});
process.on('message', () => {
  const watched: Watched = { heldMs: seen.held, memoryMb: seen.memory / 1024 ** 2 };
  [seen.held, seen.memory] = [0, 0];
  process.send?.(watched);
});
process.on('disconnect', () => process.exit(0));
