import {
  bigint,
  boolean,
  customType,
  foreignKey,
  index,
  integer,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import type { JournalRoom, JournalUnit } from '@dravex/contract';
import { workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

/** A value of a cell or property as the journal keeps it. */
export type Json =
  null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json };

/**
 * A value as `jsonb`. The usual column type parses a text once more when it is read, and so makes
 * the text `4000` a number.
 */
const jsonValue = customType<{ data: Json; driverData: Json }>({
  dataType: () => 'jsonb',
  toDriver: (value) => JSON.stringify(value),
  fromDriver: (value) => value,
});

/** One write to a workspace: who, when, what, why. Rows are only added; `undone` says what holds now. */
export const journal = pgTable(
  'journal',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
    personId: integer()
      .notNull()
      .references(() => person.id),
    room: text().$type<JournalRoom>().notNull(),
    what: text().notNull(),
    why: text().notNull().default(''),
    /** The workspace's revision that this write made. */
    revision: bigint({ mode: 'number' }).notNull(),
    kind: text({ enum: ['do', 'undo', 'redo'] }).notNull(),
    /** Of an undo or redo, the write that it took back or did again. */
    ofId: integer(),
    /** Of a write, whether it is taken back now; and by which record. */
    undone: boolean().notNull().default(false),
    undoneBy: integer(),
    /** Whether it can be taken back at all. */
    undoable: boolean().notNull().default(true),
    /** The key that the request bore. */
    requestKey: text(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    index().on(t.workspaceId, t.personId, t.id),
    index().on(t.workspaceId, t.revision),
  ],
);

/** One cell or property that a write changed, from what to what. */
export const journalChange = pgTable(
  'journal_change',
  {
    workspaceId: workspaceId(),
    journalId: integer().notNull(),
    place: integer().notNull(),
    /** What kind of thing, which one, and which of its cells. */
    thing: text().notNull(),
    thingId: text().notNull(),
    cell: text().notNull(),
    label: text().notNull(),
    unit: text().$type<JournalUnit>().notNull(),
    before: jsonValue(),
    after: jsonValue(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.journalId, t.place] }),
    index().on(t.workspaceId, t.thing, t.thingId),
    foreignKey({
      columns: [t.workspaceId, t.journalId],
      foreignColumns: [journal.workspaceId, journal.id],
    }),
  ],
);

/**
 * Answers to writes that bore a key, kept in the transaction of the write: the same request sent
 * again gets the same answer and does nothing. Outside workspaces, because one of these writes
 * makes a workspace.
 */
export const answeredRequest = pgTable(
  'answered_request',
  {
    personId: integer()
      .notNull()
      .references(() => person.id),
    key: text().notNull(),
    fingerprint: text().notNull(),
    answer: jsonValue(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.personId, t.key] }), index().on(t.at)],
);
