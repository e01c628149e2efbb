import {
  BASELINE_KINDS,
  FORECAST_RESULTS,
  MEASURE_CODES,
  MEASURED_CODES,
  type MethodCode,
  type Override,
  type Plan,
  type StreamSettings,
  type Table,
} from '@dravex/core';
import { z } from 'zod';
import {
  codeSchema,
  idListSchema,
  idSchema,
  listSchema,
  monthSchema,
  nameSchema,
  scopeSchema,
  whySchema,
} from '../common.ts';
import { operations } from '../operation.ts';
import {
  adjustmentSchema,
  assumptionSchema,
  driverSchema,
  natureSchema,
  type KeptAdjustment,
  type KeptAdjustmentChange,
  type KeptAssumption,
} from '../drivers/drivers.ts';
import { calendarSchema, currencySchema } from '../workspaces/workspaces.ts';

const memberSchema = z.object({
  id: idSchema,
  code: z.string(),
  name: z.string(),
  parent: idSchema.nullable(),
});

export const methodSchema = z.enum([
  'amount',
  'volumePrice',
  'growthLastYear',
  'growthPeriod',
  'marketShare',
  'funnel',
  'baseline',
  'formula',
]) satisfies z.ZodType<MethodCode>;

const codeOfDriver = z.string().min(1).max(60);
const rateSchema = z.number().min(0).max(1);
const formulaText = z.string().max(200_000).nullable();
const measured = z.enum(FORECAST_RESULTS);
const stretch = { from: z.number().int().min(0).max(240), to: z.number().int().min(0).max(240) };
const named = { name: codeOfDriver, measure: measured };

