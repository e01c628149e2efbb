/** Starts a server on the sample company in a process of its own that is watched; see `watched.ts`. */
import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { MEMORY_ENVIRONMENT, memoryFlags } from '../platform/memory.mjs';
import { cloneOfSample, Visitor } from './serve.ts';
import type { Watched } from './watched.ts';

export interface WatchedServer {
  readonly origin: string;
  /** The sample planner, signed in. */
  readonly planner: Visitor;
  /** Does something, and tells what it did to the server meanwhile. */
  watching<T>(work: () => Promise<T>): Promise<Watched & { readonly result: T }>;
  close(): Promise<void>;
}

export async function startWatched(): Promise<WatchedServer> {
  const { url, drop } = await cloneOfSample();
  const child = fork(fileURLToPath(new URL('./watched.ts', import.meta.url)), [], {
    execArgv: ['--import=tsx', ...memoryFlags({})],
    env: { ...process.env, DATABASE_URL: url, ...MEMORY_ENVIRONMENT },
  });
  const heard = <T>(): Promise<T> =>
    new Promise((resolve, reject) => {
      const ended = (code: number | null): void => reject(new Error(`The server ended: ${code}`));
      child.once('exit', ended);
      child.once('message', (message) => {
        child.off('exit', ended);
        resolve(message as T);
      });
    });
  const { port } = await heard<{ port: number }>();
  const origin = `http://127.0.0.1:${port}`;
  const planner = new Visitor(origin);
  await planner.signIn('planner@ondwell.example', 'plan the year');
  const seen = async (): Promise<Watched> => {
    const next = heard<Watched>();
    child.send('look');
    return next;
  };
  return {
    origin,
    planner,
    watching: async (work) => {
      await seen();
      const result = await work();
      return { ...(await seen()), result };
    },
    close: async () => {
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.disconnect();
      await ended;
      await drop();
    },
  };
}
