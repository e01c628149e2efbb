import type { Assumption, Driver, Profile, TypedTotal, TypedValue } from '@dravex/core';
import { z } from 'zod';
import { codeSchema, idSchema, monthSchema, scopeSchema, whySchema } from '../common.ts';
import { operations } from '../operation.ts';

export const driverSchema = z.object({
  code: z.string(),
  name: z.string(),
  kind: z.enum(['count', 'wholeCount', 'money', 'moneyPerUnit', 'percent', 'ratio']),
  unit: z.string(),
  minimum: z.number().nullable(),
  maximum: z.number().nullable(),
  default: z.number().nullable(),
}) satisfies z.ZodType<Driver>;

/** Any number a JSON document can hold; the driver's own bounds are checked by the core. */
const valueSchema = z.number('this is not a number');

export const profileSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('value'), value: valueSchema }),
  z.strictObject({
    kind: z.literal('steps'),
    steps: z
      .array(z.strictObject({ from: monthSchema, value: valueSchema }))
      .min(1)
      .max(240),
  }),
  z.strictObject({ kind: z.literal('months'), values: z.record(monthSchema, valueSchema) }),
]) satisfies z.ZodType<Profile>;

export const assumptionSchema = z.object({
  id: idSchema,
  driver: z.string(),
  scope: scopeSchema,
  from: monthSchema.nullable(),
  to: monthSchema.nullable(),
  profile: profileSchema,
  note: z.string(),
  /** Who set it last, and when. */
  by: z.string(),
  at: z.string(),
}) satisfies z.ZodType<Assumption>;
export interface KeptAssumption extends Assumption {
  readonly by: string;
  readonly at: string;
}

/** Assumptions as they are brought in: a scope names members by code under dimensions' codes. */
export const newAssumptionsSchema = z.strictObject({
  assumptions: z
    .array(
      z.strictObject({
        driver: codeSchema,
        scope: z.record(codeSchema, codeSchema),
        from: monthSchema.nullable().default(null),
        to: monthSchema.nullable().default(null),
        profile: profileSchema,
        note: z.string().max(500).default(''),
      }),
    )
    .min(1)
    .max(20_000),
});
export type NewAssumptions = z.infer<typeof newAssumptionsSchema>;

export const typedValueSchema = z.strictObject({
  scope: scopeSchema,
  month: monthSchema,
  value: valueSchema.nullable(),
  /** What was typed at exactly this scope when it was seen; null when nothing was. */
  saw: valueSchema.nullable().optional(),
}) satisfies z.ZodType<TypedValue>;

export const typedTotalSchema = z.strictObject({
  scope: scopeSchema,
  month: monthSchema,
  total: valueSchema,
  /** The total that was seen; null when nothing was there. */
  saw: valueSchema.nullable().optional(),
}) satisfies z.ZodType<TypedTotal>;

/** What was typed into a driver's grid: values at scopes, and totals to be spread over streams. */
export const typingSchema = z.strictObject({
  values: z.array(typedValueSchema).max(200_000).default([]),
  totals: z.array(typedTotalSchema).max(20_000).default([]),
  why: whySchema,
});
export type Typing = z.infer<typeof typingSchema>;

/** What the typing did to the assumptions, as they are kept now. */
export const typingResultSchema = z.object({
  put: z.array(assumptionSchema).readonly(),
  drop: z.array(z.number()).readonly(),
  revision: z.number(),
  /** The record in the journal; null when nothing differed. */
  journal: z.number().nullable(),
});
export interface TypingResult {
  readonly put: readonly KeptAssumption[];
  readonly drop: readonly number[];
  readonly revision: number;
  readonly journal: number | null;
}

export const driversOperations = operations({
  createAssumptions: {
    method: 'post',
    path: '/workspaces/{workspaceId}/assumptions',
    summary: 'Brings in assumptions that name members by code, all or none',
    access: 'plans',
    body: newAssumptionsSchema,
    largest: '16mb',
    answer: z.object({ ids: z.array(z.number()) }),
    status: 201,
  },
  typeIntoDriver: {
    method: 'put',
    path: '/workspaces/{workspaceId}/drivers/{driver}/values',
    summary:
      'Takes in values and totals typed into a driver; what somebody else changed meanwhile is a conflict',
    access: 'plans',
    body: typingSchema,
    largest: '16mb',
    answer: typingResultSchema,
  },
});
