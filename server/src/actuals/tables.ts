import { sql } from 'drizzle-orm';
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
  text,
  timestamp,
  unique,
} from 'drizzle-orm/pg-core';
import type {
  ImportKind,
  TableKind,
  ImportNotes,
  Reading,
  ReadingChoice,
  Replacement,
  RowProblem,
} from '@dravex/contract';
import type { Cell } from '@dravex/core';
import { combination, workspaceId } from '../dimensions/tables.ts';
import { person } from '../people/tables.ts';

/**
 * What was brought in together: a file, a run of a connection, or what is entered by hand. Its
 * rows are kept from the preview on and count while it is applied.
 */
export const importBatch = pgTable(
  'import_batch',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    kind: text().$type<ImportKind>().notNull().default('sales'),
    source: text({ enum: ['file', 'hand', 'connection'] })
      .notNull()
      .default('file'),
    fileName: text().notNull(),
    state: text({ enum: ['previewed', 'applied', 'putAway'] }).notNull(),
    rows: integer().notNull(),
    good: integer().notNull(),
    faulty: integer().notNull(),
    /** How its file was read; null where there was none. */
    reading: jsonb().$type<Reading>(),
    notes: jsonb().$type<ImportNotes>(),
    /** Values that are read as others in this file. */
    replace: jsonb().$type<readonly Replacement[]>().notNull().default([]),
    /** A hash of the bytes of its file. */
    fingerprint: text(),
    createdBy: integer()
      .notNull()
      .references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    appliedAt: timestamp({ withTimezone: true }),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.id] }), index().on(t.workspaceId, t.fingerprint)],
);

const batchKey = () => ({ workspaceId: workspaceId(), batchId: integer().notNull() });

/** Rows of a file that were left out, or that are taken and worth a look, as they stand in it. */
export const importRow = pgTable(
  'import_row',
  {
    ...batchKey(),
    row: integer().notNull(),
    /** Of a wide table, the column of the month; else -1. */
    part: integer().notNull(),
    taken: boolean().notNull(),
    cells: jsonb().$type<readonly Cell[]>().notNull(),
    problems: jsonb().$type<readonly RowProblem[]>().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.batchId, t.row, t.part] }),
    foreignKey({
      columns: [t.workspaceId, t.batchId],
      foreignColumns: [importBatch.workspaceId, importBatch.id],
    }).onDelete('cascade'),
  ],
);

/** A batch that is being applied, or was last: how far it is, and how it ended. */
export const importJob = pgTable(
  'import_job',
  {
    ...batchKey(),
    state: text({ enum: ['waiting', 'running', 'done', 'stopped', 'failed'] }).notNull(),
    step: integer().notNull().default(0),
    steps: integer().notNull().default(1),
    message: text().notNull().default(''),
    stop: boolean().notNull().default(false),
    /** The database process that works on it, so that it can be told to stop. */
    backend: integer(),
    requestedBy: integer()
      .notNull()
      .references(() => person.id),
    changedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.batchId] })],
);

/** A way to read files, kept under a name. */
export const importMapping = pgTable(
  'import_mapping',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    name: text().notNull(),
    kind: text().$type<TableKind>().notNull(),
    header: jsonb().$type<readonly string[]>().notNull(),
    reading: jsonb().$type<ReadingChoice>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.id] }), unique().on(t.workspaceId, t.name)],
);

/** What stands for what in the next file too: a code that nobody knows, and the one that is meant. */
export const rememberedRepair = pgTable(
  'remembered_repair',
  {
    workspaceId: workspaceId(),
    kind: text().$type<TableKind>().notNull(),
    field: text().notNull(),
    from: text().notNull(),
    to: text().notNull(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.kind, t.field, t.from] })],
);

/**
 * One dated line of sales. Document and line number are its identity among the lines that count.
 * Without foreign keys: they would cost most of an import's time, and whatever writes lines makes
 * their combinations and their batch first.
 */
export const salesLine = pgTable(
  'sales_line',
  {
    workspaceId: integer().notNull(),
    batchId: integer().notNull(),
    /** Of its file, as a person counts. */
    row: integer().notNull(),
    date: date().notNull(),
    combinationId: integer().notNull(),
    quantity: numeric({ precision: 18, scale: 3 }).notNull(),
    netAmount: bigint({ mode: 'number' }).notNull(),
    cost: bigint({ mode: 'number' }).notNull(),
    document: text().notNull(),
    lineNumber: integer().notNull(),
    customer: text(),
    seller: text(),
    origin: text({ enum: ['books', 'hand'] }).notNull(),
    /** Why it was entered by hand. */
    note: text(),
  },
  (t) => [
    index().on(t.workspaceId, t.document, t.lineNumber),
    index()
      .on(t.workspaceId, t.seller, t.date)
      .where(sql`seller is not null`),
    index().using('brin', t.batchId, t.date).with({ autosummarize: true }),
  ],
);

