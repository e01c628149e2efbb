import { keptThreadSchema } from '@dravex/contract';
import { namedThing, type Named } from '../journal/named.ts';
import { thread } from './tables.ts';

/** What was said of a number; undo takes back a comment, or what was resolved. */
export const THREAD: Named<'thread'> = {
  kind: 'thread',
  word: 'thread',
  table: thread,
  value: keptThreadSchema,
  stamp: (changedBy) => ({ changedBy, changedAt: new Date() }),
};

export const threadThing = namedThing(THREAD);
