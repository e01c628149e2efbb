import type { KeptWeeks } from '@dravex/core';
import { z } from 'zod';
import { dateSchema, idListSchema, idSchema, monthSchema, nameSchema } from '../common.ts';
import { MB, operations } from '../operation.ts';
import {
  importKindSchema,
  tableKindSchema,
  mappingSchema,
  newMappingSchema,
  readingInAddressSchema,
  readingSchema,
  tableLookSchema,
} from './reading.ts';

/** Why a row of a file cannot be imported, or what is worth a look at one that is. */
export const rowProblemSchema = z.object({
  /** As a person counts the rows of the file. */
  row: z.number().int(),
  field: z.string(),
  value: z.string(),
  code: z.enum([
    'unknown-code',
    'not-a-leaf',
    'missing-value',
    'unassigned-customer',
    'unreadable-seller',
    'unknown-figure',
    'impossible-date',
    'outside-calendar',
    'not-a-number',
    'other-style',
    'other-currency',
    'formula-error',
    'too-large',
    'repeated-line',
    'already-there',
    'overlapping',
    'wrong-columns',
    'totals-row',
    'header-again',
    'outside-validity',
    'unusual-price',
    'left-out',
  ]),
  message: z.string(),
});
export type RowProblem = z.infer<typeof rowProblemSchema>;

/** What is worth knowing of the rows that are taken. */
export const importNotesSchema = z.object({
  /** Rows in closed months. */
  closed: z.number(),
  /** Rows whose amount is negative, and rows with an amount at all. */
  negative: z.number(),
  amounts: z.number(),
  /** Rows whose quantity is negative, and rows with a quantity at all. */
  negativeQuantities: z.number(),
  quantities: z.number(),
  /** Fields whose sign was turned. */
  turned: z.array(z.string()),
  /** Rows that a remembered repair changed. */
  remembered: z.number(),
  /** Fields that no column holds. */
  without: z.array(z.string()),
});
export type ImportNotes = z.infer<typeof importNotesSchema>;

/** A batch on its way to be applied, or how that ended. */
export const importJobSchema = z.object({
  state: z.enum(['waiting', 'running', 'done', 'stopped', 'failed']),
  step: z.number(),
  steps: z.number(),
  message: z.string(),
});
export type ImportJob = z.infer<typeof importJobSchema>;

/** A file of a table, read and checked; nothing counts before it is applied. */
export const importBatchSchema = z.object({
  id: idSchema,
  kind: importKindSchema,
  source: z.enum(['file', 'hand', 'connection']),
  fileName: z.string(),
  state: z.enum(['previewed', 'applied', 'putAway']),
  rows: z.number().int(),
  good: z.number().int(),
  faulty: z.number().int(),
  createdAt: z.string(),
  createdBy: z.string(),
  appliedAt: z.string().nullable(),
  job: importJobSchema.nullable(),
});
export type ImportBatch = z.infer<typeof importBatchSchema>;

/** Problems of one kind that have the same value in the same field. */
export const problemGroupSchema = z.object({
  code: rowProblemSchema.shape.code,
  field: z.string(),
  value: z.string(),
  rows: z.number(),
  /** Of the first such row. */
  row: z.number(),
  message: z.string(),
  taken: z.boolean(),
});
export type ProblemGroup = z.infer<typeof problemGroupSchema>;

/** A value that is read as another one in a file: everywhere, or in one row. */
export const replacementSchema = z.strictObject({
  field: z.string().max(60),
  from: z.string().max(200),
  to: z.string().max(200),
  row: z.number().int().min(1).optional(),
});
export type Replacement = z.infer<typeof replacementSchema>;

export const importPreviewSchema = importBatchSchema.extend({
  reading: readingSchema.nullable(),
  notes: importNotesSchema.nullable(),
  replace: z.array(replacementSchema),
  /** The day that the as-of date moves to with these lines; null where none is later. */
  asOf: dateSchema.nullable(),
  /** The same file, brought in before. */
  sameAs: z
    .object({ id: idSchema, fileName: z.string(), state: z.string(), createdAt: z.string() })
    .nullable(),
  /** How many rows have each kind of problem. */
  problemCounts: z.record(z.string(), z.number()),
  /** Problems that can be repaired together, the most frequent first. */
  groups: z.array(problemGroupSchema),
  /** The first problems; all are at `/imports/:id/problems`. */
  problems: z.array(rowProblemSchema),
  /** What the good rows add to each month, beside what is there. Money in minor units. */
  months: z.array(
    z.object({
      month: monthSchema,
      lines: z.number(),
      units: z.number(),
      revenue: z.number(),
      revenueNow: z.number(),
    }),
  ),
});
export type ImportPreview = z.infer<typeof importPreviewSchema>;

