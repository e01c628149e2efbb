import { MEASURE_CODES, SUMMARY_CODES } from '@dravex/core';
import { z } from 'zod';
import { idSchema, listSchema, monthSchema, nameSchema } from '../common.ts';
import { sourceNameSchema } from '../comparison/comparison.ts';
import { MB, operations } from '../operation.ts';

/** Tables for reporting tools. */
export const reportTableSchema = z.enum([
  'actuals',
  'sales-lines',
  'forecast',
  'plan-cells',
  'comparison',
  'targets',
  'supply',
]);
export type ReportTable = z.infer<typeof reportTableSchema>;

/** Which rows are wanted; what a table does not know of is refused. */
export const reportAddressSchema = z.strictObject({
  from: monthSchema.optional(),
  to: monthSchema.optional(),
  /** Members by dimension and code: `channel:web,product:carafes`. */
  members: listSchema,
  /** Of plan cells and comparison: the version's id. */
  version: z.coerce.number().pipe(idSchema).optional(),
  /** Of comparison: what is held against something, and what it is held against, if not the version. */
  of: sourceNameSchema.optional(),
  against: sourceNameSchema.optional(),
  /** Of targets. */
  fiscalYear: z.coerce.number().int().min(1990).max(2100).optional(),
  /** Of supply. */
  grain: z.enum(['week', 'month', 'quarter']).optional(),
  seller: z.string().max(100).optional(),
  /** Rows already had: `next` of the page before. */
  after: z.coerce.number().int().min(0).max(1e9).default(0),
  limit: z.coerce.number().int().min(1).max(5000).default(1000),
  format: z.enum(['json', 'csv']).default('json'),
});
export type ReportAddress = z.infer<typeof reportAddressSchema>;

const valueSchema = z.union([z.string(), z.number()]).nullable();
/** A page of a table. Money in whole units of the currency. */
export const reportSchema = z.object({
  table: reportTableSchema,
  columns: z.array(z.string()),
  rows: z.array(z.array(valueSchema)),
  /** What `after` has to be for the next page; null on the last one. */
  next: z.number().nullable(),
  total: z.number(),
});
export type Report = z.infer<typeof reportSchema>;

/** A personal access token; the secret is shown once, when it is made. */
export const accessTokenSchema = z.object({
  id: idSchema,
  name: z.string(),
  /** The start of the secret, by which it is told apart. */
  start: z.string(),
  createdBy: z.string(),
  createdAt: z.string(),
  lastUsedAt: z.string().nullable(),
});
export type AccessToken = z.infer<typeof accessTokenSchema>;
export const madeTokenSchema = z.object({ id: idSchema, token: z.string() });
export type MadeToken = z.infer<typeof madeTokenSchema>;

/** Months of a saved view: a preset moves with the closed months, a stretch stays. */
export const viewWindowSchema = z.union([
  z.enum(['this year', 'to date', 'next 12', 'last 12', 'all']),
  z.strictObject({ from: monthSchema, to: monthSchema }),
]);
export type ViewWindow = z.infer<typeof viewWindowSchema>;

const viewed = {
  kind: z.enum(['table', 'chart']),
  rows: z.array(z.string().max(60)).min(1).max(2),
  /** Members by dimension and code: `channel:web`. */
  members: z.array(z.string().max(130)).max(50),
  window: viewWindowSchema,
};
/** Whether only what is in the books counts; all sales where it is left out. */
const originSchema = z.enum(['all', 'books']).optional();
/** Stretches of time, or a dimension by its code. */
const columnsSchema = z.string().min(1).max(60);

