import {
  type ComparedAcross,
  sourceNamed,
  VERSION_CODES,
  type ComparedBridge,
  type Comparison,
  type DriverBridge,
} from '@dravex/core';
import { z } from 'zod';
import { idSchema, listSchema } from '../common.ts';
import {
  cellSchema,
  frameShape,
  inOrder,
  order,
  periodSchema,
  rowShape,
} from '../forecast/tables.ts';
import { operations } from '../operation.ts';

/** How many more columns of sources a comparison can have. */
export const MOST_BESIDE = 4;
/** `target` is the objective of the fiscal year in which the window ends, by scope as Targets has it. */
export const TARGET_SIDE = 'target';
/** A source by its name in an address: `actual`, `forecast`, `lastYear`, `version:3`. */
export const sourceNameSchema = z
  .string()
  .max(60)
  .refine((name) => sourceNamed(name) !== undefined, {
    message:
      'a source is actual, forecast, lastYear, yearBeforeLast, or a version such as version:3',
  });
const isSide = (name: string): boolean => name === TARGET_SIDE || sourceNamed(name) !== undefined;
/** A side by its name in an address: `actual`, `forecast`, `lastYear`, `version:3`, `target`. */
const sideNameSchema = z.string().max(60).refine(isSide, {
  message:
    'a side is target, actual, forecast, lastYear, yearBeforeLast, or a version such as version:3',
});
const besideSchema = z
  .string()
  .max(300)
  .transform((text) => text.split(',').filter((name) => name !== ''))
  .refine((names) => names.every(isSide), {
    message:
      'beside are target, actual, forecast, lastYear, yearBeforeLast, or a version such as version:3, separated by commas',
  })
  .refine((names) => names.length <= MOST_BESIDE, {
    message: `at most ${MOST_BESIDE} more are held beside`,
  })
  .refine((names) => new Set(names).size === names.length, { message: 'each is named once' });

/** Who sold and who bought: they stand on rows beside the dimensions, of what was sold. */
export const PEOPLE = ['seller', 'customer'] as const;
export type People = (typeof PEOPLE)[number];

/** How both sides can stand in several columns. */
export const ACROSS = ['month', 'quarter', 'year', 'measures'] as const;

export const comparisonAddressSchema = z
  .strictObject({
    ...frameShape,
    measure: z.enum(VERSION_CODES).default('revenue'),
    /** What is held against something. */
    of: sideNameSchema.default('actual'),
    /** What it is held against; or a version by its id. */
    against: sideNameSchema.optional(),
    version: z.coerce.number().pipe(idSchema).optional(),
    /** What else it is held against, each with its difference: `target,lastYear`. */
    beside: besideSchema.default([]),
    /** Both sides in several columns: by month, quarter or year, or by measure. */
    across: z.enum(ACROSS).optional(),
    /** The measures across: `revenue,units`. */
    measures: listSchema.pipe(z.array(z.enum(VERSION_CODES)).max(VERSION_CODES.length)),
  })
  .refine(inOrder, order)
  .refine(({ across, measures }) => across !== 'measures' || measures.length > 0, {
    message: 'name the measures, as in revenue,units',
    path: ['measures'],
  })
  .refine(({ across, measures }) => across === 'measures' || measures.length === 0, {
    message: 'several measures stand across=measures; otherwise name one as measure',
    path: ['measures'],
  })
  .refine(({ measures }) => new Set(measures).size === measures.length, {
    message: 'each is named once',
    path: ['measures'],
  })
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
/** Of a target: the nodes of the tree that it is made of. */
const nodesSchema = z
  .array(z.object({ name: z.string(), value: z.number() }))
  .readonly()
  .optional();
const bothSidesShape = {
  actual: cellSchema,
  actualOf: nodesSchema,
  ...heldAgainstShape,
  of: nodesSchema,
};
const besideNumbersSchema = z.array(z.object({ ...heldAgainstShape, of: nodesSchema })).readonly();
const comparisonRowSchema = z.object({
  ...rowShape,
  ...bothSidesShape,
  /** What else it is held against, in the order asked. */
  beside: besideNumbersSchema,
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
  replaced: z.number(),
  pairs: z.array(z.object({ name: z.string(), plan: z.number(), actual: z.number() })).readonly(),
  plannedUnits: z.number(),
  units: z.number(),
  newItems: z.number(),
  discontinuedItems: z.number(),
}) satisfies z.ZodType<ComparedBridge>;

const driverBridgeSchema = z.object({
  plan: z.number(),
  grossUnits: z.number(),
  entered: z.number(),
  conversion: z.number(),
  returnRate: z.number(),
  subscribersBefore: z.number(),
  newSubscribers: z.number(),
  churnRate: z.number(),
  listPrice: z.number(),
  discount: z.number(),
  notExplained: z.number(),
  actual: z.number(),
}) satisfies z.ZodType<DriverBridge>;

const spanSchema = z.object({ from: z.number(), to: z.number() });
const acrossRowSchema = z.object({
  ...rowShape,
  cells: z
    .array(z.object({ ...bothSidesShape, beside: besideNumbersSchema }).nullable())
    .readonly(),
});
/** The same sides in several columns. */
const acrossSchema = z.object({
  span: spanSchema.nullable(),
  cut: z.boolean(),
  columns: z
    .array(
      z.object({
        key: z.string(),
        measure: z.enum(VERSION_CODES),
        period: periodSchema.nullable(),
        span: spanSchema.nullable(),
      }),
    )
    .readonly(),
  rows: z.array(acrossRowSchema).readonly(),
  total: acrossRowSchema.nullable(),
}) satisfies z.ZodType<ComparedAcross>;

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
  /** Where columns were asked for across. */
  across: acrossSchema.optional(),
  span: spanSchema.nullable(),
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
