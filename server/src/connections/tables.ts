import { RUN_STATES, type FeedField } from '@dravex/contract';
import {
  bigint,
  foreignKey,
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
import type { FeedDocument } from './feed.ts';

/** A source that is asked for what is new, by a cursor. */
export const connection = pgTable(
  'connection',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    name: text().notNull(),
    url: text().notNull(),
    /** The service's key, sealed; empty where it has to be entered. It is sent to the service and to nobody else. */
    key: text().notNull(),
    everyMinutes: integer(),
    /** Where the next run takes up: among documents, items and customers. */
    cursor: bigint({ mode: 'number' }).notNull().default(0),
    itemCursor: bigint({ mode: 'number' }).notNull().default(0),
    customerCursor: bigint({ mode: 'number' }).notNull().default(0),
    /** What names the member of a dimension, by the dimension's code; what is not here is guessed. */
    fields: jsonb().$type<Readonly<Record<string, FeedField>>>().notNull().default({}),
    nextRunAt: timestamp({ withTimezone: true }),
    awaySince: timestamp({ withTimezone: true }),
    /** How often in a row it did not answer. */
    misses: integer().notNull().default(0),
    lastDoneAt: timestamp({ withTimezone: true }),
    createdBy: integer()
      .notNull()
      .references(() => person.id),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.id] }), index().on(t.nextRunAt)],
);

const ofConnection = () => ({ workspaceId: workspaceId(), connectionId: integer().notNull() });

/** One time that a connection was run. */
export const connectionRun = pgTable(
  'connection_run',
  {
    ...ofConnection(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    startedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    endedAt: timestamp({ withTimezone: true }),
    state: text({ enum: RUN_STATES }).notNull(),
    added: integer().notNull().default(0),
    replaced: integer().notNull().default(0),
    same: integer().notNull().default(0),
    held: integer().notNull().default(0),
    revenue: bigint({ mode: 'number' }).notNull().default(0),
    message: text().notNull().default(''),
    batchId: integer(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    index().on(t.workspaceId, t.connectionId, t.id),
    foreignKey({
      columns: [t.workspaceId, t.connectionId],
      foreignColumns: [connection.workspaceId, connection.id],
    }).onDelete('cascade'),
  ],
);

/** The newest revision of each document that a connection brought: what was seen is not done twice. */
export const feedDocument = pgTable(
  'feed_document',
  {
    ...ofConnection(),
    number: text().notNull(),
    revision: integer().notNull(),
    /** The document itself while it waits for a code; null once its lines are kept. */
    waiting: jsonb().$type<FeedDocument>(),
    reason: text().notNull().default(''),
    dimension: text(),
    value: text().notNull().default(''),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.connectionId, t.number] }),
    foreignKey({
      columns: [t.workspaceId, t.connectionId],
      foreignColumns: [connection.workspaceId, connection.id],
    }).onDelete('cascade'),
  ],
);

/** What a service calls its items and customers, and the group of a customer. */
export const feedName = pgTable(
  'feed_name',
  {
    ...ofConnection(),
    kind: text({ enum: ['item', 'customer'] }).notNull(),
    code: text().notNull(),
    name: text().notNull(),
    group: text().notNull().default(''),
    since: text().notNull().default(''),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.connectionId, t.kind, t.code] }),
    foreignKey({
      columns: [t.workspaceId, t.connectionId],
      foreignColumns: [connection.workspaceId, connection.id],
    }).onDelete('cascade'),
  ],
);
