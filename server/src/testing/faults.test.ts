/** Processes that die at the worst moment: nothing acknowledged is lost, nothing is done by half. */
import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { ImportBatch, ImportPreview, WorkspacePlan } from '@dravex/contract';
import { assert } from 'chai';
import { createPerson, PLANNER, startServer } from '../../../scripts/application.mjs';
import { startCluster } from '../../../scripts/cluster.mjs';
import { createDatabase, dropDatabase } from '../../../scripts/databases.mjs';
import { summaryDifferences } from '../actuals/read-lines.ts';
import { connect } from '../platform/database.ts';
import { SAMPLE, until, Visitor } from './serve.ts';

/** How often a server is killed in the middle of edits; `npm run strain -- kills` does it often. */
const KILLS = Number(process.env['KILLS'] ?? 1);

type Server = Awaited<ReturnType<typeof startServer>>;

const SALES = fileURLToPath(new URL('../../../sample/data/sales/fy2026.csv', import.meta.url));
/** A year of sales lines under documents that are not there yet. */
const newLines = (): string =>
  readFileSync(SALES, 'utf8').replaceAll(/,(\w+-\d+),(\d+),/g, ',again-$1,$2,');

async function signedIn(port: number): Promise<Visitor> {
  const visitor = new Visitor(`http://127.0.0.1:${port}`);
  const { status, text } = await visitor.signIn(PLANNER.email, PLANNER.password);
  assert.equal(status, 200, text);
  return visitor;
}

function kill(server: Server): Promise<void> {
  return new Promise((resolve) => {
    server.process.once('exit', () => resolve());
    server.process.kill('SIGKILL');
  });
}

/** What was acknowledged by month, and the one edit whose answer never came. */
interface Burst {
  readonly acknowledged: Map<string, number>;
  pending?: { readonly month: string; readonly value: number };
}

/** Types one month after the other until something breaks. */
async function burst(visitor: Visitor, driver: string, stop: () => boolean): Promise<Burst> {
  const told: Burst = { acknowledged: new Map() };
  for (let i = 0; !stop(); i += 1) {
    const month = `2027-${String((i % 12) + 1).padStart(2, '0')}`;
    const value = 0.01 + (i % 80) / 100;
    const body = { values: [{ scope: [], month, value }] };
    told.pending = { month, value };
    const answer = await visitor
      .send('PUT', `${SAMPLE}/drivers/${driver}/values`, body)
      .catch(() => undefined);
    if (answer?.status !== 200) break;
    told.acknowledged.set(month, value);
  }
  return told;
}

async function typed(visitor: Visitor, driver: string): Promise<Record<string, number>> {
  const { body } = await visitor.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
  const values: Record<string, number> = {};
  for (const { driver: of, scope, profile } of body.plan.assumptions) {
    if (of === driver && scope.length === 0 && profile.kind === 'months')
      Object.assign(values, profile.values);
  }
  // Above different values a typed one is laid over all of them.
  for (const { driver: of, scope, from, kind, value } of body.plan.adjustments) {
    if (of === driver && scope.length === 0 && kind === 'set') values[from ?? ''] = value;
  }
  return values;
}

/** Every acknowledged value is there; only the month that was in flight may be one edit further. */
function assertKept(values: Record<string, number>, { acknowledged, pending }: Burst): void {
  for (const [month, value] of acknowledged) {
    const allowed = pending?.month === month ? [value, pending.value] : [value];
    assert.include(allowed, values[month], month);
  }
}

