/** Brings files of what happened into a workspace: looked at first, then applied as one unit. */
import { createReadStream } from 'node:fs';
import { basename } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { importPreviewSchema, importBatchSchema, type ImportKind } from '@dravex/contract';
import type { Client } from './client.ts';

export interface BringOptions {
  readonly kind: ImportKind;
  /** How the file is to be read, as JSON; what it does not say is detected. */
  readonly reading?: string | undefined;
  /** Whether good rows are taken in though others are faulty; else nothing is. */
  readonly leaveOut: boolean;
  /** Whether it is taken in at all, or only looked at. */
  readonly apply: boolean;
}

/** What became of a file. */
export interface Brought {
  readonly good: number;
  readonly faulty: number;
  readonly applied: boolean;
  /** What is wrong with rows, the most frequent first, with how many rows have it. */
  readonly problems: readonly { readonly rows: number; readonly message: string }[];
  /** What is to be known though nothing is wrong. */
  readonly notes: readonly string[];
}

const LOOK_AGAIN_MS = 500;

/**
 * Sends a file as it is read, of any size, and applies it where that was asked.
 * @param path CSV, XLSX or JSON
 * @throws RequestFailed with the server's reason; nothing of the file counts then
 */
export async function bringFile(
  client: Client,
  workspaceId: number,
  path: string,
  { kind, reading, leaveOut, apply }: BringOptions,
): Promise<Brought> {
  const base = `/workspaces/${workspaceId}/imports`;
  const address = new URLSearchParams({ fileName: basename(path), kind });
  if (reading !== undefined) address.set('reading', reading);
  const preview = importPreviewSchema.parse(
    await client.send('POST', `${base}?${address.toString()}`, createReadStream(path)),
  );
  const { id, good, faulty, groups, sameAs } = preview;
  const notes =
    sameAs === null ? [] : [`The same file was brought in before, as ${sameAs.fileName}`];
  const problems = groups.map(({ rows, message }) => ({ rows, message }));
  const asked = apply && good > 0 && (faulty === 0 || leaveOut) && sameAs?.state !== 'applied';
  if (!asked) {
    await client.send('DELETE', `${base}/${id}`);
    return { good, faulty, applied: false, problems, notes };
  }
  let batch = importBatchSchema.parse(await client.send('POST', `${base}/${id}/apply`));
  while (batch.job?.state === 'waiting' || batch.job?.state === 'running') {
    await pause(LOOK_AGAIN_MS);
    batch = importPreviewSchema.parse(await client.send('GET', `${base}/${id}`));
  }
  if (batch.state !== 'applied') {
    throw new Error(`${basename(path)} was not applied: ${batch.job?.message ?? 'it was stopped'}`);
  }
  return { good, faulty, applied: true, problems, notes };
}
