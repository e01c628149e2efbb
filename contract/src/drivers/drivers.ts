import type { Assumption, Driver, Profile, TypedTotal, TypedValue } from '@dravex/core';
import { z } from 'zod';
import { codeSchema, idSchema, monthSchema, scopeSchema } from '../common.ts';

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
}) satisfies z.ZodType<TypedValue>;

export const typedTotalSchema = z.strictObject({
  scope: scopeSchema,
  month: monthSchema,
  total: valueSchema,
}) satisfies z.ZodType<TypedTotal>;

/** What was typed into a driver's grid: values at scopes, and totals to be spread over streams. */
export const typingSchema = z.strictObject({
  values: z.array(typedValueSchema).max(200_000).default([]),
  totals: z.array(typedTotalSchema).max(20_000).default([]),
});
export type Typing = z.infer<typeof typingSchema>;

/** What the typing did to the assumptions, as they are kept now. */
export interface TypingResult {
  readonly put: readonly KeptAssumption[];
  readonly drop: readonly number[];
  readonly revision: number;
}
