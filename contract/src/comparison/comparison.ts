import type { Comparison } from '@dravex/core';
import { z } from 'zod';
import { cellSchema, frameShape, inOrder, order, rowShape } from '../forecast/tables.ts';
import { operations } from '../operation.ts';

export const comparisonAddressSchema = z
  .strictObject({ ...frameShape, version: z.coerce.number().int().positive() })
  .refine(inOrder, order);
export type ComparisonAddress = z.infer<typeof comparisonAddressSchema>;

const comparisonRowSchema = z.object({
  ...rowShape,
  actual: cellSchema,
  plan: cellSchema,
  variance: z
    .object({
      amount: z.number(),
      percent: z.number().nullable(),
      judgement: z.enum(['good', 'bad', 'even']),
    })
    .nullable(),
});

export const comparisonSchema = z.object({
  span: z.object({ from: z.number(), to: z.number() }).nullable(),
  cut: z.boolean(),
  rows: z.array(comparisonRowSchema).readonly(),
  total: comparisonRowSchema.nullable(),
}) satisfies z.ZodType<Comparison>;

const base = '/workspaces/{workspaceId}';

export const comparisonOperations = operations({
  readComparison: {
    method: 'get',
    path: `${base}/comparison`,
    summary: 'Actual against a version over the closed part of a window',
    access: 'reads',
    query: comparisonAddressSchema,
    answer: comparisonSchema,
  },
  saveComparison: {
    method: 'get',
    path: `${base}/comparison.{format}`,
    summary: 'The same as a file',
    access: 'reads',
    query: comparisonAddressSchema,
    writes: 'text/csv',
  },
});
