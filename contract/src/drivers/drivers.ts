import {
  FORMULA_FUNCTIONS,
  STREAM_WEIGHTS,
  type Adjustment,
  type Assumption,
  type Driver,
  type Profile,
  type TypedChange,
  type TypedTotal,
  type TypedValue,
} from '@dravex/core';
import { z } from 'zod';
import {
  codeSchema,
  idSchema,
  monthSchema,
  nameSchema,
  scopeSchema,
  whySchema,
} from '../common.ts';
import { MB, operations } from '../operation.ts';

const kindSchema = z.enum([
  'count',
  'wholeCount',
  'money',
  'moneyPerUnit',
  'percent',
  'ratio',
  'yesNo',
  'choice',
]);
const boundSchema = z.number().min(-1e15).max(1e15).nullable();
const choicesSchema = z
  .array(z.strictObject({ value: z.number(), label: z.string().trim().min(1).max(60) }))
  .max(100);
const formulaSchema = z.string().max(200_000).nullable();

/** What a driver's closed months are read from: a measured fact, `units` or `revenue`, over another. */
const historySchema = z
  .strictObject({
    measure: z.string().trim().min(1).max(120),
    per: z.string().trim().min(1).max(120).nullable().default(null),
  })
  .nullable();

/** How a driver rolls up; left out, its kind says so. */
export const natureSchema = z.enum(['flow', 'stock', 'ratio', 'level']);
/** What weighs streams in a mean: a driver by its code, or a number of the stream itself. */
const weightSchema = z.string().min(1).max(60).nullable();

export const driverSchema = z.object({
  code: z.string().max(60),
  name: z.string().max(120),
  kind: kindSchema,
  unit: z.string().max(60),
  minimum: boundSchema,
  maximum: boundSchema,
  step: boundSchema.default(null),
  default: boundSchema,
  choices: choicesSchema.default([]),
  formula: formulaSchema.default(null),
  history: historySchema.default(null),
  nature: natureSchema.optional(),
  weight: weightSchema.optional(),
}) satisfies z.ZodType<Driver>;

/** A driver's code is a name in formulas: letters, digits and underscores, no digit first. */
export const driverCodeSchema = z
  .string()
  .trim()
  .min(1)
  .max(40)
  .regex(/^[\p{L}_][\p{L}\p{N}_]*$/u, 'a name of a driver has letters, digits and underscores')
  .refine(
    (text) => !FORMULA_FUNCTIONS.some((name) => name === text.toLowerCase()),
    'this is a function of formulas',
  )
  .refine(
    (text) => text !== 'units' && text !== 'revenue',
    'formulas of forecast lines use this name',
  )
  .refine(
    (text) => !STREAM_WEIGHTS.some((name) => name === text),
    'this is the name of a number of forecast lines',
  );

export const newDriverSchema = z.strictObject({
  code: driverCodeSchema,
  name: nameSchema,
  kind: kindSchema,
  unit: z.string().trim().max(60).default(''),
  minimum: boundSchema.default(null),
  maximum: boundSchema.default(null),
  step: boundSchema.default(null),
  default: boundSchema.default(null),
  choices: choicesSchema.default([]),
  formula: formulaSchema.default(null),
  history: historySchema.default(null),
  nature: natureSchema.optional(),
  weight: weightSchema.optional(),
});
export type NewDriver = z.output<typeof newDriverSchema>;
/** Of the drivers that methods read themselves only bounds, step, default and history can be changed. */
export const driverChangeSchema = z.strictObject({
  name: nameSchema.optional(),
  unit: z.string().trim().max(60).optional(),
  minimum: boundSchema.optional(),
  maximum: boundSchema.optional(),
  step: boundSchema.optional(),
  default: boundSchema.optional(),
  choices: choicesSchema.optional(),
  formula: formulaSchema.optional(),
  history: historySchema.optional(),
  nature: natureSchema.optional(),
  weight: weightSchema.optional(),
});
export type DriverChange = z.infer<typeof driverChangeSchema>;

/** Any number a JSON document can hold; the driver's own bounds are checked by the core. */
const valueSchema = z.number('this is not a number');

const twelveSchema = z.array(valueSchema).max(12);

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
  z.strictObject({
    kind: z.literal('growth'),
    start: valueSchema,
    startMonth: monthSchema,
    by: z.enum(['month', 'compound', 'yearRate', 'yearAmount']),
    rate: valueSchema,
    stepMonth: z.number().int().min(1).max(12),
  }),
  z.strictObject({
    kind: z.literal('annual'),
    totals: z.record(monthSchema, valueSchema),
    weights: twelveSchema,
    /** Whether each stream of the scope gets the totals; else they are divided over its streams. */
    each: z.boolean().optional(),
  }),
  z.strictObject({ kind: z.literal('level'), level: valueSchema, indices: twelveSchema }),
  z.strictObject({ kind: z.literal('lastYear'), growth: valueSchema }),
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

