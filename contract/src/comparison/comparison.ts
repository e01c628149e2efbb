import {
  sourceNamed,
  VERSION_CODES,
  type ComparedBridge,
  type Comparison,
  type DriverBridge,
} from '@dravex/core';
import { z } from 'zod';
import { cellSchema, frameShape, inOrder, order, rowShape } from '../forecast/tables.ts';
import { operations } from '../operation.ts';

/** A source by its name in an address: `actual`, `forecast`, `lastYear`, `yearBeforeLast`, `version:3`. */
const sourceNameSchema = z
  .string()
  .max(60)
  .refine((text) => sourceNamed(text) !== undefined, {
    message:
      'a source is actual, forecast, lastYear, yearBeforeLast, or a version such as version:3',
  });

/** How many more columns of sources a comparison can have. */
export const MOST_BESIDE = 4;
/** `target` is the objective of the fiscal year in which the window ends, by scope as Targets has it. */
const TARGET_SIDE = 'target';
const besideSchema = z
  .string()
  .max(300)
  .transform((text) => text.split(',').filter((name) => name !== ''))
  .refine((names) => names.every((name) => name === TARGET_SIDE || sourceNamed(name)), {
    message:
      'beside are target, actual, forecast, lastYear, yearBeforeLast, or a version such as version:3, separated by commas',
  })
  .refine((names) => names.length <= MOST_BESIDE, {
    message: `at most ${MOST_BESIDE} more are held beside`,
  })
  .refine((names) => new Set(names).size === names.length, { message: 'each is named once' });

export const comparisonAddressSchema = z
  .strictObject({
    ...frameShape,
    measure: z.enum(VERSION_CODES).default('revenue'),
    /** What is held against something. */
    of: sourceNameSchema.default('actual'),
    /** What it is held against; or a version by its id. */
    against: sourceNameSchema.optional(),
    version: z.coerce.number().int().positive().optional(),
    /** What else it is held against, each with its difference: `target,lastYear`. */
    beside: besideSchema.default([]),
  })
  .refine(inOrder, order)
  .refine(({ against, version }) => (against === undefined) !== (version === undefined), {
    message: 'name what it is compared with: a version, or another source as against',
    path: ['against'],
  });
export type ComparisonAddress = z.infer<typeof comparisonAddressSchema>;

const heldAgainstShape = {
  plan: cellSchema,
  variance: z
    .object({
      amount: z.number(),
      percent: z.number().nullable(),
      judgement: z.enum(['good', 'bad', 'even']),
    })
    .nullable(),
};
const comparisonRowSchema = z.object({
  ...rowShape,
  actual: cellSchema,
  ...heldAgainstShape,
  /** What else it is held against, in the order asked. */
  beside: z
    .array(
      z.object({
        ...heldAgainstShape,
        /** Of a target: the nodes of the tree that it is made of. */
        of: z
          .array(z.object({ name: z.string(), value: z.number() }))
          .readonly()
          .optional(),
      }),
    )
    .readonly(),
});

const bridgeSchema = z.object({
  plan: z.number(),
  volume: z.number(),
  mix: z.number(),
  price: z.number(),
  new: z.number(),
  discontinued: z.number(),
  withoutUnits: z.number(),
  actual: z.number(),
  plannedUnits: z.number(),
  units: z.number(),
  newItems: z.number(),
  discontinuedItems: z.number(),
}) satisfies z.ZodType<ComparedBridge>;

const driverBridgeSchema = z.object({
  plan: z.number(),
  grossUnits: z.number(),
  returnRate: z.number(),
  listPrice: z.number(),
  discount: z.number(),
  notExplained: z.number(),
  actual: z.number(),
}) satisfies z.ZodType<DriverBridge>;

export const comparisonSchema = z.object({
  /** What the sides are called. */
  names: z.object({
    actual: z.string(),
    plan: z.string(),
    /** In the order asked. */
    beside: z.array(z.string()),
  }),
  /** Why revenue differs, item by item of the lowest rows; null of other measures, or where a number is missing. */
  bridge: bridgeSchema.nullable(),
  /** The same by driver, each with its mean effect over all orders; null where the first side is not sales. */
  drivers: driverBridgeSchema.nullable(),
  span: z.object({ from: z.number(), to: z.number() }).nullable(),
  cut: z.boolean(),
  rows: z.array(comparisonRowSchema).readonly(),
  total: comparisonRowSchema.nullable(),
}) satisfies z.ZodType<Comparison>;

export type ComparisonAnswer = z.infer<typeof comparisonSchema>;

const base = '/workspaces/{workspaceId}';

export const comparisonOperations = operations({
  readComparison: {
    method: 'get',
    path: `${base}/comparison`,
    summary:
      'Actual, forecast, a version or an earlier year against another of them, over the months of a window that all have; why revenue differs; others beside it, the target too',
    access: 'reads',
    query: comparisonAddressSchema,
    answer: comparisonSchema,
  },
  saveComparison: {
    method: 'get',
    path: `${base}/comparison.{format}`,
    summary: 'The same as a file',
    access: 'reads',
    query: comparisonAddressSchema,
    writes: 'text/csv',
  },
});
