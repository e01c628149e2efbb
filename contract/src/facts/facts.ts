import { z } from 'zod';
import { idListSchema, idSchema, listSchema, monthSchema, nameSchema } from '../common.ts';
import type { RecordedMonths } from '@dravex/core';
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

const column = z.array(z.number());
/** How subscribers of combinations moved in closed months; who is wholly of one by the record counts. */
export const recordedMonthsSchema = z.object({
  combination: z.array(idSchema),
  month: z.array(monthSchema),
  opening: column,
  added: column,
  lost: column,
}) satisfies z.ZodType<RecordedMonths>;

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

const churnSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('constant'), rate: z.number() }),
  z.object({ kind: z.literal('byAge'), rates: z.array(z.number()).readonly() }),
  z.object({ kind: z.literal('atRenewal'), term: z.number(), rate: z.number() }),
]);

/** Subscribers by the month of their start, as their records have them. */
export const cohortsSchema = z.object({
  /** The last month that is known whole. */
  through: monthSchema,
  /** Oldest first: how many there were at the end of each month, from that of the start on. */
  cohorts: z.array(
    z.object({
      start: monthSchema,
      active: z.array(z.number()),
      /** What it lost beyond its elders; null where it did not do worse. */
      worse: z.object({ lost: z.number(), expected: z.number() }).nullable(),
      /** Whether the curve leaves it out. */
      without: z.boolean(),
    }),
  ),
  /** From age 1 on, of the cohorts that count: how many could leave, how many did, and their share. */
  ages: z.array(
    z.object({
      age: z.number(),
      atRisk: z.number(),
      lost: z.number(),
      rate: z.number().nullable(),
    }),
  ),
  /** The curve that fits them; null where too few have left. */
  fitted: z
    .object({
      churn: churnSchema,
      left: z.array(z.object({ s: z.number(), low: z.number(), high: z.number() })).readonly(),
      atRisk: z.number(),
      lost: z.number(),
    })
    .nullable(),
});
export type SubscriberCohorts = z.infer<typeof cohortsSchema>;

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
    query: windowSchema.extend({ scope: idListSchema }),
    answer: subscribersSchema,
  },
  readRecordedMonths: {
    method: 'get',
    path: `${base}/subscribers/months`,
    summary: 'Subscribers of each line by closed month: opening, new and lost',
    access: 'reads',
    answer: recordedMonthsSchema,
  },
  readCohorts: {
    method: 'get',
    path: `${base}/subscribers/cohorts`,
    summary: 'Subscribers by the month of their start, churn by age, and the curve that fits it',
    access: 'reads',
    query: z.strictObject({
      scope: idListSchema,
      /** Only those who are wholly of one of these combinations; of any where none is named. */
      combinations: listSchema.transform((ids) => ids.map(Number)).pipe(z.array(idSchema).max(400)),
      /** Cohorts that the curve leaves out, by the month of their start. */
      without: listSchema.pipe(z.array(monthSchema).max(240)).default([]),
    }),
    answer: cohortsSchema,
  },
});
