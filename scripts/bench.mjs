/**
 * `npm run bench`: the core beside a bare loop and a spreadsheet-formula library, the server beside
 * bare SQL, the grid in the real browser. `npm run bench -- core`, `-- server`, `-- edit`, `-- load` or `-- grid` for a part.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureDependencies } from './dependencies.mjs';
import { chromiumPath, ensurePackages } from './packages.mjs';
import { ROOT } from './places.mjs';

const only = process.argv[2];
const wants = (/** @type {string} */ part) => only === undefined || only === part;
ensurePackages({ postgres: true, chromium: wants('grid') });
ensureDependencies();
const { createPerson, ensureBuilt, fillWithSample, PLANNER, startServer } =
  await import('./application.mjs');
const { startCluster } = await import('./cluster.mjs');
const { createDatabase, dropDatabase } = await import('./databases.mjs');

/**
 * @param {string} name
 * @param {Record<string, string>} [environment]
 * @param {string[]} [args]
 */
function run(name, environment = {}, args = []) {
  const script = `${ROOT}/bench/src/${name}.ts`;
  const { status } = spawnSync(
    process.execPath,
    ['--expose-gc', '--import', 'tsx', script, ...args],
    { cwd: ROOT, stdio: 'inherit', env: { ...process.env, ...environment } },
  );
  if (status !== 0) throw new Error(`${name} ended with ${status}`);
}

if (wants('core')) {
  run('core');
  run('subscriptions');
  run('targets');
  run('comparison');
}
if (['server', 'edit', 'load', 'grid'].some(wants)) {
  const cluster = await startCluster('bench', { durable: true });
  const admin = cluster.url('postgres');
  const url = cluster.url('bench');
  try {
    for (const part of ['server', 'edit', 'load', 'grid'].filter(wants)) {
      await dropDatabase(admin, 'bench');
      await createDatabase(admin, 'bench');
      if (part === 'edit' || part === 'load') await fillWithSample(url);
      else createPerson(url, PLANNER);
      if (part === 'grid') await ensureBuilt();
      const server = await startServer({
        databaseUrl: url,
        ...(part === 'grid' ? {} : { webFolder: '' }),
      });
      const origin = `http://127.0.0.1:${server.port}`;
      const common = {
        BENCH_ORIGIN: origin,
        BENCH_DATABASE: url,
        BENCH_SERVER_PID: String(server.process.pid),
        BENCH_EMAIL: PLANNER.email,
        BENCH_PASSWORD: PLANNER.password,
      };
      if (part !== 'grid') run(part, common);
      else {
        const rows = 2000;
        const folder = mkdtempSync(join(tmpdir(), 'dravex-bench-'));
        const file = join(folder, 'large.dravex.json');
        run('plan-file', {}, [file, String(rows)]);
        await load(origin, readFileSync(file, 'utf8'));
        rmSync(folder, { recursive: true });
        run('grid', {
          ...common,
          BENCH_CHROMIUM: chromiumPath() ?? '',
          BENCH_PLACE: '/w/1/drivers?driver=grossUnits&from=2026-01&to=2030-12',
          BENCH_ROWS: String(rows),
        });
      }
      await server.stop();
    }
  } finally {
    await dropDatabase(admin, 'bench');
    cluster.stop();
  }
}

/**
 * Makes a workspace from a plan file.
 * @param {string} origin
 * @param {string} file
 */
async function load(origin, file) {
  const json = { 'content-type': 'application/json' };
  const { email, password } = PLANNER;
  const session = await fetch(`${origin}/api/session`, {
    method: 'POST',
    headers: json,
    body: JSON.stringify({ email, password }),
  });
  const cookie = session.headers.getSetCookie()[0]?.split(';')[0] ?? '';
  const { csrfToken } = /** @type {{ csrfToken: string }} */ (await session.json());
  const made = await fetch(`${origin}/api/workspaces/plan-file`, {
    method: 'POST',
    headers: { ...json, cookie, 'x-csrf-token': csrfToken },
    body: file,
  });
  if (!made.ok) throw new Error(await made.text());
}
