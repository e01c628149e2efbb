import { assert } from 'chai';
import { withSample } from '../testing/serve.ts';
import { readConfig } from './config.ts';
import { csvField } from './csv.ts';
import { migrateUp } from './database.ts';

describe('platform', () => {
  const sample = withSample();

  it('answers what is not there and what is no JSON as problems, and goes on', async () => {
    assert.equal((await sample.planner.send('GET', '/nothing')).status, 404);
    const broken = await sample.planner.send('POST', '/session', '{"email":');
    assert.equal(broken.status, 400);
    assert.equal(broken.problem?.detail, 'The body is not JSON');
    const large = await sample.planner.send(
      'POST',
      '/session',
      JSON.stringify({ email: 'x'.repeat(5_000_000) }),
    );
    assert.equal(large.status, 413);
    assert.equal((await sample.planner.send('GET', '/health')).status, 200);
  });

  it('migrates again without harm', async () => {
    await Promise.all([migrateUp(sample.served.connections), migrateUp(sample.served.connections)]);
  });

  it('keeps every key of workspace data under its workspace', async () => {
    const { rows } = await sample.served.connections.pool.query<{
      table_name: string;
      first: string;
    }>(`
      select k.table_name, min(k.column_name) filter (where k.ordinal_position = 1) as first
      from information_schema.table_constraints c
      join information_schema.key_column_usage k using (constraint_name, table_name)
      where c.constraint_type = 'PRIMARY KEY' and c.table_schema = 'public' group by 1`);
    const outside = [
      ...['workspace', 'person', 'password_link', 'session'],
      ...['sign_in_throttle', 'answered_request', 'audit_event', 'recovery_code'],
    ];
    for (const { table_name, first } of rows) {
      if (!outside.includes(table_name)) assert.equal(first, 'workspace_id', table_name);
    }
    assert.isAbove(rows.length, 10);
    // Whoever spreads workspaces over machines needs every reference to name the workspace too.
    const { rows: references } = await sample.served.connections.pool.query<{
      name: string;
      from: string;
      to: string;
      columns: string[];
    }>(`
      select c.conname as name, c.conrelid::regclass::text as from, c.confrelid::regclass::text as to,
        array(select a.attname::text from unnest(c.conkey) k join pg_attribute a
          on a.attrelid = c.conrelid and a.attnum = k) as columns
      from pg_constraint c where c.contype = 'f' and c.connamespace = 'public'::regnamespace`);
    for (const { name, from, to, columns } of references) {
      if (!outside.includes(to)) assert.include(columns, 'workspace_id', `${name} of ${from}`);
    }
    assert.isAbove(references.length, 20);
  });

  it('names every setting that is missing', () => {
    assert.throws(() => readConfig({ PORT: 'x' }), /DATABASE_URL[^]*SESSION_SECRET[^]*PORT/);
  });

  it('neutralises what a spreadsheet would run', () => {
    assert.deepEqual(['=1', '+1', '@x', '-1', 'a"b', -1, null].map(csvField), [
      "'=1",
      "'+1",
      "'@x",
      "'-1",
      '"a""b"',
      '-1',
      '',
    ]);
  });
});
