import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { assert } from 'chai';
import { serveSample, type Served } from '../../server/src/testing/serve.ts';
import { bringFile } from './bring.ts';
import { Client, RequestFailed } from './client.ts';
import { loadFolder } from './load.ts';
import { called } from './testing/terminal.ts';

const TOOL = fileURLToPath(new URL('../dravex.mjs', import.meta.url));

describe('dravex', () => {
  it('is a program of its own, with its exit code and the password of its environment', () => {
    const tried = (args: string[], password: string) =>
      spawnSync(process.execPath, [TOOL, ...args], {
        encoding: 'utf8',
        env: { ...process.env, DRAVEX_PASSWORD: password },
      });
    const helped = tried(['--help'], '');
    assert.deepInclude(helped, { status: 0, stderr: '' });
    assert.include(helped.stdout, 'dravex load FOLDER');
    const load = ['load', '.', '--email', 'a@b.example', '--server', 'http://127.0.0.1:9'];
    const silent = tried(load, '');
    assert.equal(silent.status, 2);
    assert.include(silent.stderr, 'DRAVEX_PASSWORD');
    const alone = tried(load, 'x');
    assert.equal(alone.status, 1);
    assert.notInclude(alone.stderr, '    at ');
    assert.include(alone.stderr, 'http://127.0.0.1:9');
  });

  it('says what is missing and how it is used', async () => {
    const cases: [string[], string | undefined, string][] = [
      [[], undefined, 'Name a command'],
      [['fly'], undefined, 'There is no command "fly"'],
      [['load'], undefined, 'Name the folder'],
      [['load', '.'], undefined, 'Say who signs in'],
      [['load', '.', '--email', 'a@b.example'], undefined, 'DRAVEX_PASSWORD'],
      [['load', '.', '--surprise'], undefined, '--surprise'],
    ];
    for (const [args, password, message] of cases) {
      const { status, err } = await called(args, password);
      assert.equal(status, 2, args.join(' '));
      assert.include(err, message);
      // Whoever named no command is shown all of them, the others where to read on.
      const [name] = args;
      assert.include(err, name === 'load' ? 'dravex --help' : 'dravex load FOLDER');
    }
  });
});

describe('loadFolder', () => {
  let served: Served;
  const folder = mkdtempSync(join(tmpdir(), 'dravex-'));
  before(async () => {
    served = await serveSample();
  });
  after(async () => {
    rmSync(folder, { recursive: true });
    await served.close();
  });

  it('passes on what the server refuses, with the path', async () => {
    const client = new Client(served.origin);
    await client.signIn('planner@ondwell.example', 'plan the year');
    writeFileSync(join(folder, 'workspace.json'), '{"name":"Empty"}');
    let failure: unknown;
    try {
      await loadFolder(client, folder, () => undefined);
    } catch (error) {
      failure = error;
    }
    assert.instanceOf(failure, RequestFailed);
    assert.include((failure as Error).message, 'dimensions');
  });

  it('brings any file: looked at, then applied whole, and not twice', async () => {
    const client = new Client(served.origin);
    await client.signIn('planner@ondwell.example', 'plan the year');
    const path = join(folder, 'visits.json');
    const rows = [
      { month: '2026-07', measure: 'Visits', channel: 'web', value: 10 },
      { month: '2026-08', measure: 'Visits', channel: 'nowhere', value: 20 },
    ];
    writeFileSync(path, JSON.stringify(rows));
    const how = { kind: 'facts', leaveOut: false, apply: true } as const;
    const faulty = await bringFile(client, 1, path, how);
    assert.deepInclude(faulty, { good: 1, faulty: 1, applied: false });
    assert.include(faulty.problems[0]?.message, '"nowhere" is not a code of Channel');
    assert.isTrue((await bringFile(client, 1, path, { ...how, leaveOut: true })).applied);
    const again = await bringFile(client, 1, path, { ...how, leaveOut: true });
    assert.isFalse(again.applied);
    assert.include(again.notes[0], 'The same file was brought in before');
  });

  it('says by its exit what became of a file', async () => {
    const sign = ['--email', 'planner@ondwell.example', '--server', served.origin];
    const path = join(folder, 'none.csv');
    writeFileSync(path, 'a,b\n');
    const bring = (...args: string[]) => called(['bring', ...args, ...sign], 'plan the year');
    assert.equal((await bring(path)).status, 2, 'no workspace');
    const kind = await bring(path, '--workspace', '1', '--kind', 'dreams');
    assert.include(kind.err, '--kind is one of');
    const gone = await bring(join(folder, 'gone.csv'), '--workspace', '1');
    assert.include(gone.err, 'is not there');
    const empty = await bring(path, '--workspace', '1');
    assert.equal(empty.status, 1);
    assert.notInclude(empty.err, '    at ');
  });

  it('does not sign in with a wrong password', async () => {
    let message = '';
    try {
      await new Client(served.origin).signIn('planner@ondwell.example', 'no');
    } catch (error) {
      message = error instanceof Error ? error.message : '';
    }
    assert.include(message, 'do not belong together');
  });
});