describe('a server that is killed', () => {
  let url = '';
  let name = '';
  const admin = (): string => process.env['TEST_ADMIN_URL'] ?? '';
  before(async () => {
    name = `fault_${randomBytes(6).toString('hex')}`;
    await createDatabase(admin(), name, process.env['TEST_TEMPLATE']);
    const address = new URL(admin());
    address.pathname = `/${name}`;
    url = address.href;
  });
  after(() => dropDatabase(admin(), name));

  it('in the middle of a burst of edits loses none that was acknowledged', async () => {
    for (let kills = 0; kills < KILLS; kills += 1) await killedInBurst();
  }).timeout(KILLS * 60_000);

  async function killedInBurst(): Promise<void> {
    const server = await startServer({ databaseUrl: url, webFolder: '' });
    const visitor = await signedIn(server.port);
    let edits = 0;
    const enough = 5 + Math.floor(Math.random() * 40);
    const killed = until(() => edits > enough, 'edits are being kept').then(() => kill(server));
    const told = await burst(visitor, 'returnRate', () => (edits += 1) > 2000);
    await killed;
    assert.isAbove(told.acknowledged.size, 2);
    const again = await startServer({ databaseUrl: url, webFolder: '' });
    const back = await signedIn(again.port);
    assertKept(await typed(back, 'returnRate'), told);
    await again.stop();
  }

  it('in the middle of an import leaves all of it or nothing', async () => {
    const connections = connect(url);
    const lines = async (): Promise<number> => {
      const sql = `select count(*)::int as n from sales_line where document like 'again-%'`;
      return (await connections.pool.query<{ n: number }>(sql)).rows[0]?.n ?? 0;
    };
    // Once while the file is read, then at several moments while it is applied.
    let server = await startServer({ databaseUrl: url, webFolder: '' });
    let visitor = await signedIn(server.port);
    const path = `${SAMPLE}/imports?fileName=again.csv`;
    const type = { 'content-type': 'text/csv' };
    const upload = visitor.send('POST', path, newLines(), type).catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 250));
    await kill(server);
    await upload;
    let done = false;
    for (const pause of [15, 60, 200]) {
      server = await startServer({ databaseUrl: url, webFolder: '' });
      visitor = await signedIn(server.port);
      const batches = (await visitor.send<ImportBatch[]>('GET', `${SAMPLE}/imports`)).body;
      let batch = batches.find(({ fileName }) => fileName === 'again.csv');
      if (!batch) {
        const preview = await visitor.send<ImportPreview>('POST', path, newLines(), type);
        assert.equal(preview.status, 201, preview.text);
        batch = preview.body;
      }
      if (batch.state === 'applied') {
        done = true;
        await server.stop();
        break;
      }
      const apply = visitor
        .send('POST', `${SAMPLE}/imports/${batch.id}/apply`)
        .catch(() => undefined);
      await new Promise((resolve) => setTimeout(resolve, pause));
      await kill(server);
      await apply;
      // The database may still be at what the dead server asked for; it ends one way or the other.
      await until(async () => {
        const { rows } = await connections.pool.query(
          `select 1 from pg_stat_activity where datname = current_database()
           and state <> 'idle' and pid <> pg_backend_pid() and backend_type = 'client backend'`,
        );
        return rows.length === 0;
      }, 'the database is quiet');
      assert.include([0, batch.good], await lines());
      assert.equal(await summaryDifferences(connections.db, 1), 0);
    }
    if (!done) {
      server = await startServer({ databaseUrl: url, webFolder: '' });
      visitor = await signedIn(server.port);
      const batches = (await visitor.send<ImportBatch[]>('GET', `${SAMPLE}/imports`)).body;
      const batch = batches.find(({ fileName }) => fileName === 'again.csv');
      if (batch?.state === 'previewed') {
        const applied = await visitor.send('POST', `${SAMPLE}/imports/${batch.id}/apply`);
        assert.equal(applied.status, 200, applied.text);
      }
      assert.equal(await lines(), batch?.good);
      await server.stop();
    }
    assert.equal(await summaryDifferences(connections.db, 1), 0);
    await connections.close();
  }).timeout(90_000);

  it('two servers on one database serve two browsers, and each hears the other', async () => {
    const [one, two] = await Promise.all([
      startServer({ databaseUrl: url, webFolder: '' }),
      startServer({ databaseUrl: url, webFolder: '' }),
    ]);
    const first = await signedIn(one.port);
    const second = await signedIn(two.port);
    const stream = await second.follow(SAMPLE);
    const body = { values: [{ scope: [], month: '2028-03', value: 0.07 }] };
    const key = { 'idempotency-key': 'across-servers' };
    const [a, b] = await Promise.all([
      first.send('PUT', `${SAMPLE}/drivers/returnRate/values`, body, key),
      second.send('PUT', `${SAMPLE}/drivers/returnRate/values`, body, key),
    ]);
    assert.equal(a.status, 200, a.text);
    assert.deepEqual(b.body, a.body);
    await until(() => stream.heard.length > 0, 'the other server’s notice');
    assert.equal((await typed(second, 'returnRate'))['2028-03'], 0.07);
    assert.equal((await typed(first, 'returnRate'))['2028-03'], 0.07);
    // Signed in at one, signed in at both.
    first.cookie = second.cookie;
    assert.equal((await first.send('GET', '/session')).status, 200);
    stream.stop();
    await Promise.all([one.stop(), two.stop()]);
  }).timeout(30_000);
});

