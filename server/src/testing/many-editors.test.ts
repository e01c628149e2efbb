/** Many people editing one workspace at once: the load script in a short form. None of it is lost. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import { assert } from 'chai';
import { PLANNER, startServer } from '../../../scripts/application.mjs';
import { cloneOfSample } from './serve.ts';

const LOAD = fileURLToPath(new URL('../../../bench/src/load.ts', import.meta.url));

describe('many people editing one workspace', () => {
  it('lose nothing of what they type', async () => {
    const { url, drop } = await cloneOfSample();
    const server = await startServer({ databaseUrl: url, webFolder: '' });
    try {
      const child = spawn(process.execPath, ['--import', 'tsx', LOAD], {
        env: {
          ...process.env,
          BENCH_ORIGIN: `http://127.0.0.1:${server.port}`,
          BENCH_EMAIL: PLANNER.email,
          BENCH_PASSWORD: PLANNER.password,
          LOAD_EDITORS: '16',
          LOAD_SECONDS: '5',
        },
      });
      let said = '';
      child.stdout.on('data', (bytes) => (said += String(bytes)));
      child.stderr.on('data', (bytes) => (said += String(bytes)));
      const [code] = (await once(child, 'exit')) as [number];
      assert.equal(code, 0, said);
      assert.match(said, /^ {2}0 of [1-9]\d* numbers lost$/m);
    } finally {
      await server.stop();
      await drop();
    }
  }).timeout(60_000);
});
