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
import { operations } from '../operation.ts';

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
    .array(z.strictObject({ code: codeSchema, name: nameSchema, parent: codeSchema.nullable() }))
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
});
export type NewWorkspace = z.infer<typeof newWorkspaceSchema>;

/** What a first file of sales lines says about the company: enough to make a workspace from. */
export const workspaceProposalSchema = z.object({
  rows: z.number(),
  calendar: calendarSchema,
  dimensions: z.array(newDimensionSchema),
});
export type WorkspaceProposal = z.infer<typeof workspaceProposalSchema>;

export const workspaceOperations = operations({
  createWorkspace: {
    method: 'post',
    path: '/workspaces',
    summary: 'Makes a workspace; whoever makes it plans in it',
    access: 'signedIn',
    body: newWorkspaceSchema,
    largest: '4mb',
    answer: createdSchema,
    status: 201,
  },
  proposeWorkspace: {
    method: 'post',
    path: '/workspaces/proposal',
    summary:
      'Reads a first file of sales lines and proposes calendar and dimensions; keeps nothing',
    access: 'signedIn',
    file: { what: 'a CSV of sales lines', type: 'text/csv', largest: '2gb', streamed: true },
    answer: workspaceProposalSchema,
  },
});
