import {
  bigint,
  boolean,
  date,
  doublePrecision,
  foreignKey,
  index,
  integer,
  numeric,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { sql } from 'drizzle-orm';
import { journal } from '../journal/tables.ts';
import { combination, workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

/** A kept set of planned numbers: cells that never change, and entries that are only added. */
export const version = pgTable(
  'version',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    name: text().notNull(),
    fromMonth: date().notNull(),
    toMonth: date().notNull(),
    note: text().notNull().default(''),
    /** An open version takes entries; a sealed one takes nothing. */
    state: text({ enum: ['open', 'sealed'] })
      .notNull()
      .default('open'),
    /** The fiscal year whose budget it is; of several versions of a year one at most. */
    budgetOf: integer(),
    /** Put away: it is there, and is not offered. */
    putAway: boolean().notNull().default(false),
    /** Of a forecast that was kept when a month was closed: that month. */
    closedMonth: date(),
    /** Taken back: it stays, so that it can be brought back, and is not shown. */
    removed: boolean().notNull().default(false),
    createdBy: integer()
      .notNull()
      .references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    uniqueIndex('one_version_a_name')
      .on(t.workspaceId, t.name)
      .where(sql`not removed and closed_month is null`),
    uniqueIndex('one_budget_a_year')
      .on(t.workspaceId, t.budgetOf)
      .where(sql`not removed and budget_of is not null`),
  ],
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

/** How a subscription of a version moves in a month; money a month in currency units, as computed. */
export const versionSubscription = pgTable(
  'version_subscription',
  {
    workspaceId: workspaceId(),
    versionId: integer().notNull(),
    combinationId: integer().notNull(),
    month: date().notNull(),
    active: doublePrecision().notNull(),
    opening: doublePrecision().notNull(),
    starters: doublePrecision().notNull(),
    lost: doublePrecision().notNull(),
    changedIn: doublePrecision().notNull(),
    changedOut: doublePrecision().notNull(),
    recurring: doublePrecision().notNull(),
    revenueOpening: doublePrecision().notNull(),
    entered: doublePrecision().notNull(),
    priceChange: doublePrecision().notNull(),
    revenueLost: doublePrecision().notNull(),
    expansion: doublePrecision().notNull(),
    contraction: doublePrecision().notNull(),
    revenueIn: doublePrecision().notNull(),
    revenueOut: doublePrecision().notNull(),
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

/** One change to a cell of a version; the cell is what was kept and all its entries, added up. */
export const versionEntry = pgTable(
  'version_entry',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    versionId: integer().notNull(),
    combinationId: integer().notNull(),
    month: date().notNull(),
    units: numeric({ precision: 18, scale: 3 }).notNull(),
    revenue: bigint({ mode: 'number' }).notNull(),
    cost: bigint({ mode: 'number' }),
    /** Who, when and why. */
    journalId: integer().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    index().on(t.workspaceId, t.versionId, t.combinationId, t.month),
    foreignKey({
      columns: [t.workspaceId, t.versionId],
      foreignColumns: [version.workspaceId, version.id],
    }),
    foreignKey({
      columns: [t.workspaceId, t.combinationId],
      foreignColumns: [combination.workspaceId, combination.id],
    }),
    foreignKey({
      columns: [t.workspaceId, t.journalId],
      foreignColumns: [journal.workspaceId, journal.id],
    }),
  ],
);

/**
 * One change to a month of a subscription of a version: so many more begin, and so much more is paid
 * a month from then on; the movement is what was kept with all of them carried on.
 */
export const versionSubscriptionEntry = pgTable(
  'version_subscription_entry',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    versionId: integer().notNull(),
    combinationId: integer().notNull(),
    month: date().notNull(),
    /** Decimals, so that what is taken back is gone to the last digit. */
    starters: numeric({ precision: 24, scale: 9 }).notNull(),
    /** In currency units. */
    price: numeric({ precision: 24, scale: 9 }).notNull(),
    /** Who, when and why. */
    journalId: integer().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    index('version_subscription_entry_cell').on(
      t.workspaceId,
      t.versionId,
      t.combinationId,
      t.month,
    ),
    foreignKey({
      name: 'version_subscription_entry_version',
      columns: [t.workspaceId, t.versionId],
      foreignColumns: [version.workspaceId, version.id],
    }),
    foreignKey({
      name: 'version_subscription_entry_combination',
      columns: [t.workspaceId, t.combinationId],
      foreignColumns: [combination.workspaceId, combination.id],
    }),
    foreignKey({
      name: 'version_subscription_entry_journal',
      columns: [t.workspaceId, t.journalId],
      foreignColumns: [journal.workspaceId, journal.id],
    }),
  ],
);
