import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { assert } from 'chai';
import pg from 'pg';
import { createDatabase, databaseExists, dropDatabase } from './databases.mjs';

const SCRIPT = fileURLToPath(new URL('backup.mjs', import.meta.url));

describe('backup and restore', () => {
  const folder = mkdtempSync(join(tmpdir(), 'dravex-'));
  const admin = process.env['TEST_ADMIN_URL'] ?? '';
  const name = `backup_${randomBytes(6).toString('hex')}`;
  const url = Object.assign(new URL(admin), { pathname: `/${name}` }).href;
  before(() => createDatabase(admin, name, process.env['TEST_TEMPLATE']));
  after(async () => {
    rmSync(folder, { recursive: true });
    await dropDatabase(admin, name);
    await dropDatabase(admin, `${name}_before_restore`);
  });

  function run(...args: string[]): { status: number | null; out: string } {
    const { status, stdout, stderr } = spawnSync(process.execPath, [SCRIPT, ...args], {
      encoding: 'utf8',
      cwd: folder,
      env: { ...process.env, DATABASE_URL: url, INIT_CWD: folder },
    });
    return { status, out: stdout + stderr };
  }

  /** A fingerprint of every row of every table. */
  async function contents(): Promise<Record<string, string>> {
    const client = new pg.Client({ connectionString: url });
    await client.connect();
    const { rows } = await client.query<{ name: string }>(
      `select table_name as name from information_schema.tables where table_schema = 'public' order by 1`,
    );
    const found: Record<string, string> = {};
    for (const { name: table } of rows) {
      const sum = await client.query<{ sum: string }>(
        `select count(*) || ' ' || coalesce(md5(string_agg(t::text, '|' order by t::text)), '') as sum from "${table}" t`,
      );
      found[table] = sum.rows[0]?.sum ?? '';
    }
    await client.end();
    return found;
  }

  it('brings everything back as it was', async () => {
    const before = await contents();
    assert.isAbove(Object.keys(before).length, 15);
    const saved = run('backup', 'all.backup');
    assert.equal(saved.status, 0, saved.out);
    assert.equal(statSync(join(folder, 'all.backup')).mode & 0o077, 0, 'nobody else reads it');
    const client = new pg.Client({ connectionString: url });
    await client.connect();
    await client.query('delete from journal_change');
    await client.query(`update sales_line set net_amount = net_amount + 1`);
    await client.end();
    assert.notDeepEqual(await contents(), before);
    const restored = run('restore', 'all.backup');
    assert.equal(restored.status, 0, restored.out);
    assert.deepEqual(await contents(), before);
    assert.isTrue(await databaseExists(admin, `${name}_before_restore`));
  }).timeout(60_000);

  it('leaves what is there alone when the file is none', async () => {
    const before = await contents();
    writeFileSync(join(folder, 'none.backup'), 'this is no back-up');
    assert.equal(run('restore', 'none.backup').status, 1);
    assert.equal(run('restore', 'nowhere.backup').status, 1);
    assert.equal(run('restore').status, 1);
    assert.deepEqual(await contents(), before);
  }).timeout(60_000);
});
