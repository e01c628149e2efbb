import type { Thread } from '@dravex/contract';
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import { workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

/** What was said of a number, one comment after another. */
export const thread = pgTable(
  'thread',
  {
    workspaceId: workspaceId(),
    /** Made for it; nobody types it. */
    name: text().notNull(),
    room: text().$type<Thread['room']>().notNull(),
    source: text().notNull(),
    against: text(),
    measure: text().$type<Thread['measure']>().notNull(),
    scope: integer().array().notNull(),
    from: text('from_month').notNull(),
    to: text('to_month').notNull(),
    comments: jsonb().$type<Thread['comments']>().notNull(),
    resolved: boolean().notNull(),
    changedBy: integer()
      .notNull()
      .references(() => person.id),
    changedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.name] }),
    index('thread_place').on(t.workspaceId, t.room, t.source),
  ],
);
