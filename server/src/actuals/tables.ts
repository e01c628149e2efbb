import {
  bigint,
  date,
  foreignKey,
  index,
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

/** A file of sales lines: first previewed, then applied whole. */
export const importBatch = pgTable(
  'import_batch',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    fileName: text().notNull(),
    state: text({ enum: ['previewed', 'applied', 'putAway'] }).notNull(),
    rows: integer().notNull(),
    good: integer().notNull(),
    faulty: integer().notNull(),
    createdBy: integer()
      .notNull()
      .references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    appliedAt: timestamp({ withTimezone: true }),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.id] })],
);

/** Why rows of a batch were not taken in. */
export const importProblem = pgTable(
  'import_problem',
  {
    workspaceId: workspaceId(),
    batchId: integer().notNull(),
    row: integer().notNull(),
    field: text().notNull(),
    value: text().notNull(),
    code: text().notNull(),
    message: text().notNull(),
  },
  (t) => [
    index().on(t.workspaceId, t.batchId, t.row),
    foreignKey({
      columns: [t.workspaceId, t.batchId],
      foreignColumns: [importBatch.workspaceId, importBatch.id],
    }).onDelete('cascade'),
  ],
);

/** What a sales line holds, whether it waits or counts. Money in minor units. */
const lineColumns = () => ({
  workspaceId: workspaceId(),
  batchId: integer().notNull(),
  date: date().notNull(),
  quantity: numeric({ precision: 18, scale: 3 }).notNull(),
  netAmount: bigint({ mode: 'number' }).notNull(),
  cost: bigint({ mode: 'number' }).notNull(),
  document: text().notNull(),
  lineNumber: integer().notNull(),
  customer: text(),
  seller: text(),
});

/**
 * Good rows of a previewed file, waiting to be applied. Unlogged (set by a migration): a crash
 * empties it, and a batch whose rows are gone has to be uploaded again.
 */
export const stagedLine = pgTable(
  'staged_line',
  { ...lineColumns(), row: integer().notNull(), members: integer().array().notNull() },
  (t) => [index().on(t.workspaceId, t.batchId)],
);

/** Lines of files that were taken back, waiting to be applied again; they survive a crash. */
export const setAsideLine = pgTable(
  'set_aside_line',
  { ...lineColumns(), row: integer().notNull(), members: integer().array().notNull() },
  (t) => [index().on(t.workspaceId, t.batchId)],
);

/** One dated line of actual sales. Document and line number are its identity. */
export const salesLine = pgTable(
  'sales_line',
  {
    ...lineColumns(),
    id: bigint({ mode: 'number' }).notNull().generatedAlwaysAsIdentity(),
    combinationId: integer().notNull(),
    origin: text({ enum: ['books', 'hand'] }).notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    unique().on(t.workspaceId, t.document, t.lineNumber),
    index().on(t.workspaceId, t.seller, t.date),
    index().on(t.workspaceId, t.combinationId, t.date),
    index().on(t.workspaceId, t.batchId),
    foreignKey({
      columns: [t.workspaceId, t.combinationId],
      foreignColumns: [combination.workspaceId, combination.id],
    }),
    foreignKey({
      columns: [t.workspaceId, t.batchId],
      foreignColumns: [importBatch.workspaceId, importBatch.id],
    }),
  ],
);

/** Sales lines summed by combination, month and origin, in the transaction that writes the lines. */
export const salesMonth = pgTable(
  'sales_month',
  {
    workspaceId: workspaceId(),
    month: date().notNull(),
    combinationId: integer().notNull(),
    origin: text({ enum: ['books', 'hand'] }).notNull(),
    quantity: numeric({ precision: 18, scale: 3 }).notNull(),
    netAmount: bigint({ mode: 'number' }).notNull(),
    cost: bigint({ mode: 'number' }).notNull(),
    lines: integer().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.month, t.combinationId, t.origin] }),
    foreignKey({
      columns: [t.workspaceId, t.combinationId],
      foreignColumns: [combination.workspaceId, combination.id],
    }),
  ],
);