describe('a database that is killed', () => {
  it('loses nothing that was acknowledged, and the server goes on when it is back', async () => {
    const cluster = await startCluster('faults', { durable: true });
    const port = Number(new URL(cluster.url('x')).port);
    const admin = cluster.url('postgres');
    const url = cluster.url('faults');
    await dropDatabase(admin, 'faults');
    await createDatabase(admin, 'faults');
    createPerson(url, PLANNER);
    const server = await startServer({ databaseUrl: url, webFolder: '' });
    try {
      const visitor = await signedIn(server.port);
      const workspace = fileURLToPath(
        new URL('../../../sample/data/workspace.json', import.meta.url),
      );
      await visitor.send('POST', '/workspaces', readFileSync(workspace, 'utf8'));
      const type = { 'content-type': 'text/csv' };
      const preview = await visitor.send<ImportPreview>(
        'POST',
        `${SAMPLE}/imports?fileName=again.csv`,
        newLines(),
        type,
      );
      assert.equal(preview.status, 201, preview.text);
      const acknowledging = burst(visitor, 'returnRate', () => false);
      await new Promise((resolve) => setTimeout(resolve, 700));
      const apply = visitor
        .send('POST', `${SAMPLE}/imports/${preview.body.id}/apply`)
        .catch(() => undefined);
      await new Promise((resolve) => setTimeout(resolve, 40));
      const [pid] = readFileSync(`${cluster.data}/postmaster.pid`, 'utf8').split('\n');
      process.kill(Number(pid), 'SIGKILL');
      const told = await acknowledging;
      const applied = await apply;
      assert.isAbove(told.acknowledged.size, 2);
      assert.isNull(server.process.exitCode, 'the server lives');
      const gone = await visitor.send('GET', '/health');
      assert.equal(gone.status, 503);
      const refused = await visitor.send('GET', `${SAMPLE}/plan`);
      assert.equal(refused.status, 503, refused.text);

      // The children of a killed postmaster end by themselves, and then it can start again.
      let again: Awaited<ReturnType<typeof startCluster>> | undefined;
      await until(async () => {
        again = await startCluster('faults', { durable: true, port }).catch(() => undefined);
        return again !== undefined;
      }, 'the database starts again');
      await until(async () => (await visitor.send('GET', '/health')).status === 200, 'health');
      assertKept(await typed(visitor, 'returnRate'), told);
      const connections = connect(url);
      const counted = await connections.pool.query<{ n: number }>(
        'select count(*)::int as n from sales_line',
      );
      assert.include([0, preview.body.good], counted.rows[0]?.n);
      if (applied?.status === 200) assert.equal(counted.rows[0]?.n, preview.body.good);
      assert.equal(await summaryDifferences(connections.db, 1), 0);
      await connections.close();
    } finally {
      await server.stop();
      try {
        cluster.stop();
      } catch {
        // It was killed and did not start again: there is nothing to stop, and the test says so.
      }
    }
  }).timeout(90_000);
});
