/** The packages of package-lock.json: installed when they are not there or the lock file changed. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { ROOT } from './places.mjs';

/** Installs dependencies unless they fit the lock file already. */
export function ensureDependencies() {
  const lock = createHash('sha256')
    .update(readFileSync(`${ROOT}/package-lock.json`))
    .digest('hex');
  const stamp = `${ROOT}/node_modules/.dravex-lock`;
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing dependencies');
  execFileSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  writeFileSync(stamp, lock);
}
