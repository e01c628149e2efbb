/** Streams and their methods, as they are sent and kept. */
import {
  BASELINE_KINDS,
  FORECAST_RESULTS,
  type MethodCode,
  type StreamSettings,
} from '@dravex/core';
import { z } from 'zod';
import { codeSchema, idSchema, monthSchema, nameSchema, whySchema } from '../common.ts';

export const memberSchema = z.object({
  id: idSchema,
  code: z.string(),
  name: z.string(),
  parent: idSchema.nullable(),
  replaces: idSchema.optional(),
});

export const methodSchema = z.enum([
  'amount',
  'volumePrice',
  'growthLastYear',
  'growthPeriod',
  'marketShare',
  'funnel',
  'baseline',
  'subscription',
  'formula',
]) satisfies z.ZodType<MethodCode>;

const codeOfDriver = z.string().min(1).max(60);

const rateSchema = z.number().min(0).max(1);

const formulaText = z.string().max(200_000).nullable();

export const measured = z.enum(FORECAST_RESULTS);

const stretch = { from: z.number().int().min(0).max(240), to: z.number().int().min(0).max(240) };

const named = { name: codeOfDriver, measure: measured };

const funnelSteps = z
  .array(
    z.strictObject({
      name: nameSchema,
      rate: codeOfDriver,
      lag: z.number().int().min(0).max(60),
      opening: z.array(z.number().min(0).max(1e12)).max(60),
      cost: codeOfDriver.nullable(),
    }),
  )
  .max(20);
const funnelSchema = z.strictObject({
  sources: z
    .array(
      z.strictObject({
        name: nameSchema,
        kind: z.enum(['typed', 'paid', 'times']),
        drivers: z.array(codeOfDriver).min(1).max(2),
        /** Steps of its own, before it enters the common ones. */
        steps: funnelSteps.optional(),
        enters: z.number().int().min(0).max(20),
      }),
    )
    .max(20),
  steps: funnelSteps,
});

const baselineSchema = z.strictObject({
  of: measured,
  kind: z.enum(['best', ...BASELINE_KINDS]),
  settings: z.strictObject({
    months: z.number().int().min(1).max(240).optional(),
    growth: z.number().min(-1).max(10).optional(),
    rates: z.strictObject({ alpha: rateSchema, beta: rateSchema, gamma: rateSchema }).optional(),
    span: z.strictObject({ from: monthSchema, to: monthSchema }).optional(),
    month: monthSchema.optional(),
    blank: z.array(z.number().int().min(1).max(12)).max(12).optional(),
  }),
});

const part = z.number().min(0).max(1);

const subscriptionSchema = z
  .strictObject({
    churn: z.enum(['constant', 'byAge', 'atRenewal', 'whole']),
    rates: z.array(part).max(120).optional(),
    term: z.number().int().min(1, 'a term has at least one month').max(60).optional(),
    /** Of `whole`: the month from which months are counted. */
    countedFrom: monthSchema.optional(),
    pricePolicy: z.enum(['current', 'keptFromStart', 'atRenewal']),
    billing: z.enum(['monthly', 'yearly']),
    counts: z.enum(['earned', 'billed']).optional(),
    opening: z.array(z.number().min(0, 'a count is at least 0').max(1e9)).max(240).optional(),
    deferred: z.array(z.number().min(0).max(1e12)).max(60).optional(),
  })
  .refine(({ churn, rates = [] }) => churn !== 'byAge' || rates.length > 0, {
    message: 'name a rate for age 1',
    path: ['rates'],
  });

const changes = {
  age: z.number().int().min(1, 'they change at an age of at least one month').max(240),
  share: part,
};

const openMonths = { from: monthSchema, to: monthSchema };

const common = {
  why: z.string().trim().max(300).optional(),
  of: measured.optional(),
  base: z.enum(['month', 'quarter']).optional(),
  funnel: funnelSchema.optional(),
  baseline: baselineSchema.optional(),
  subscription: subscriptionSchema.optional(),
  anew: z
    .array(z.strictObject({ ...openMonths, baseline: baselineSchema }))
    .max(120)
    .refine((list) => list.every(({ from, to }) => from <= to), 'it ends before it starts')
    .refine(
      (list) => list.every(({ from }, at) => at === 0 || from > (list[at - 1]?.to ?? '')),
      'months lie in two stretches, or these are not in their order',
    )
    .optional(),
};

