import type { View } from '@dravex/contract';
import { integer, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';
import { workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

/** A room as somebody laid it out, kept under a name. */
export const roomView = pgTable(
  'room_view',
  {
    workspaceId: workspaceId(),
    name: text().notNull(),
    room: text().$type<View['room']>().notNull(),
    address: text().notNull(),
    keptBy: integer()
      .notNull()
      .references(() => person.id),
    keptAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.name] })],
);
