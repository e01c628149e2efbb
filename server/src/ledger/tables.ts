import { integer, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';
import { workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

/** The account on which revenue of a scope is booked. */
export const accountScope = pgTable(
  'account_scope',
  {
    workspaceId: workspaceId(),
    /** Made for it. */
    name: text().notNull(),
    scope: integer().array().notNull(),
    account: text().notNull(),
    changedBy: integer()
      .notNull()
      .references(() => person.id),
    changedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.name] })],
);