const formulas = { units: formulaText, revenue: formulaText };

/** How a method is set for a stream; other streams are named by their combinations' ids. */
export const streamSettingsSchema = z.strictObject({
  ...common,
  attached: z.strictObject({ combination: idSchema, ...stretch }).optional(),
  changesOver: z.strictObject({ combination: idSchema, ...changes }).optional(),
  formula: z
    .strictObject({
      ...formulas,
      names: z.array(z.strictObject({ ...named, combination: idSchema })).max(20),
    })
    .optional(),
}) satisfies z.ZodType<StreamSettings>;

/** The same as it is brought in: other streams are named by the codes of their members. */
const newSettingsSchema = z.strictObject({
  ...common,
  attached: z.strictObject({ members: z.record(codeSchema, codeSchema), ...stretch }).optional(),
  changesOver: z.strictObject({ members: z.record(codeSchema, codeSchema), ...changes }).optional(),
  formula: z
    .strictObject({
      ...formulas,
      names: z
        .array(z.strictObject({ ...named, members: z.record(codeSchema, codeSchema) }))
        .max(20)
        .default([]),
    })
    .optional(),
});

export type NewStreamSettings = z.output<typeof newSettingsSchema>;

/** Streams as they are brought in: one leaf member's code for every dimension. */
export const newStreamsSchema = z.strictObject({
  streams: z
    .array(
      z.strictObject({
        members: z.record(codeSchema, codeSchema),
        method: methodSchema,
        settings: newSettingsSchema.default({}),
      }),
    )
    .min(1)
    .max(20_000),
});

export type NewStreams = z.infer<typeof newStreamsSchema>;

/** A new member that is forecast like another one of its dimension. */
export const memberLikeSchema = z.strictObject({
  dimension: codeSchema,
  /** The code of the lowest member that it is like. */
  like: codeSchema,
  name: nameSchema,
  code: codeSchema,
  /** Its volume as a part of the other one's: 0.5 is half of it. */
  scale: z
    .number('write a percentage, as in 80')
    .min(0, 'at least 0 %')
    .max(1000, 'at most 100,000 %')
    .default(1),
  /** The first month it is sold in; the first open one where it is left out. */
  from: monthSchema.nullable().default(null),
  /** Its list price in currency units; that of the other one where it is left out. */
  listPrice: z
    .number('write a price')
    .min(0, 'a price is at least 0')
    .max(1e9)
    .nullable()
    .default(null),
});

export type MemberLike = z.output<typeof memberLikeSchema>;

/** Which combinations that were sold become streams; all that are not forecast when left out. */
export const proposeStreamsSchema = z
  .strictObject({ combinations: z.array(idSchema).min(1).max(20_000).optional() })
  .default({});

export type ProposeStreams = z.output<typeof proposeStreamsSchema>;

/** Another method for streams, the same for all that are named. */
export const setMethodSchema = z.strictObject({
  streams: z.array(idSchema).min(1).max(20_000),
  method: methodSchema,
  settings: streamSettingsSchema.default({}),
  /** Overrides and months forecast anew of these streams: kept, or dropped. */
  overrides: z.enum(['keep', 'drop']).default('keep'),
});

export type SetMethod = z.output<typeof setMethodSchema>;

/** Open months of streams that are forecast anew, the same way for all that are named. */
export const forecastAnewSchema = z
  .strictObject({
    streams: z.array(idSchema).min(1).max(20_000),
    ...openMonths,
    /** What they are forecast from; null goes back to what each stream's method says. */
    baseline: baselineSchema.nullable(),
    /** Overrides in these months: they stand, or go because the months are forecast anew. */
    overrides: z.enum(['keep', 'drop']),
    why: whySchema.optional(),
  })
  .refine(({ from, to }) => from <= to, { message: 'it ends before it starts', path: ['to'] });

export type ForecastAnew = z.output<typeof forecastAnewSchema>;

/** Streams that are no longer forecast. */
export const deleteStreamsSchema = z.strictObject({
  streams: z.array(idSchema).min(1).max(20_000),
});

export type DeleteStreams = z.output<typeof deleteStreamsSchema>;
