import {
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
} from 'drizzle-orm/pg-core';
import type { ViewQuery } from '@dravex/contract';
import { workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

const secret = () => ({
  workspaceId: workspaceId(),
  id: integer().notNull().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  /** The start of the secret, by which it is told apart, and a hash of all of it. */
  start: text().notNull(),
  hash: text().notNull(),
  createdBy: integer()
    .notNull()
    .references(() => person.id),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  withdrawnAt: timestamp({ withTimezone: true }),
});

/** What lets a reporting tool read a workspace in somebody's name. */
export const accessToken = pgTable(
  'access_token',
  { ...secret(), lastUsedAt: timestamp({ withTimezone: true }) },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    unique().on(t.hash),
    index().on(t.workspaceId, t.createdBy),
  ],
);

/** A table or chart with an address and a secret of its own. */
export const savedView = pgTable(
  'saved_view',
  { ...secret(), query: jsonb().$type<ViewQuery>().notNull() },
  (t) => [primaryKey({ columns: [t.workspaceId, t.id] }), unique().on(t.hash)],
);