/** A value that is read as another one in files to come. */
export const rememberedSchema = z.strictObject({
  kind: tableKindSchema,
  field: z.string().max(60),
  from: z.string().max(200),
  to: z.string().max(200),
});
export type Remembered = z.infer<typeof rememberedSchema>;

/** What is to be done to the rows of a file that is not applied yet. */
export const repairSchema = z.strictObject({
  /** Values to be read as others, in the rows that were left out. */
  replace: z
    .array(
      replacementSchema.extend({
        /** Also in files to come. */
        remember: z.boolean().default(false),
      }),
    )
    .max(500)
    .default([]),
  /** Values whose rows are checked again, after what was wrong with them has changed elsewhere. */
  again: z
    .array(replacementSchema.pick({ field: true, from: true }))
    .max(500)
    .default([]),
  /** Number fields whose sign is to be turned in every row. */
  turn: z
    .array(z.enum(['quantity', 'net amount', 'cost']))
    .max(3)
    .default([]),
  /** Rows that are worth a look and shall not be taken. */
  leaveOut: z.array(rowProblemSchema.shape.code).max(20).default([]),
});
export type Repair = z.input<typeof repairSchema>;

/** Which sales lines are wanted: of a scope and a window, of one seller, a page at a time. */
export const salesLinesAddressSchema = z.strictObject({
  scope: idListSchema,
  from: monthSchema,
  to: monthSchema,
  seller: z.string().max(100).optional(),
  /** Only those of a batch. */
  batch: z.coerce.number().pipe(idSchema).optional(),
  origin: z.enum(['books', 'hand']).optional(),
  /** Only those of a document. */
  document: z.string().max(100).optional(),
  /** Of these days only, within the months. */
  fromDay: dateSchema.optional(),
  toDay: dateSchema.optional(),
  skip: z.coerce.number().int().min(0).max(10_000_000).default(0),
  limit: z.coerce.number().int().min(1).max(500).default(50),
});
export type SalesLinesAddress = z.infer<typeof salesLinesAddressSchema>;

/** Which weeks of what was sold are wanted: of a window, of everything or of the books. */
export const salesWeeksAddressSchema = z.strictObject({
  from: monthSchema,
  to: monthSchema,
  origin: z.enum(['all', 'books']).default('all'),
});
export type SalesWeeksAddress = z.infer<typeof salesWeeksAddressSchema>;

const weeksShape = {
  combination: z.array(z.number()).readonly(),
  month: z.array(monthSchema).readonly(),
  week: z.array(z.number()).readonly(),
  units: z.array(z.number()).readonly(),
  revenue: z.array(z.number()).readonly(),
  cost: z.array(z.number()).readonly(),
};

/** What was sold by week of each closed month, and on the same days a year before. Money in minor units. */
export const salesWeeksSchema = z.object({
  revision: z.number(),
  weeks: z.object(weeksShape),
  before: z.object(weeksShape),
}) satisfies z.ZodType<{ weeks: KeptWeeks; before: KeptWeeks; revision: number }>;
export type SalesWeeks = z.infer<typeof salesWeeksSchema>;

/** Sales lines, the largest first, with the sums of all of them. Money in minor units. */
export const salesLinesSchema = z.object({
  count: z.number(),
  units: z.number(),
  revenue: z.number(),
  cost: z.number(),
  lines: z.array(
    z.object({
      date: z.string(),
      members: z.array(z.number()),
      quantity: z.number(),
      netAmount: z.number(),
      cost: z.number(),
      document: z.string(),
      lineNumber: z.number(),
      customer: z.string().nullable(),
      seller: z.string().nullable(),
      origin: z.enum(['books', 'hand']),
      note: z.string().nullable(),
      batch: z.number(),
      row: z.number(),
      fileName: z.string(),
    }),
  ),
});
export type SalesLines = z.infer<typeof salesLinesSchema>;

const file = {
  what: 'a table as CSV, XLSX or JSON',
  type: 'application/octet-stream',
  largest: 2048 * MB,
  streamed: true,
};
const base = '/workspaces/{workspaceId}/imports';
const asked = z.strictObject({
  fileName: nameSchema.default('sales lines'),
  kind: tableKindSchema.default('sales'),
  /** How it is to be read, as JSON; what it does not say is detected. */
  reading: readingInAddressSchema.optional(),
});

