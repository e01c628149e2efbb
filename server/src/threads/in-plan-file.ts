/** What was said of numbers of Budget and Comparison, in a plan file. */
import { nameOfSource, sourceNamed, versionSource } from '@dravex/core';
import { randomUUID } from 'node:crypto';
import { versions } from '../budgets/store.ts';
import type { FilePart } from '../journal/file-part.ts';
import { putNamed } from '../journal/named.ts';
import { threadsOf } from './store.ts';
import { THREAD } from './thing.ts';

/**
 * Whether a side means something in the file: a version that is in it, as it is. What a version was
 * at an earlier moment is known where it was made.
 */
const travels =
  (versionIds: ReadonlySet<number>) =>
  (name: string | null): boolean => {
    const source = name === null ? undefined : sourceNamed(name);
    if (source?.kind !== 'version') return true;
    return source.at === undefined && versionIds.has(source.id);
  };

export const threadsInPlanFile: FilePart = {
  async give(db, workspaceId) {
    const threads = await threadsOf(db, workspaceId);
    const goes = travels(new Set((await versions(db, workspaceId)).map(({ id }) => id)));
    return {
      threads: threads
        .filter(({ source, against }) => goes(source) && goes(against))
        .map(({ id: _, ...thread }) => thread),
    };
  },
  async take({ tx, workspaceId, personId, file, members, version }) {
    for (const [index, thread] of file.threads.entries()) {
      const here = (name: string, path: string): string => {
        const source = sourceNamed(name);
        if (source?.kind !== 'version') return name;
        return nameOfSource(versionSource(version(source.id, path))) ?? name;
      };
      const { source, against } = thread;
      const path = `threads.${index}`;
      await putNamed(tx, THREAD, { workspaceId, personId }, randomUUID(), {
        ...thread,
        source: here(source, `${path}.source`),
        against: against === null ? null : here(against, `${path}.against`),
        scope: members(thread.scope).toSorted((a, b) => a - b),
      });
    }
  },
};
