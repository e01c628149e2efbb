/**
 * `npm run strain -- PART`: the tests that strain a server, in their long form. Each ends by itself.
 * Parts: `routes` (every route asked for the most it takes), `odd` (what nobody means, everywhere),
 * `bombs` (small files that would be large), `files` (mutated files), `kills` (a server killed in the
 * middle of edits). What many people do at once is measured by `npm run bench -- load`.
 */
import { spawnSync } from 'node:child_process';
import { ensureDependencies } from './dependencies.mjs';
import { ensurePackages } from './packages.mjs';
import { ROOT } from './places.mjs';

/** @type {Record<string, { test: string, only?: string, environment: Record<string, string> }>} */
const PARTS = {
  routes: { test: 'server/src/api/worst.test.ts', environment: { SAID: '1' } },
  odd: { test: 'server/src/api/odd.test.ts', environment: { ODD_ALL: '1' } },
  bombs: { test: 'server/src/exchange/bombs.test.ts', environment: { BOMB_MB: '960' } },
  files: { test: 'server/src/exchange/mutated.test.ts', environment: { MUTATED: '800' } },
  kills: {
    test: 'server/src/testing/faults.test.ts',
    only: 'burst of edits',
    environment: { KILLS: '60' },
  },
};

const part = PARTS[process.argv[2] ?? ''];
if (!part) {
  console.error(`Name a part: ${Object.keys(PARTS).join(', ')}`);
  process.exit(1);
}
ensurePackages({ postgres: true });
ensureDependencies();
const { startCluster } = await import('./cluster.mjs');
const { makeTemplate, TEMPLATE } = await import('./application.mjs');
const cluster = await startCluster('test', { durable: false });
try {
  await makeTemplate(cluster);
  const { status } = spawnSync(
    `${ROOT}/node_modules/.bin/mocha`,
    [
      ...['--import=tsx', '--exit', '--timeout=1800000'],
      ...(part.only === undefined ? [] : ['--grep', part.only]),
      part.test,
    ],
    {
      cwd: ROOT,
      stdio: 'inherit',
      env: {
        ...process.env,
        TEST_ADMIN_URL: cluster.url('postgres'),
        TEST_TEMPLATE: TEMPLATE,
        ...part.environment,
      },
    },
  );
  process.exitCode = status ?? 1;
} finally {
  cluster.stop();
}
