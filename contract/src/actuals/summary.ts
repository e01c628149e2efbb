import { z } from 'zod';
import {
  createdSchema,
  dateSchema,
  idListSchema,
  listSchema,
  monthSchema,
  whySchema,
} from '../common.ts';
import { operations } from '../operation.ts';

/** How a summary of sales lines is cut. */
export const summaryAddressSchema = z.strictObject({
  /** Dimensions by code, the outermost first. */
  rows: listSchema,
  /** A stretch of time for each column, or a dimension by code, or `none`. */
  columns: z.string().max(60).default('month'),
  from: monthSchema,
  to: monthSchema,
  scope: idListSchema,
  /** Which lines: all, those of the books, those entered by hand. */
  origin: z.enum(['all', 'books', 'hand']).default('all'),
  /** Beside it the same span a year before. */
  compare: z.enum(['none', 'yearBefore']).default('none'),
  /** Customers' groups as they were assigned when they bought, or as they are now. */
  assigned: z.enum(['then', 'now']).default('then'),
});
export type SummaryAddress = z.infer<typeof summaryAddressSchema>;

const sumsSchema = z.object({
  units: z.number(),
  revenue: z.number(),
  cost: z.number(),
  lines: z.number(),
  /** How many of the lines were entered by hand. */
  byHand: z.number(),
});
const rowSchema = z.object({
  key: z.string(),
  label: z.string(),
  level: z.number(),
  scope: z.array(z.number()),
  parent: z.boolean(),
  cells: z.array(sumsSchema),
  total: sumsSchema,
  cellsBefore: z.array(sumsSchema),
  totalBefore: sumsSchema,
});

/** Sums of sales lines by rows and columns. Money in whole units of the currency. */
export const summarySchema = z.object({
  columns: z.array(
    z.object({
      key: z.string(),
      label: z.string(),
      /** Of a stretch of time, its days; null for a member. */
      from: dateSchema.nullable(),
      to: dateSchema.nullable(),
      /** Whether the window cuts it short, or its days are not over. */
      partial: z.boolean(),
    }),
  ),
  rows: z.array(rowSchema),
  total: rowSchema,
  /** The days that count, and those it is compared with. */
  from: dateSchema,
  to: dateSchema,
  before: z.object({ from: dateSchema, to: dateSchema }).nullable(),
  /** What is to be known of spans that are not alike; empty where they are. */
  warning: z.string(),
});
export type Summary = z.infer<typeof summarySchema>;

/** A sale that is not in the books. Money in minor units. */
export const handLineSchema = z.strictObject({
  date: dateSchema,
  /** A member's code for every dimension. */
  members: z.record(z.string().max(60), z.string().max(60)),
  quantity: z.number().min(-1e9).max(1e9),
  netAmount: z.number().int().min(-1e14).max(1e14),
  cost: z.number().int().min(-1e14).max(1e14).default(0),
  customer: z.string().trim().max(100).default(''),
  seller: z.string().trim().max(100).default(''),
  why: whySchema.refine((text) => text !== '', 'say why it is not in the books'),
});
export type HandLine = z.output<typeof handLineSchema>;

const base = '/workspaces/{workspaceId}';

export const summaryOperations = operations({
  readSummary: {
    method: 'get',
    path: `${base}/summary`,
    summary: 'Sums of sales lines by any dimensions, days, weeks, months, quarters or years',
    access: 'reads',
    query: summaryAddressSchema,
    answer: summarySchema,
  },
  saveSummary: {
    method: 'get',
    path: `${base}/summary.{format}`,
    summary: 'The same as a file',
    access: 'reads',
    query: summaryAddressSchema.extend({ measures: listSchema }),
    writes: 'text/csv',
  },
  enterLine: {
    method: 'post',
    path: `${base}/hand-lines`,
    summary: 'Enters a sale that is not in the books, with the reason',
    access: 'plans',
    body: handLineSchema,
    answer: createdSchema,
    status: 201,
  },
  dropLine: {
    method: 'delete',
    path: `${base}/hand-lines/{lineId}`,
    summary: 'Takes a sale out again that was entered by hand',
    access: 'plans',
  },
});
