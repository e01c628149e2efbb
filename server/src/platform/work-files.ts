/**
 * Files of a server process that nobody keeps: uploads while they come and are read. They lie under
 * TMPDIR in a folder that names the machine and the process, so that what a killed server left is
 * known, and goes when the next one starts.
 */
import { mkdir, mkdtemp, readdir, rm } from 'node:fs/promises';
import { hostname, tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';

/** Of whom folders are; another account of the machine has its own. */
const base = (): string => join(tmpdir(), `dravex-work-${userInfo().uid}`);
const here = (): string => hostname().replaceAll(/[^\w.]/g, '_');

/** A new folder that nobody else may read; whoever makes it removes it. */
export async function newWorkFolder(): Promise<string> {
  const own = join(base(), `${here()}-${process.pid}`);
  await mkdir(own, { recursive: true, mode: 0o700 });
  return mkdtemp(join(own, 'file-'));
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    // It is there and belongs to somebody else.
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Removes what servers of this machine left that are not running. @returns how many they were */
export async function dropLeftWork(): Promise<number> {
  const folders = await readdir(base()).catch((): string[] => []);
  const left = folders.filter((folder) => {
    const [, machine, pid] = /^(.+)-(\d+)$/.exec(folder) ?? [];
    if (machine !== here()) return false;
    // A process of the same number that began now is this one: what lies there is not its own.
    return Number(pid) === process.pid || !isAlive(Number(pid));
  });
  for (const folder of left) await rm(join(base(), folder), { recursive: true, force: true });
  return left.length;
}
