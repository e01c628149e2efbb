import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { assert } from 'chai';
import { serveSample, type Served } from '../../server/src/testing/serve.ts';
import { Client, RequestFailed } from './client.ts';
import { loadFolder } from './load.ts';

const TOOL = fileURLToPath(new URL('../dravex.mjs', import.meta.url));

function dravex(
  args: string[],
  password?: string,
): { status: number | null; out: string; err: string } {
  const { DRAVEX_PASSWORD: _, ...environment } = process.env;
  const { status, stdout, stderr } = spawnSync(process.execPath, [TOOL, ...args], {
    encoding: 'utf8',
    env: { ...environment, ...(password === undefined ? {} : { DRAVEX_PASSWORD: password }) },
  });
  return { status, out: stdout, err: stderr };
}

describe('dravex', () => {
  it('says what is missing and how it is used', () => {
    const cases: [string[], string | undefined, string][] = [
      [[], undefined, 'Name a command'],
      [['fly'], undefined, 'There is no command "fly"'],
      [['load'], undefined, 'Name the folder'],
      [['load', '.'], undefined, 'Say who signs in'],
      [['load', '.', '--email', 'a@b.example'], undefined, 'DRAVEX_PASSWORD'],
      [['load', '.', '--surprise'], undefined, '--surprise'],
    ];
    for (const [args, password, message] of cases) {
      const { status, err } = dravex(args, password);
      assert.equal(status, 2, args.join(' '));
      assert.include(err, message);
      assert.include(err, 'dravex load FOLDER');
    }
    assert.equal(dravex(['--help']).status, 0);
  });

  it('says when the server is not there', () => {
    const { status, err } = dravex(
      ['load', '.', '--email', 'a@b.example', '--server', 'http://127.0.0.1:9'],
      'x',
    );
    assert.equal(status, 1);
    assert.notInclude(err, '    at ');
    assert.include(err, 'http://127.0.0.1:9');
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
