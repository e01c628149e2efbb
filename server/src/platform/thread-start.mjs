// Threads run TypeScript as it is written, like the server: see docs/decisions/typescript-as-written.md.
import { workerData } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
await import(workerData);
