/** Debian packages that Dravex needs: installed when missing, left alone when there. */
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';

const POSTGRES_ROOT = '/usr/lib/postgresql';

/**
 * The folder of the newest PostgreSQL server's programs, or undefined.
 * @returns {string | undefined}
 */
export function postgresFolder() {
  if (!existsSync(POSTGRES_ROOT)) return undefined;
  const versions = readdirSync(POSTGRES_ROOT)
    .filter((name) => existsSync(`${POSTGRES_ROOT}/${name}/bin/initdb`))
    .sort((a, b) => Number(b) - Number(a));
  return versions[0] && `${POSTGRES_ROOT}/${versions[0]}/bin`;
}

/**
 * The browser for tests, or undefined.
 * @returns {string | undefined}
 */
export function chromiumPath() {
  return ['/usr/bin/chromium', '/usr/bin/chromium-browser'].find((path) => existsSync(path));
}

/** @param {string[]} args */
function asRoot(args) {
  const root = process.getuid?.() === 0;
  const [command, ...rest] = root ? args : ['sudo', '-n', ...args];
  execFileSync(command ?? '', rest, {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
}

/** Keeps the PostgreSQL package from making and starting a cluster of its own. */
function noMainCluster() {
  const file = '/etc/postgresql-common/createcluster.d/dravex.conf';
  if (existsSync('/etc/postgresql') || process.getuid?.() !== 0) return;
  mkdirSync('/etc/postgresql-common/createcluster.d', { recursive: true });
  writeFileSync(file, 'create_main_cluster = false\n');
}

/**
 * Installs what is missing of these.
 * @param {{ postgres?: boolean, chromium?: boolean }} needs
 */
export function ensurePackages(needs) {
  const missing = [];
  if (needs.postgres && !postgresFolder()) missing.push('postgresql');
  if (needs.chromium && !chromiumPath()) missing.push('chromium');
  if (missing.length === 0) return;
  console.log(`Installing Debian packages: ${missing.join(', ')}`);
  if (process.getuid?.() !== 0 && spawnSync('sudo', ['-n', 'true']).status !== 0) {
    throw new Error(
      `Missing: ${missing.join(', ')}. Install them once as root: apt-get install ${missing.join(' ')}`,
    );
  }
  if (missing.includes('postgresql')) noMainCluster();
  asRoot(['apt-get', 'update', '-qq']);
  asRoot(['apt-get', 'install', '-y', '-qq', '--no-install-recommends', ...missing]);
}
