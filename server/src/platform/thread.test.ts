import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { assert } from 'chai';

describe('a thread', () => {
  it('ends with the memory that it was given, however much its process may hold', async () => {
    const child = fork(fileURLToPath(new URL('../testing/hungry.ts', import.meta.url)), [], {
      execArgv: ['--import=tsx', '--max-old-space-size=512'],
    });
    const told = await new Promise<{ little: number; refused: number; isGone: boolean }>(
      (resolve, reject) => {
        child.once('message', (message) => resolve(message as never));
        child.once('exit', (code) => reject(new Error(`It ended with ${code}`)));
      },
    ).finally(() => child.kill('SIGKILL'));
    assert.isAbove(told.little, 1000);
    assert.deepInclude(told, { refused: 413, isGone: true });
  });
});
