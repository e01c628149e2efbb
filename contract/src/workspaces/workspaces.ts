import type { Calendar, Currency } from '@dravex/core';
import { z } from 'zod';
import {
  codeSchema,
  createdSchema,
  dateSchema,
  monthSchema,
  nameSchema,
  localeSchema,
} from '../common.ts';
import {
  firstFileChoiceSchema,
  firstFileLookSchema,
  inAddress,
  readingChoiceSchema,
} from '../actuals/reading.ts';
import { MB, operations } from '../operation.ts';

/**
 * What the forecast shows of closed months: their actuals, these with the forecast that was kept at
 * the close in a row beside them, or that forecast instead.
 */
export const closedShowsSchema = z.enum(['actual', 'beside', 'instead']);
export type ClosedShows = z.infer<typeof closedShowsSchema>;

export const calendarSchema = z
  .strictObject({
    first: monthSchema,
    last: monthSchema,
    closedThrough: monthSchema,
    asOf: dateSchema,
    fiscalStart: z.number().int().min(1).max(12),
  })
  .refine((c) => c.first <= c.closedThrough && c.closedThrough < c.last, {
    message: 'the months run first, closedThrough, last',
    path: ['closedThrough'],
  }) satisfies z.ZodType<Calendar>;

export const currencySchema = z.strictObject({
  code: z.string().regex(/^[A-Z]{3}$/, 'a currency is three capital letters'),
  minorDigits: z.number().int().min(0).max(3),
}) satisfies z.ZodType<Currency>;

/** A dimension as it is brought in: members name their parent by code, parents first. */
export const newDimensionSchema = z.strictObject({
  code: codeSchema,
  name: nameSchema,
  members: z
    .array(
      z.strictObject({
        ...{ code: codeSchema, name: nameSchema, parent: codeSchema.nullable() },
        /** The member that it came in place of, anywhere in the list. */
        replaces: codeSchema.optional(),
      }),
    )
    .min(1)
    .max(20_000),
});
export type NewDimension = z.infer<typeof newDimensionSchema>;

export const newWorkspaceSchema = z.strictObject({
  name: nameSchema,
  locale: localeSchema,
  calendar: calendarSchema,
  currency: currencySchema,
  dimensions: z.array(newDimensionSchema).min(1).max(12),
  /** Whether the as-of date is the real day from now on, or stays where it is set. */
  asOfBy: z.enum(['day', 'hand']).default('hand'),
});
export type NewWorkspace = z.infer<typeof newWorkspaceSchema>;

/** What a first file of sales lines says about the company: enough to make a workspace from. */
export const workspaceProposalSchema = z.object({
  rows: z.number(),
  /** Rows that are totals of others, and rows that lack a date, a number or a member. */
  totals: z.number(),
  faulty: z.number(),
  /** How the file is to be read when it is taken in. */
  reading: readingChoiceSchema,
  /** What it adds up to, by month; in the file's own units, null where no column holds it. */
  months: z.array(
    z.object({
      month: monthSchema,
      lines: z.number(),
      units: z.number().nullable(),
      revenue: z.number().nullable(),
      cost: z.number().nullable(),
    }),
  ),
  calendar: calendarSchema,
  dimensions: z.array(newDimensionSchema),
});
export type WorkspaceProposal = z.infer<typeof workspaceProposalSchema>;

const firstFileSchema = z.strictObject({
  fileName: nameSchema.default('sales lines'),
  /** How it is to be read, as JSON; what it does not say is proposed. */
  reading: inAddress(firstFileChoiceSchema).optional(),
});
const firstFile = {
  what: 'a file of sales lines',
  type: 'text/csv',
  largest: 2048 * MB,
  streamed: true,
} as const;

export const workspaceOperations = operations({
  createWorkspace: {
    method: 'post',
    path: '/workspaces',
    summary: 'Makes a workspace; whoever makes it plans in it',
    access: 'signedIn',
    body: newWorkspaceSchema,
    largest: 4 * MB,
    answer: createdSchema,
    status: 201,
  },
  lookAtFirstFile: {
    method: 'post',
    path: '/workspaces/first-file',
    summary: 'Says how a first file would be read, and which columns are dimensions. Keeps nothing',
    access: 'signedIn',
    query: firstFileSchema,
    file: firstFile,
    answer: firstFileLookSchema,
  },
  proposeWorkspace: {
    method: 'post',
    path: '/workspaces/proposal',
    summary: 'Reads a first file whole and proposes calendar and dimensions; keeps nothing',
    access: 'signedIn',
    query: firstFileSchema,
    file: firstFile,
    answer: workspaceProposalSchema,
  },
});
