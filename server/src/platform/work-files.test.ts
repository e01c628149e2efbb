import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { assert } from 'chai';
import { dropLeftWork, newWorkFolder } from './work-files.ts';

describe('work files', () => {
  it('of a server that was killed go at the next start; those of one that runs stay', async () => {
    const mine = await newWorkFolder();
    assert.equal((await stat(mine)).mode & 0o077, 0, 'nobody else reads them');
    const own = dirname(mine);
    // A process that has ended: its number is free.
    const { pid } = spawnSync(process.execPath, ['-e', '']);
    const left = own.replace(/\d+$/, String(pid));
    const running = own.replace(/\d+$/, '1');
    const elsewhere = join(dirname(own), 'another-machine-999999');
    for (const folder of [left, running, elsewhere]) {
      await mkdir(folder, { recursive: true });
      await writeFile(join(folder, 'upload'), 'half of a file');
    }
    await dropLeftWork();
    assert.isFalse(existsSync(left));
    assert.isTrue(existsSync(running));
    assert.isTrue(existsSync(elsewhere));
  });
});