export const actualsOperations = operations({
  listImports: {
    method: 'get',
    path: base,
    summary: 'The files that were brought in, newest first',
    access: 'reads',
    answer: z.array(importBatchSchema),
  },
  lookAtTable: {
    method: 'post',
    path: `${base}/look`,
    summary: 'Says how a file would be read; the first 256 kB of a CSV are enough. Keeps nothing',
    access: 'plans',
    query: asked,
    file,
    answer: tableLookSchema,
  },
  previewImport: {
    method: 'post',
    path: base,
    summary: 'Reads and checks a file; nothing counts before it is applied',
    access: 'plans',
    query: asked.extend({ kind: importKindSchema.default('sales') }),
    file,
    answer: importPreviewSchema,
    status: 201,
  },
  readImport: {
    method: 'get',
    path: `${base}/{importId}`,
    summary: 'A file with its faulty rows and what it adds to each month',
    access: 'reads',
    answer: importPreviewSchema,
  },
  listImportProblems: {
    method: 'get',
    path: `${base}/{importId}/problems`,
    summary: 'All faulty rows of a file',
    access: 'reads',
    answer: z.array(rowProblemSchema),
  },
  saveLeftOut: {
    method: 'get',
    path: `${base}/{importId}/left-out`,
    summary: 'The rows that were left out, as they stand in the file, with the reason',
    access: 'reads',
    writes: 'text/csv',
  },
  repairImport: {
    method: 'post',
    path: `${base}/{importId}/repair`,
    summary: 'Reads values as others, turns signs, leaves rows out; checks again what was left out',
    access: 'plans',
    body: repairSchema,
    answer: importPreviewSchema,
  },
  applyImport: {
    method: 'post',
    path: `${base}/{importId}/apply`,
    summary:
      'Takes in the good rows of a file, all or none, in the background; answers when it is done, or after some seconds with how far it is',
    access: 'plans',
    answer: importBatchSchema,
  },
  stopImport: {
    method: 'post',
    path: `${base}/{importId}/stop`,
    summary: 'Stops applying a file; nothing of it is taken in',
    access: 'plans',
    answer: importBatchSchema,
  },
  takeBackImport: {
    method: 'post',
    path: `${base}/{importId}/take-back`,
    summary: 'Takes the rows of an applied file out again; it waits to be applied as before',
    access: 'plans',
    answer: importBatchSchema,
  },
  putAwayImport: {
    method: 'delete',
    path: `${base}/{importId}`,
    summary: 'Puts a file away that was not applied',
    access: 'plans',
  },
  listMappings: {
    method: 'get',
    path: '/workspaces/{workspaceId}/mappings',
    summary: 'The kept ways to read files',
    access: 'reads',
    answer: z.array(mappingSchema),
  },
  keepMapping: {
    method: 'put',
    path: '/workspaces/{workspaceId}/mappings',
    summary: 'Keeps a way to read files under a name; the same name is written over',
    access: 'plans',
    body: newMappingSchema,
    answer: mappingSchema,
  },
  dropMapping: {
    method: 'delete',
    path: '/workspaces/{workspaceId}/mappings/{mappingId}',
    summary: 'Forgets a kept way to read files',
    access: 'plans',
  },
  listRemembered: {
    method: 'get',
    path: '/workspaces/{workspaceId}/remembered-repairs',
    summary: 'What is read as something else in every file',
    access: 'reads',
    answer: z.array(rememberedSchema),
  },
  forgetRemembered: {
    method: 'delete',
    path: '/workspaces/{workspaceId}/remembered-repairs',
    summary: 'Forgets that a value is read as another one',
    access: 'plans',
    query: rememberedSchema.omit({ to: true }),
  },
  readSalesWeeks: {
    method: 'get',
    path: '/workspaces/{workspaceId}/sales-weeks',
    summary: 'What was sold by ISO week of closed months, cut where months end',
    access: 'reads',
    query: salesWeeksAddressSchema,
    answer: salesWeeksSchema,
  },
  listSalesLines: {
    method: 'get',
    path: '/workspaces/{workspaceId}/sales-lines',
    summary: 'The sales lines behind a number, with their documents',
    access: 'reads',
    query: salesLinesAddressSchema,
    answer: salesLinesSchema,
  },
});
