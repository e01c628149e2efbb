import {
  boolean,
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  timestamp,
} from 'drizzle-orm/pg-core';
import type { ClosingRules } from '@dravex/contract';
import { version } from '../budgets/tables.ts';
import { workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

/** A month that was closed, and the forecast that was kept of it. */
export const close = pgTable(
  'close',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    month: date().notNull(),
    versionId: integer().notNull(),
    closedBy: integer()
      .notNull()
      .references(() => person.id),
    closedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    /** When it was written here: what is taken in later came late. A plan file brings older closes. */
    writtenAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    /** The end of the horizon before it. */
    lastBefore: date().notNull(),
    /** Closed on its day, by nobody's hand. */
    byItself: boolean().notNull().default(false),
    /** Opened again, or taken back: it stays, so that it can come back, and is not shown. */
    reopened: boolean().notNull().default(false),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    index().on(t.workspaceId, t.month),
    foreignKey({
      columns: [t.workspaceId, t.versionId],
      foreignColumns: [version.workspaceId, version.id],
    }),
  ],
);

/** How a workspace closes its months; one that has none closes by hand and keeps its horizon. */
export const closingRules = pgTable('closing_rules', {
  workspaceId: workspaceId().primaryKey(),
  rules: jsonb().$type<ClosingRules>().notNull(),
  /** In whose name months are closed by themselves. */
  personId: integer()
    .notNull()
    .references(() => person.id),
});
