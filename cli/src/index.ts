export { Client, RequestFailed } from './client.ts';
export { loadFolder } from './load.ts';