const funnelSchema = z.strictObject({
  sources: z
    .array(
      z.strictObject({
        name: nameSchema,
        kind: z.enum(['typed', 'paid', 'times']),
        drivers: z.array(codeOfDriver).min(1).max(2),
        enters: z.number().int().min(0).max(20),
      }),
    )
    .max(20),
  steps: z
    .array(
      z.strictObject({
        name: nameSchema,
        rate: codeOfDriver,
        lag: z.number().int().min(0).max(60),
        opening: z.array(z.number().min(0).max(1e12)).max(60),
        cost: codeOfDriver.nullable(),
      }),
    )
    .max(20),
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
const common = {
  why: z.string().trim().max(300).optional(),
  of: measured.optional(),
  base: z.enum(['month', 'quarter']).optional(),
  funnel: funnelSchema.optional(),
  baseline: baselineSchema.optional(),
};
const formulas = { units: formulaText, revenue: formulaText };

/** How a method is set for a stream; other streams are named by their combinations' ids. */
export const streamSettingsSchema = z.strictObject({
  ...common,
  attached: z.strictObject({ combination: idSchema, ...stretch }).optional(),
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

const overrideSchema = z.object({
  combination: idSchema,
  month: monthSchema,
  measure: measured,
  value: z.number(),
  by: z.string(),
  why: z.string(),
}) satisfies z.ZodType<Override>;

/** Everything the core needs of a workspace, as the browser's worker gets it. */
export const planSchema = z.object({
  calendar: calendarSchema,
  currency: currencySchema,
  dimensions: z.array(
    z.object({ code: z.string(), name: z.string(), members: z.array(memberSchema) }),
  ),
  combinations: z.array(z.object({ id: idSchema, members: z.array(idSchema) })),
  drivers: z.array(driverSchema),
  assumptions: z.array(assumptionSchema),
  adjustments: z.array(adjustmentSchema).default([]),
  streams: z.array(
    z.object({
      id: idSchema,
      combination: idSchema,
      method: methodSchema,
      settings: streamSettingsSchema.default({}),
    }),
  ),
  overrides: z.array(overrideSchema).default([]),
  actuals: z.object({
    combination: z.array(idSchema),
    month: z.array(monthSchema),
    units: z.array(z.number()),
    revenue: z.array(z.number()),
    cost: z.array(z.number()),
    /** Units that came back, above zero; part of the net units. */
    returned: z.array(z.number()).optional(),
  }),
  /** Measured facts that drivers take their history from, by measure and scope. */
  facts: z
    .array(
      z.object({
        measure: z.string(),
        nature: natureSchema,
        scope: scopeSchema,
        months: z.array(monthSchema),
        values: z.array(z.number()),
      }),
    )
    .default([]),
}) satisfies z.ZodType<Plan>;

/** A workspace's plan with what frames it. */
export interface WorkspacePlan {
  readonly name: string;
  readonly locale: string;
  readonly revision: number;
  readonly plan: Omit<Plan, 'assumptions' | 'adjustments'> & {
    readonly assumptions: readonly KeptAssumption[];
    readonly adjustments: readonly KeptAdjustment[];
  };
}

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
  /** Overrides of these streams: kept, or dropped because they are forecast anew. */
  overrides: z.enum(['keep', 'drop']).default('keep'),
});
export type SetMethod = z.output<typeof setMethodSchema>;

/** Streams that are no longer forecast. */
export const deleteStreamsSchema = z.strictObject({
  streams: z.array(idSchema).min(1).max(20_000),
});
export type DeleteStreams = z.output<typeof deleteStreamsSchema>;

/** A total typed over the forecast of a scope and a stretch of open months. */
export const typeOverSchema = z.strictObject({
  typed: z
    .array(
      z
        .strictObject({
          scope: scopeSchema,
          from: monthSchema,
          to: monthSchema,
          measure: measured,
          total: z.number().min(-1e15).max(1e15),
          /** The total that was seen; null when there was none. */
          saw: z.number().nullable().optional(),
        })
        .refine((one) => one.from <= one.to, { message: 'it ends before it starts', path: ['to'] }),
    )
    .min(1)
    .max(5000),
  why: whySchema,
});
export type TypeOver = z.output<typeof typeOverSchema>;

/** Which overrides are dropped: those that are named, or all. */
export const dropOverridesSchema = z.strictObject({
  overrides: z.union([
    z.literal('all'),
    z
      .array(z.strictObject({ combination: idSchema, month: monthSchema, measure: measured }))
      .min(1)
      .max(200_000),
  ]),
});
export type DropOverrides = z.output<typeof dropOverridesSchema>;

export const measureSchema = z.enum(MEASURE_CODES);
export const grainSchema = z.enum(['month', 'quarter', 'year']);

/** What cuts every table: the window, and the scope as ids of members. */
export const frameShape = {
  measure: measureSchema.default('revenue'),
  rows: listSchema.pipe(z.array(codeSchema).min(1, 'name a dimension for the rows').max(4)),
  scope: idListSchema,
  from: monthSchema,
  to: monthSchema,
};

/** Whether a window ends no earlier than it starts. */
export const inOrder = (frame: { from: string; to: string }): boolean => frame.from <= frame.to;
export const order = { message: 'the window ends before it starts', path: ['to'] };

/** A table by the address: `?rows=channel,product&columns=time&from=2026-04&to=2027-03`. */
export const tableAddressSchema = z
  .strictObject({
    ...frameShape,
    columns: z.string().max(60).default('time'),
    grain: grainSchema.default('month'),
    /** A kept version's id; the forecast when it is left out. */
    version: z.coerce.number().int().positive().optional(),
  })
  .refine(inOrder, order);
export type TableAddress = z.infer<typeof tableAddressSchema>;

export const measuredCodeSchema = z.enum(MEASURED_CODES);
/** `web:down`: by a column's key, falling (`down`) or rising (`up`). */
const orderSchema = z
  .string()
  .max(80)
  .regex(/^[^:]+:(up|down)$/, 'an order is a column and up or down, as in total:down')
  .transform((text) => {
    const [column = '', way] = text.split(':');
    return { column, descending: way === 'down' };
  });

/** A table of several measures: `?measures=units,shareOfMarket&columns=measures&order=total:down`. */
export const measuredAddressSchema = z
  .strictObject({
    measures: listSchema.pipe(z.array(measuredCodeSchema).min(1, 'name a measure').max(12)),
    rows: frameShape.rows,
    scope: idListSchema,
    from: monthSchema,
    to: monthSchema,
    columns: z.string().max(60).default('time'),
    grain: grainSchema.default('month'),
    version: z.coerce.number().int().positive().optional(),
    /** Whether rows in which there is nothing are there too. */
    empty: z.enum(['yes', 'no']).default('no'),
    order: orderSchema.optional(),
  })
  .refine(inOrder, order);
export type MeasuredAddress = z.infer<typeof measuredAddressSchema>;

/** A number of a table. */
export const cellSchema = z.object({ value: z.number().nullable(), incomplete: z.boolean() });
/** A row of a table, whatever it holds. */
export const rowShape = {
  key: z.string(),
  label: z.string(),
  level: z.number(),
  scope: scopeSchema.readonly(),
  parent: z.boolean(),
};
const tableRowSchema = z.object({
  ...rowShape,
  cells: z.array(cellSchema).readonly(),
  total: cellSchema,
});
const periodSchema = z.object({
  key: z.string(),
  from: z.number(),
  to: z.number(),
  partial: z.boolean(),
});

/** A table of the core: months are whole numbers, year x 12 + month - 1. */
export const tableSchema = z.object({
  columns: z
    .array(z.object({ key: z.string(), label: z.string(), period: periodSchema.nullable() }))
    .readonly(),
  rows: z.array(tableRowSchema).readonly(),
  total: tableRowSchema,
}) satisfies z.ZodType<Table>;

const measuredRowSchema = tableRowSchema.extend({
  measure: measuredCodeSchema,
  line: z.boolean(),
});
/** A table of several measures; further measures of a row follow it as lines. */
export const measuredTableSchema = z.object({
  columns: z
    .array(
      z.object({
        key: z.string(),
        label: z.string(),
        period: periodSchema.nullable(),
        measure: measuredCodeSchema.optional(),
      }),
    )
    .readonly(),
  rows: z.array(measuredRowSchema).readonly(),
  totals: z.array(measuredRowSchema).readonly(),
});

export const workspacePlanSchema = z.object({
  name: z.string(),
  locale: z.string(),
  revision: z.number(),
  plan: planSchema,
}) satisfies z.ZodType<WorkspacePlan>;

/** What changed since a revision: small edits as they are now, or that all has to be read anew. */
export const changesSchema = z.object({
  revision: z.number(),
  whole: z.boolean(),
  put: z.array(assumptionSchema),
  drop: z.array(z.number()),
  adjustments: z.object({ put: z.array(adjustmentSchema), drop: z.array(z.number()) }),
  /** Versions whose cells, name or state changed. */
  versions: z.array(z.number()),
  targets: z.boolean(),
});
export interface Changes extends Omit<z.infer<typeof changesSchema>, 'put' | 'adjustments'> {
  readonly put: readonly KeptAssumption[];
  readonly adjustments: KeptAdjustmentChange;
}

const base = '/workspaces/{workspaceId}';

export const forecastOperations = operations({
  readPlan: {
    method: 'get',
    path: `${base}/plan`,
    summary: 'Everything the core needs, as one moment of the workspace',
    access: 'reads',
    answer: workspacePlanSchema,
  },
  readChanges: {
    method: 'get',
    path: `${base}/changes`,
    summary: 'What changed since a revision',
    access: 'reads',
    query: z.strictObject({ since: z.coerce.number().int().min(0) }),
    answer: changesSchema,
  },
  createStreams: {
    method: 'post',
    path: `${base}/streams`,
    summary: 'Makes streams for combinations named by codes, all or none',
    access: 'plans',
    body: newStreamsSchema,
    largest: '16mb',
    answer: z.object({ streams: z.number() }),
    status: 201,
  },
  proposeStreams: {
    method: 'post',
    path: `${base}/streams/from-sales`,
    summary:
      'Makes streams for whatever was sold in the last twelve closed months and is not forecast, with assumptions to start from',
    access: 'plans',
    body: proposeStreamsSchema,
    largest: '4mb',
    answer: z.object({ streams: z.number() }),
    status: 201,
  },
  setMethod: {
    method: 'put',
    path: `${base}/streams/method`,
    summary: 'Forecasts streams by another method',
    access: 'plans',
    body: setMethodSchema,
    largest: '4mb',
    answer: z.object({ streams: z.number() }),
  },
  deleteStreams: {
    method: 'post',
    path: `${base}/streams/delete`,
    summary: 'Deletes streams: what they forecast is forecast no longer; that can be taken back',
    access: 'plans',
    body: deleteStreamsSchema,
    largest: '4mb',
    answer: z.object({ streams: z.number() }),
  },
  typeOver: {
    method: 'post',
    path: `${base}/overrides`,
    summary: 'Types over the forecast: a total is spread over the cells below it, as they stand',
    access: 'plans',
    body: typeOverSchema,
    largest: '4mb',
    answer: z.object({ cells: z.number() }),
  },
  dropOverrides: {
    method: 'post',
    path: `${base}/overrides/drop`,
    summary: 'Drops what was typed over the forecast; what was computed shows again',
    access: 'plans',
    body: dropOverridesSchema,
    largest: '16mb',
    answer: z.object({ cells: z.number() }),
  },
  readTable: {
    method: 'get',
    path: `${base}/table`,
    summary: 'A table of the forecast line or of a kept version',
    access: 'reads',
    query: tableAddressSchema,
    answer: tableSchema,
  },
  readMeasured: {
    method: 'get',
    path: `${base}/table/measured`,
    summary: 'A table of several measures, with shares, market and growth, on rows or on columns',
    access: 'reads',
    query: measuredAddressSchema,
    answer: measuredTableSchema,
  },
  saveMeasured: {
    method: 'get',
    path: `${base}/table/measured.csv`,
    summary: 'The same as a file',
    access: 'reads',
    query: measuredAddressSchema,
    writes: 'text/csv',
  },
  saveTable: {
    method: 'get',
    path: `${base}/table.csv`,
    summary: 'The same as a file',
    access: 'reads',
    query: tableAddressSchema,
    writes: 'text/csv',
  },
});
