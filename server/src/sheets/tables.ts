import type { keptSheetLineSchema, keptSheetSchema } from '@dravex/contract';
import {
  boolean,
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import type { z } from 'zod';
import { version } from '../budgets/tables.ts';
import { workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

type KeptSheet = z.output<typeof keptSheetSchema>;
type KeptSheetLine = z.output<typeof keptSheetLineSchema>;

const changed = {
  changedBy: integer()
    .notNull()
    .references(() => person.id),
  changedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
};

/** A part of a version that somebody fills in, in their own terms. */
export const sheet = pgTable(
  'sheet',
  {
    workspaceId: workspaceId(),
    /** Made for it; nobody types it. What somebody calls it is its title. */
    name: text().notNull(),
    title: text().notNull(),
    version: integer('version_id').notNull(),
    person: integer('person_id')
      .notNull()
      .references(() => person.id),
    scope: integer().array().notNull(),
    rows: text().array().notNull(),
    measure: text().$type<KeptSheet['measure']>().notNull(),
    due: date(),
    state: text().$type<KeptSheet['state']>().notNull(),
    steps: jsonb().$type<KeptSheet['steps']>().notNull(),
    ...changed,
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.name] }),
    foreignKey({
      columns: [t.workspaceId, t.version],
      foreignColumns: [version.workspaceId, version.id],
    }),
  ],
);

/** What was said of a line of a sheet. */
export const sheetLine = pgTable(
  'sheet_line',
  {
    workspaceId: workspaceId(),
    /** Made for it. */
    name: text().notNull(),
    sheet: text().notNull(),
    scope: integer().array().notNull(),
    comment: text().notNull(),
    basis: text().$type<KeptSheetLine['basis']>().notNull(),
    locked: boolean().notNull(),
    ...changed,
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.name] }),
    index('sheet_line_sheet').on(t.workspaceId, t.sheet),
  ],
);
