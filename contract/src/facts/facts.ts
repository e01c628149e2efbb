import { z } from 'zod';
import { monthSchema, nameSchema } from '../common.ts';
import { operations } from '../operation.ts';

const windowSchema = z.strictObject({ from: monthSchema, to: monthSchema });
const natureSchema = z.enum(['flow', 'stock', 'ratio', 'level']);

export const factMeasureSchema = z.object({
  code: z.string(),
  name: z.string(),
  unit: z.string(),
  nature: natureSchema,
});
export type FactMeasure = z.infer<typeof factMeasureSchema>;

/** What was measured: a row a measure and scope, a value a month, null where nothing was measured. */
export const factsSchema = z.object({
  months: z.array(monthSchema),
  measures: z.array(factMeasureSchema),
  rows: z.array(
    z.object({
      measure: z.string(),
      members: z.array(z.number()),
      values: z.array(z.number().nullable()),
      /** Over all months, by the measure's nature. */
      total: z.number().nullable(),
    }),
  ),
});
export type Facts = z.infer<typeof factsSchema>;

/** Accounts of the ledger. Money in minor units, revenue and expense both positive. */
export const ledgerSchema = z.object({
  months: z.array(monthSchema),
  accounts: z.array(
    z.object({
      code: z.string(),
      name: z.string(),
      kind: z.enum(['revenue', 'expense']),
      behaviour: z.enum(['fixed', 'variable']).nullable(),
      values: z.array(z.number()),
      total: z.number(),
      /** Of the revenue of all accounts. */
      share: z.number().nullable(),
    }),
  ),
});
export type Ledger = z.infer<typeof ledgerSchema>;

export const subscribersSchema = z.object({
  /** How many are known, and how many of them are still there. */
  known: z.number(),
  active: z.number(),
  months: z.array(
    z.object({
      month: monthSchema,
      opening: z.number(),
      added: z.number(),
      lost: z.number(),
      closing: z.number(),
    }),
  ),
});
export type Subscribers = z.infer<typeof subscribersSchema>;

const base = '/workspaces/{workspaceId}';

export const factOperations = operations({
  readFacts: {
    method: 'get',
    path: `${base}/facts`,
    summary: 'What was measured besides sales, by scope and month',
    access: 'reads',
    query: windowSchema,
    answer: factsSchema,
  },
  changeMeasure: {
    method: 'patch',
    path: `${base}/facts/{measure}`,
    summary: 'Says what a measure is called, its unit, and how it rolls up',
    access: 'plans',
    body: z.strictObject({
      name: nameSchema.optional(),
      unit: z.string().trim().max(40).optional(),
      nature: natureSchema.optional(),
    }),
  },
  readLedger: {
    method: 'get',
    path: `${base}/ledger`,
    summary: 'What accounts of the ledger came to, and their shares of revenue',
    access: 'reads',
    query: windowSchema,
    answer: ledgerSchema,
  },
  changeAccount: {
    method: 'patch',
    path: `${base}/ledger/{account}`,
    summary: 'Says what an account is',
    access: 'plans',
    body: z.strictObject({
      name: nameSchema.optional(),
      kind: z.enum(['revenue', 'expense']).optional(),
      behaviour: z.enum(['fixed', 'variable']).nullable().optional(),
    }),
  },
  readSubscribers: {
    method: 'get',
    path: `${base}/subscribers`,
    summary: 'Subscribers by month: opening, new, lost, closing',
    access: 'reads',
    query: windowSchema,
    answer: subscribersSchema,
  },
});