/** What a saved view shows: a table of a room as it was set there. */
export const viewQuerySchema = z.discriminatedUnion('of', [
  z.strictObject({
    of: z.literal('forecast'),
    ...viewed,
    measure: z.enum(MEASURE_CODES),
    columns: columnsSchema.default('time'),
    grain: z.enum(['week', 'month', 'quarter', 'year']),
    /** Whether closed months have their actuals, or the forecast kept at their close. */
    closed: z.enum(['actual', 'kept']).optional(),
    origin: originSchema,
  }),
  z.strictObject({
    of: z.literal('sales'),
    ...viewed,
    measure: z.enum(SUMMARY_CODES),
    columns: columnsSchema,
    origin: z.enum(['all', 'books', 'hand']),
    assigned: z.enum(['then', 'now']),
  }),
  z.strictObject({
    of: z.literal('comparison'),
    ...viewed,
    measure: z.enum(MEASURE_CODES),
    /** What is held against something; actual where it is left out. */
    held: sourceNameSchema.optional(),
    /** What it is held against: a source, or a version by its id. */
    against: sourceNameSchema.optional(),
    version: idSchema.optional(),
    origin: originSchema,
  }),
]);
export type ViewQuery = z.output<typeof viewQuerySchema>;

export const savedViewSchema = z.object({
  id: idSchema,
  name: z.string(),
  query: viewQuerySchema,
  createdBy: z.string(),
  createdAt: z.string(),
});
export type SavedView = z.infer<typeof savedViewSchema>;

/** The most cells of a workbook that is made in one go. */
export const MOST_FILE_CELLS = 60_000;
/** A table as somebody sees it, to be made a file of: a line of headings, then lines of the same length. */
export const shownTableSchema = z
  .strictObject({
    name: nameSchema,
    /** What a person has to know of it: workspace, scope, period, version. */
    about: z.array(z.string().max(500)).max(20),
    lines: z
      .array(z.array(z.union([z.string().max(500), z.number(), z.null()])).max(500))
      .min(1)
      .max(5001, 'a file has at most 5000 rows'),
  })
  .refine(
    ({ lines }) => lines.reduce((sum, line) => sum + line.length, 0) <= MOST_FILE_CELLS,
    `a file has at most ${MOST_FILE_CELLS} cells; narrow the table`,
  );
export type ShownTable = z.infer<typeof shownTableSchema>;

const base = '/workspaces/{workspaceId}';

export const reportingOperations = operations({
  readReport: {
    method: 'get',
    path: '/reporting/{table}',
    summary:
      'Tables for reporting tools, by the page, as JSON or CSV. The token says which workspace',
    access: 'reports',
    query: reportAddressSchema,
    writes: 'application/json',
  },
  listTokens: {
    method: 'get',
    path: `${base}/tokens`,
    summary: 'One’s own access tokens',
    access: 'reads',
    answer: z.array(accessTokenSchema),
  },
  makeToken: {
    method: 'post',
    path: `${base}/tokens`,
    summary: 'Makes an access token that reads this workspace; its secret is shown once',
    access: 'reads',
    body: z.strictObject({ name: nameSchema }),
    answer: madeTokenSchema,
    status: 201,
  },
  withdrawToken: {
    method: 'delete',
    path: `${base}/tokens/{tokenId}`,
    summary: 'Withdraws an access token; it reads nothing from now on',
    access: 'reads',
  },
  listViews: {
    method: 'get',
    path: `${base}/views`,
    summary: 'Saved tables and charts that can stand in other pages',
    access: 'reads',
    answer: z.array(savedViewSchema),
  },
  saveView: {
    method: 'post',
    path: `${base}/views`,
    summary: 'Saves a table or chart under an address of its own; its secret is shown once',
    access: 'plans',
    body: z.strictObject({ name: nameSchema, query: viewQuerySchema }),
    answer: madeTokenSchema,
    status: 201,
  },
  withdrawView: {
    method: 'delete',
    path: `${base}/views/{viewId}`,
    summary: 'Withdraws a saved view; its address shows nothing from now on',
    access: 'plans',
  },
  saveShownTable: {
    method: 'post',
    path: '/table-file.{format}',
    summary: 'A table as it is shown, as a file: csv or xlsx. Nothing is kept of it',
    access: 'signedIn',
    body: shownTableSchema,
    largest: 4 * MB,
    writes: 'text/csv',
  },
  saveSupply: {
    method: 'get',
    path: `${base}/supply.{format}`,
    summary: 'Whole units by item and week, month or quarter, for supply planning',
    access: 'reads',
    query: z.strictObject({
      from: monthSchema,
      to: monthSchema,
      grain: z.enum(['week', 'month', 'quarter']).default('month'),
    }),
    writes: 'text/csv',
  },
});
