import type { DriverChoice, DriverHistory, DriverKind, Profile } from '@dravex/core';
import {
  date,
  index,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import { workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

/**
 * A value of a driver for a scope and a stretch of months. The numbers of a profile stand in
 * `jsonb`, which keeps them as `numeric`: the decimal that was typed, never a float column.
 */
export const assumption = pgTable(
  'assumption',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    driver: text().notNull(),
    /** Ids of members, at most one a dimension. */
    scope: integer().array().notNull(),
    fromMonth: date(),
    toMonth: date(),
    profile: jsonb().$type<Profile>().notNull(),
    note: text().notNull().default(''),
    changedBy: integer()
      .notNull()
      .references(() => person.id),
    changedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.id] }), index().on(t.workspaceId, t.driver)],
);

/**
 * A driver of the planner's own; or, under the code of one that methods read themselves, the bounds
 * that hold for it here.
 */
export const driver = pgTable(
  'driver',
  {
    workspaceId: workspaceId(),
    code: text().notNull(),
    /** The order in which they were made. */
    position: integer().notNull(),
    name: text().notNull(),
    kind: text().$type<DriverKind>().notNull(),
    unit: text().notNull(),
    minimum: numeric({ mode: 'number' }),
    maximum: numeric({ mode: 'number' }),
    step: numeric({ mode: 'number' }),
    default: numeric({ mode: 'number' }),
    choices: jsonb().$type<DriverChoice[]>().notNull().default([]),
    formula: text(),
    /** What its closed months are read from; null where sales lines say it, or nothing does. */
    history: jsonb().$type<DriverHistory>(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.code] })],
);