const sums = () => ({
  month: date().notNull(),
  combinationId: integer().notNull(),
  quantity: numeric({ precision: 18, scale: 3 }).notNull(),
  netAmount: bigint({ mode: 'number' }).notNull(),
  cost: bigint({ mode: 'number' }).notNull(),
  /** What came back, above zero; part of the net quantity. */
  returned: numeric({ precision: 18, scale: 3 }).notNull().default('0'),
  lines: integer().notNull(),
});

/** The lines of a batch summed by combination and month: what applying it adds. */
export const importMonth = pgTable('import_month', { ...batchKey(), ...sums() }, (t) => [
  primaryKey({ columns: [t.workspaceId, t.batchId, t.month, t.combinationId] }),
  foreignKey({
    columns: [t.workspaceId, t.batchId],
    foreignColumns: [importBatch.workspaceId, importBatch.id],
  }).onDelete('cascade'),
]);

/** The lines of a batch that bear a seller, summed by combination, month and seller. */
export const sellerMonth = pgTable(
  'seller_month',
  { ...batchKey(), ...sums(), seller: text().notNull() },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.batchId, t.month, t.combinationId, t.seller] }),
    foreignKey({
      columns: [t.workspaceId, t.batchId],
      foreignColumns: [importBatch.workspaceId, importBatch.id],
    }).onDelete('cascade'),
  ],
);

/** The same of lines that bear a customer, too, by customer. */
export const accountMonth = pgTable(
  'account_month',
  { ...batchKey(), ...sums(), seller: text().notNull(), customer: text().notNull() },
  (t) => [
    primaryKey({
      columns: [t.workspaceId, t.batchId, t.month, t.combinationId, t.seller, t.customer],
    }),
    index().on(t.workspaceId, t.customer),
    foreignKey({
      columns: [t.workspaceId, t.batchId],
      foreignColumns: [importBatch.workspaceId, importBatch.id],
    }).onDelete('cascade'),
  ],
);

/** Lines that count summed by combination, month and origin, in the transaction that makes them count. */
export const salesMonth = pgTable(
  'sales_month',
  {
    workspaceId: workspaceId(),
    ...sums(),
    origin: text({ enum: ['books', 'hand'] }).notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.month, t.combinationId, t.origin] }),
    foreignKey({
      columns: [t.workspaceId, t.combinationId],
      foreignColumns: [combination.workspaceId, combination.id],
    }),
  ],
);

/** What else is measured besides sales: market size, visits, scores. */
export const factMeasure = pgTable(
  'fact_measure',
  {
    workspaceId: workspaceId(),
    code: text().notNull(),
    name: text().notNull(),
    unit: text().notNull().default(''),
    nature: text({ enum: ['flow', 'stock', 'ratio', 'level'] }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.code] })],
);

/** A row of a batch: it counts while the batch is applied; of two for the same the later applied one holds. */
const factRow = () => ({
  workspaceId: integer().notNull(),
  batchId: integer().notNull(),
  row: integer().notNull(),
});

/** A measured value of a scope and month. */
export const observation = pgTable(
  'observation',
  {
    ...factRow(),
    measure: text().notNull(),
    /** Ids of members, at most one a dimension, in the order of the dimensions. */
    members: integer().array().notNull(),
    month: date().notNull(),
    value: numeric({ precision: 20, scale: 6 }).notNull(),
  },
  (t) => [index().on(t.workspaceId, t.batchId), index().on(t.workspaceId, t.measure, t.month)],
);

/** An account of the ledger, as it came with its history. */
export const ledgerAccount = pgTable(
  'ledger_account',
  {
    workspaceId: workspaceId(),
    code: text().notNull(),
    name: text().notNull(),
    kind: text({ enum: ['revenue', 'expense'] }).notNull(),
    /** How it moves with revenue, once somebody has said so. */
    behaviour: text({ enum: ['fixed', 'variable'] }),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.code] })],
);

/** What an account came to in a month: revenue and expense both positive. In minor units. */
export const ledgerAmount = pgTable(
  'ledger_amount',
  {
    ...factRow(),
    account: text().notNull(),
    name: text().notNull(),
    kind: text({ enum: ['revenue', 'expense'] }),
    month: date().notNull(),
    amount: bigint({ mode: 'number' }).notNull(),
  },
  (t) => [index().on(t.workspaceId, t.batchId), index().on(t.workspaceId, t.account, t.month)],
);

/** A subscriber: from when, and to when it was left. */
export const subscriber = pgTable(
  'subscriber',
  {
    ...factRow(),
    code: text().notNull(),
    members: integer().array().notNull(),
    start: date().notNull(),
    /** The day of leaving; null for who is still there. */
    end: date(),
  },
  (t) => [index().on(t.workspaceId, t.batchId), index().on(t.workspaceId, t.code)],
);
