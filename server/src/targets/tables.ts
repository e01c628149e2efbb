import {
  bigint,
  boolean,
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  smallint,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { sql } from 'drizzle-orm';
import type { DealPlanOf } from '@dravex/contract';
import { TARGET_MEASURES } from '@dravex/core';
import { workspaceId } from '../dimensions/tables.ts';

/** How far a target is agreed with whoever has it. */
export const TARGET_STATES = ['draft', 'handedOut', 'agreed', 'questioned'] as const;

/**
 * A node of a fiscal year's target trees: an area, a person or a part; at the top an objective, of
 * which there can be several a year.
 */
export const targetNode = pgTable(
  'target_node',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    fiscalYear: smallint().notNull(),
    parentId: integer(),
    kind: text({ enum: ['company', 'area', 'person'] }).notNull(),
    name: text().notNull(),
    position: integer().notNull(),
    scope: integer().array().notNull(),
    seller: text(),
    /** Of a part below a person: the code of the customer whose sales it counts. */
    account: text(),
    /** At the top: what the objective is called, and what it is of. */
    objective: text(),
    measure: text({ enum: TARGET_MEASURES }),
    /** Who answers for a team. */
    manager: text(),
    /** The first month of a person who joins, and the last of one who leaves. */
    fromMonth: date(),
    untilMonth: date(),
    /** Shares of full capacity by months since the start, as fractions. */
    ramp: jsonb().$type<number[]>().notNull().default([]),
    /** What a person can sell in a month when in full swing, in whole numbers of the measure. */
    fullCapacity: bigint({ mode: 'number' }),
    /** What may be handed out beyond the target, in percent. */
    cushion: numeric({ precision: 6, scale: 3, mode: 'number' }).notNull().default(0),
    locked: boolean().notNull().default(false),
    /** Twelve months typed by hand; null to go by season. */
    months: jsonb().$type<number[]>(),
    state: text({ enum: TARGET_STATES }).notNull().default('draft'),
    /** What was said of the state: a question, a reason. */
    comment: text(),
    deals: jsonb().$type<DealPlanOf>(),
    /** One of the two is set: a percent of the target above, or an amount in minor units. */
    percent: numeric({ precision: 12, scale: 6 }),
    amount: bigint({ mode: 'number' }),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    index().on(t.workspaceId, t.fiscalYear),
    uniqueIndex('objective_name')
      .on(t.workspaceId, t.fiscalYear, sql`lower(objective)`)
      .where(sql`parent_id is null`),
    foreignKey({
      columns: [t.workspaceId, t.parentId],
      foreignColumns: [t.workspaceId, t.id],
    }),
  ],
);