/** A change that was typed over whatever holds. */
export const adjustmentSchema = z.object({
  id: idSchema,
  driver: z.string(),
  scope: scopeSchema,
  from: monthSchema.nullable(),
  to: monthSchema.nullable(),
  kind: z.enum(['set', 'times', 'plus']),
  value: z.number(),
  note: z.string(),
  by: z.string(),
  at: z.string(),
}) satisfies z.ZodType<Adjustment>;
export interface KeptAdjustment extends Adjustment {
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

/** An assumption as it is set by its whole profile; `id` names the one that it replaces. */
export const setAssumptionSchema = z.strictObject({
  id: idSchema.nullable().default(null),
  scope: scopeSchema,
  from: monthSchema.nullable().default(null),
  to: monthSchema.nullable().default(null),
  profile: profileSchema,
  note: z.string().trim().max(500).default(''),
});
export type SetAssumption = z.output<typeof setAssumptionSchema>;

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

/** A change typed over a row above several values: each value below changes by it. */
export const typedChangeSchema = z.strictObject({
  scope: scopeSchema,
  month: monthSchema,
  kind: z.enum(['times', 'plus']),
  /** In the core's form: 1.04 for 4 % more, 0.01 for a point of a percent driver. */
  by: valueSchema,
  /** The number that was seen in the row; null when nothing was there. */
  saw: valueSchema.nullable().optional(),
}) satisfies z.ZodType<TypedChange>;

/**
 * What was typed into a driver's grid: values at scopes, totals to be spread over streams, and
 * changes of whatever holds below a scope.
 */
export const typingSchema = z.strictObject({
  values: z.array(typedValueSchema).max(60_000).default([]),
  totals: z.array(typedTotalSchema).max(5000).default([]),
  changes: z.array(typedChangeSchema).max(5000).default([]),
  why: whySchema,
});
export type Typing = z.infer<typeof typingSchema>;

/** Adjustments as they are kept now, and those that are gone. */
export interface KeptAdjustmentChange {
  readonly put: readonly KeptAdjustment[];
  readonly drop: readonly number[];
}

/** What the typing did to assumptions and adjustments, as they are kept now. */
export const typingResultSchema = z.object({
  put: z.array(assumptionSchema).readonly(),
  drop: z.array(z.number()).readonly(),
  adjustments: z.object({
    put: z.array(adjustmentSchema).readonly(),
    drop: z.array(z.number()).readonly(),
  }),
  revision: z.number(),
  /** The record in the journal; null when nothing differed. */
  journal: z.number().nullable(),
});
export interface TypingResult {
  readonly put: readonly KeptAssumption[];
  readonly drop: readonly number[];
  readonly adjustments: KeptAdjustmentChange;
  readonly revision: number;
  readonly journal: number | null;
}

/** What is assumed for one scope, taken over to another that pins the same dimensions. */
export const copyScopeSchema = z.strictObject({
  from: scopeSchema,
  into: scopeSchema,
  /** Of these drivers; of all when it is left out. */
  drivers: z.array(z.string().max(60)).min(1).max(1000).optional(),
  why: whySchema,
});
export type CopyScope = z.output<typeof copyScopeSchema>;

/** A change that a driver's assumptions went through; its state is what they were after it. */
export const driverStateSchema = z.object({
  id: idSchema,
  at: z.string(),
  by: z.string(),
  what: z.string(),
  why: z.string(),
  changes: z.number(),
});
export type DriverState = z.infer<typeof driverStateSchema>;

export const driversOperations = operations({
  copyScope: {
    method: 'post',
    path: '/workspaces/{workspaceId}/assumptions/copy',
    summary: 'Copies what is assumed for one scope, and below it, to another',
    access: 'plans',
    body: copyScopeSchema,
    answer: z.object({ copied: z.number(), replaced: z.number() }),
  },
  readDriverStates: {
    method: 'get',
    path: '/workspaces/{workspaceId}/drivers/{driver}/states',
    summary: 'The changes a driver went through, newest first',
    access: 'reads',
    answer: z.array(driverStateSchema),
  },
  bringDriverBack: {
    method: 'post',
    path: '/workspaces/{workspaceId}/drivers/{driver}/states/{journalId}',
    summary: 'Brings a driver’s assumptions back to what they were after a change',
    access: 'plans',
    answer: z.object({ changes: z.number() }),
  },
  createAssumptions: {
    method: 'post',
    path: '/workspaces/{workspaceId}/assumptions',
    summary: 'Brings in assumptions that name members by code, all or none',
    access: 'plans',
    body: newAssumptionsSchema,
    largest: 8 * MB,
    answer: z.object({ ids: z.array(z.number()) }),
    status: 201,
  },
  addDriver: {
    method: 'post',
    path: '/workspaces/{workspaceId}/drivers',
    summary: 'Adds a driver of one’s own, typed or by a formula',
    access: 'plans',
    body: newDriverSchema,
    answer: z.object({ code: z.string() }),
    status: 201,
  },
  changeDriver: {
    method: 'patch',
    path: '/workspaces/{workspaceId}/drivers/{driver}',
    summary: 'Changes a driver: its bounds, and of one’s own also its name, unit and formula',
    access: 'plans',
    body: driverChangeSchema,
  },
  dropDriver: {
    method: 'delete',
    path: '/workspaces/{workspaceId}/drivers/{driver}',
    summary: 'Takes a driver of one’s own away, with its assumptions; nothing may read it',
    access: 'plans',
  },
  setAssumption: {
    method: 'post',
    path: '/workspaces/{workspaceId}/drivers/{driver}/assumptions',
    summary: 'Sets an assumption by its whole profile: a new one, or in place of one',
    access: 'plans',
    body: setAssumptionSchema,
    answer: z.object({ id: idSchema }),
    status: 201,
  },
  dropAssumption: {
    method: 'delete',
    path: '/workspaces/{workspaceId}/drivers/{driver}/assumptions/{assumptionId}',
    summary: 'Takes an assumption away',
    access: 'plans',
  },
  typeIntoDriver: {
    method: 'put',
    path: '/workspaces/{workspaceId}/drivers/{driver}/values',
    summary:
      'Takes in values, totals and changes typed into a driver; what somebody else changed meanwhile is a conflict',
    access: 'plans',
    body: typingSchema,
    largest: 8 * MB,
    answer: typingResultSchema,
  },
});
