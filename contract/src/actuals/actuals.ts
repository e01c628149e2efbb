import { z } from 'zod';
import { idListSchema, idSchema, monthSchema, nameSchema } from '../common.ts';
import { operations } from '../operation.ts';

/** The fields of a sales line besides the members, and how a file's header may name them. */
export const SALES_LINE_FIELDS = [
  'date',
  'quantity',
  'net amount',
  'cost',
  'document',
  'line number',
  'customer',
  'seller',
] as const;

/** Why a row of a file cannot be taken in. */
export const rowProblemSchema = z.object({
  /** As a person counts in the file: the header is row 1. */
  row: z.number().int(),
  field: z.string(),
  value: z.string(),
  code: z.enum([
    'unknown-code',
    'not-a-leaf',
    'missing-value',
    'impossible-date',
    'outside-calendar',
    'not-a-number',
    'too-large',
    'repeated-line',
    'already-there',
    'wrong-columns',
  ]),
  message: z.string(),
});
export type RowProblem = z.infer<typeof rowProblemSchema>;

/** A file of sales lines, read and checked; nothing counts before it is applied. */
export const importBatchSchema = z.object({
  id: idSchema,
  fileName: z.string(),
  state: z.enum(['previewed', 'applied', 'putAway']),
  rows: z.number().int(),
  good: z.number().int(),
  faulty: z.number().int(),
  createdAt: z.string(),
  createdBy: z.string(),
  appliedAt: z.string().nullable(),
});
export type ImportBatch = z.infer<typeof importBatchSchema>;

export const importPreviewSchema = importBatchSchema.extend({
  /** How many rows have each kind of problem. */
  problemCounts: z.record(z.string(), z.number()),
  /** The first of them; all are at `/imports/:id/problems`. */
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

/** Which sales lines are wanted: of a scope and a window, of one seller, a page at a time. */
export const salesLinesAddressSchema = z.strictObject({
  scope: idListSchema,
  from: monthSchema,
  to: monthSchema,
  seller: z.string().max(100).optional(),
  skip: z.coerce.number().int().min(0).max(10_000_000).default(0),
  limit: z.coerce.number().int().min(1).max(500).default(50),
});
export type SalesLinesAddress = z.infer<typeof salesLinesAddressSchema>;

/** Sales lines, the largest first, with the sums of all of them. Money in minor units. */
export const salesLinesSchema = z.object({
  count: z.number(),
  units: z.number(),
  revenue: z.number(),
  cost: z.number(),
  lines: z.array(
    z.object({
      id: z.number(),
      date: z.string(),
      members: z.array(z.number()),
      quantity: z.number(),
      netAmount: z.number(),
      cost: z.number(),
      document: z.string(),
      lineNumber: z.number(),
      customer: z.string().nullable(),
      seller: z.string().nullable(),
      batch: z.number(),
      fileName: z.string(),
    }),
  ),
});
export type SalesLines = z.infer<typeof salesLinesSchema>;

const file = { what: 'a CSV of sales lines', type: 'text/csv', largest: '2gb', streamed: true };
const base = '/workspaces/{workspaceId}/imports';

export const actualsOperations = operations({
  listImports: {
    method: 'get',
    path: base,
    summary: 'The files of sales lines that were brought in, newest first',
    access: 'reads',
    answer: z.array(importBatchSchema),
  },
  previewImport: {
    method: 'post',
    path: base,
    summary: 'Reads and checks a file; nothing counts before it is applied',
    access: 'plans',
    query: z.strictObject({ fileName: nameSchema.default('sales lines') }),
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
  applyImport: {
    method: 'post',
    path: `${base}/{importId}/apply`,
    summary: 'Takes in the good rows of a file, all or none',
    access: 'plans',
    answer: importBatchSchema,
  },
  takeBackImport: {
    method: 'post',
    path: `${base}/{importId}/take-back`,
    summary: 'Takes the sales lines of an applied file out again; it waits to be applied as before',
    access: 'plans',
    answer: importBatchSchema,
  },
  putAwayImport: {
    method: 'delete',
    path: `${base}/{importId}`,
    summary: 'Puts a file away that was not applied',
    access: 'plans',
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
