import {
  bigint,
  date,
  foreignKey,
  index,
  integer,
  numeric,
  pgTable,
  primaryKey,
  smallint,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { sql } from 'drizzle-orm';
import { workspaceId } from '../dimensions/tables.ts';

/** A node of a fiscal year's target tree: the company, an area or a person. */
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
    /** The last month of a person who leaves. */
    untilMonth: date(),
    /** One of the two is set: a percent of the target above, or an amount in minor units. */
    percent: numeric({ precision: 12, scale: 6 }),
    amount: bigint({ mode: 'number' }),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    index().on(t.workspaceId, t.fiscalYear),
    uniqueIndex('one_objective_a_year')
      .on(t.workspaceId, t.fiscalYear)
      .where(sql`parent_id is null`),
    foreignKey({
      columns: [t.workspaceId, t.parentId],
      foreignColumns: [t.workspaceId, t.id],
    }),
  ],
);
