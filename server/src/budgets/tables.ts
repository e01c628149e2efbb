import {
  bigint,
  date,
  foreignKey,
  integer,
  numeric,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
} from 'drizzle-orm/pg-core';
import { combination, workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

/** A kept set of planned numbers; its cells never change. */
export const version = pgTable(
  'version',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    name: text().notNull(),
    fromMonth: date().notNull(),
    toMonth: date().notNull(),
    note: text().notNull().default(''),
    createdBy: integer()
      .notNull()
      .references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.id] }), unique().on(t.workspaceId, t.name)],
);

/** What a version holds for a combination and month; money in minor units, null where not planned. */
export const versionCell = pgTable(
  'version_cell',
  {
    workspaceId: workspaceId(),
    versionId: integer().notNull(),
    combinationId: integer().notNull(),
    month: date().notNull(),
    units: numeric({ precision: 18, scale: 3 }).notNull(),
    revenue: bigint({ mode: 'number' }).notNull(),
    cost: bigint({ mode: 'number' }),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.versionId, t.combinationId, t.month] }),
    foreignKey({
      columns: [t.workspaceId, t.versionId],
      foreignColumns: [version.workspaceId, version.id],
    }),
    foreignKey({
      columns: [t.workspaceId, t.combinationId],
      foreignColumns: [combination.workspaceId, combination.id],
    }),
  ],
);
