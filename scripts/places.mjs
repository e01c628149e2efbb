/** Where things are: the clone, and the folder in which databases and secrets are kept. */
import { createHash } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** The top of this clone. */
export const ROOT = fileURLToPath(new URL('..', import.meta.url)).replace(/\/$/, '');

/**
 * The folder of this clone's databases. As root they lie outside the clone, because PostgreSQL
 * runs as the user `postgres`, who may not be able to enter it.
 * @returns {string}
 */
export function stateFolder() {
  const clone = createHash('sha256').update(ROOT).digest('hex').slice(0, 10);
  const folder = process.getuid?.() === 0 ? `/var/lib/dravex/${clone}` : `${ROOT}/.dravex`;
  mkdirSync(folder, { recursive: true });
  return folder;
}
