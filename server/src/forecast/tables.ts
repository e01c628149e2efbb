import type { MethodCode, StreamSettings } from '@dravex/core';
import {
  date,
  foreignKey,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
} from 'drizzle-orm/pg-core';
import { combination, workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

/** The forecast of one combination by one method; streams never overlap. */
export const stream = pgTable(
  'stream',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    combinationId: integer().notNull(),
    method: text().$type<MethodCode>().notNull(),
    /** How the method is set; other streams are named by their combinations. */
    settings: jsonb().$type<StreamSettings>().notNull().default({}),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    unique().on(t.workspaceId, t.combinationId),
    foreignKey({
      columns: [t.workspaceId, t.combinationId],
      foreignColumns: [combination.workspaceId, combination.id],
    }),
  ],
);

/** A forecast value typed over the computed one; revenue in currency units. */
export const forecastOverride = pgTable(
  'forecast_override',
  {
    workspaceId: workspaceId(),
    combinationId: integer().notNull(),
    month: date().notNull(),
    measure: text({ enum: ['units', 'revenue'] }).notNull(),
    value: numeric({ mode: 'number' }).notNull(),
    why: text().notNull().default(''),
    typedBy: integer()
      .notNull()
      .references(() => person.id),
    typedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.combinationId, t.month, t.measure] }),
    foreignKey({
      columns: [t.workspaceId, t.combinationId],
      foreignColumns: [combination.workspaceId, combination.id],
    }),
  ],
);
