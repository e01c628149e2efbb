import type {
  AdjustmentKind,
  DriverChoice,
  DriverHistory,
  DriverKind,
  Nature,
  Profile,
} from '@dravex/core';
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

/** What is set for a driver in a scope and a stretch of months, by whom and when. */
const setForScope = () => ({
  workspaceId: workspaceId(),
  id: integer().notNull().generatedAlwaysAsIdentity(),
  driver: text().notNull(),
  /** Ids of members, at most one a dimension. */
  scope: integer().array().notNull(),
  fromMonth: date(),
  toMonth: date(),
  note: text().notNull().default(''),
  changedBy: integer()
    .notNull()
    .references(() => person.id),
  changedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
});

/**
 * A value of a driver for a scope and a stretch of months. The numbers of a profile stand in
 * `jsonb`, which keeps them as `numeric`: the decimal that was typed, never a float column.
 */
export const assumption = pgTable(
  'assumption',
  {
    ...setForScope(),
    profile: jsonb().$type<Profile>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.id] }), index().on(t.workspaceId, t.driver)],
);

/**
 * A change that was typed over whatever a driver is, for a scope of any members. Ids are their order:
 * later ones are laid over earlier ones.
 */
export const adjustment = pgTable(
  'adjustment',
  {
    ...setForScope(),
    kind: text().$type<AdjustmentKind>().notNull(),
    value: numeric({ mode: 'number' }).notNull(),
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
    /** How it rolls up, and what weighs it in a mean; null where its kind and its methods say so. */
    nature: text().$type<Nature>(),
    weight: text(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.code] })],
);
