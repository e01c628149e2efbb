import { z } from 'zod';
import { idSchema, monthSchema } from '../common.ts';

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
  state: z.enum(['previewed', 'applied']),
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
