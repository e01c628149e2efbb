import { sql } from 'drizzle-orm';
import {
  date,
  foreignKey,
  integer,
  pgTable,
  primaryKey,
  smallint,
  text,
  unique,
  type AnyPgColumn,
} from 'drizzle-orm/pg-core';
import { workspace } from '../workspaces/tables.ts';

/** The workspace a row belongs to: the first part of every key of workspace data. */
export const workspaceId = () =>
  integer()
    .notNull()
    .references((): AnyPgColumn => workspace.id);

/** A way to cut sales. Dimensions are data: no column is named after one. */
export const dimension = pgTable(
  'dimension',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    code: text().notNull(),
    name: text().notNull(),
    /** The workspace's order of dimensions, from 0. */
    position: smallint().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    unique().on(t.workspaceId, t.code),
    unique().on(t.workspaceId, t.position),
  ],
);

export const member = pgTable(
  'member',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    dimensionId: integer().notNull(),
    code: text().notNull(),
    name: text().notNull(),
    parentId: integer(),
    position: integer().notNull(),
    /** Days from and to which sales may name it; null without a bound. */
    validFrom: date(),
    validTo: date(),
    /** The ledger account that its sales belong to. */
    account: text(),
    /** The member that it came in place of; one that is gone stands for none. */
    replaces: integer(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    unique().on(t.workspaceId, t.dimensionId, t.code),
    foreignKey({
      columns: [t.workspaceId, t.dimensionId],
      foreignColumns: [dimension.workspaceId, dimension.id],
    }),
    foreignKey({
      columns: [t.workspaceId, t.parentId],
      foreignColumns: [t.workspaceId, t.id],
    }),
  ],
);

/** One leaf member in every dimension, by the dimensions' positions. */
export const combination = pgTable(
  'combination',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    members: integer()
      .array()
      .notNull()
      .default(sql`'{}'`),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.id] }), unique().on(t.workspaceId, t.members)],
);

/** From which day on a customer belongs to a member. */
export const assignment = pgTable(
  'assignment',
  {
    workspaceId: workspaceId(),
    dimensionId: integer().notNull(),
    customer: text().notNull(),
    from: date().notNull(),
    memberId: integer().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.dimensionId, t.customer, t.from] }),
    foreignKey({
      columns: [t.workspaceId, t.memberId],
      foreignColumns: [member.workspaceId, member.id],
    }),
  ],
);

/** What says the member of a dimension where a file does not: a member of another dimension. */
export const dimensionRule = pgTable(
  'dimension_rule',
  {
    workspaceId: workspaceId(),
    dimensionId: integer().notNull(),
    /** Of any depth; 0 for all that no other rule names. */
    sourceMemberId: integer().notNull(),
    memberId: integer().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.dimensionId, t.sourceMemberId] }),
    foreignKey({
      columns: [t.workspaceId, t.memberId],
      foreignColumns: [member.workspaceId, member.id],
    }).onDelete('cascade'),
  ],
);
