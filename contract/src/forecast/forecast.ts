import type { Override, OverrideChange, Plan } from '@dravex/core';
import { z } from 'zod';
import { idSchema, monthSchema, scopeSchema, whySchema } from '../common.ts';
import {
  adjustmentSchema,
  assumptionSchema,
  driverSchema,
  natureSchema,
  type KeptAdjustment,
  type KeptAdjustmentChange,
  type KeptAssumption,
} from '../drivers/drivers.ts';
import { MB, operations } from '../operation.ts';
import {
  calendarSchema,
  closedShowsSchema,
  currencySchema,
  type ClosedShows,
} from '../workspaces/workspaces.ts';
import {
  memberSchema,
  methodSchema,
  measured,
  streamSettingsSchema,
  newStreamsSchema,
  memberLikeSchema,
  proposeStreamsSchema,
  setMethodSchema,
  forecastAnewSchema,
  deleteStreamsSchema,
} from './streams.ts';
import {
  tableAddressSchema,
  measuredAddressSchema,
  tableSchema,
  measuredTableSchema,
} from './tables.ts';

export const overrideSchema = z.object({
  combination: idSchema,
  month: monthSchema,
  measure: measured,
  value: z.number(),
  by: z.string(),
  why: z.string(),
  at: z.string().optional(),
}) satisfies z.ZodType<Override>;

/** What an override lies over. */
const overrideCellSchema = z.strictObject({
  combination: idSchema,
  month: monthSchema,
  measure: measured,
});

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
    /** What of some rows, counted from 0, was entered by hand; only: nothing of it is in the books. */
    byHand: z
      .object({
        row: z.array(z.number().int().min(0)),
        units: z.array(z.number()),
        revenue: z.array(z.number()),
        cost: z.array(z.number()),
        only: z.array(z.boolean()),
      })
      .optional(),
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
  /** What the forecast shows of closed months. */
  readonly closedMonths: ClosedShows;
  readonly plan: Omit<Plan, 'assumptions' | 'adjustments'> & {
    readonly assumptions: readonly KeptAssumption[];
    readonly adjustments: readonly KeptAdjustment[];
  };
}

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
  overrides: z.union([z.literal('all'), z.array(overrideCellSchema).min(1).max(200_000)]),
});

export type DropOverrides = z.output<typeof dropOverridesSchema>;

export const workspacePlanSchema = z.object({
  name: z.string(),
  locale: z.string(),
  revision: z.number(),
  closedMonths: closedShowsSchema,
  plan: planSchema,
}) satisfies z.ZodType<WorkspacePlan>;

/** What changed since a revision: small edits as they are now, or that all has to be read anew. */
export const changesSchema = z.object({
  revision: z.number(),
  whole: z.boolean(),
  put: z.array(assumptionSchema),
  drop: z.array(z.number()),
  adjustments: z.object({ put: z.array(adjustmentSchema), drop: z.array(z.number()) }),
  overrides: z.object({ put: z.array(overrideSchema), drop: z.array(overrideCellSchema) }),
  /** Versions whose cells, name or state changed. */
  versions: z.array(z.number()),
  targets: z.boolean(),
});

export interface Changes extends Omit<
  z.infer<typeof changesSchema>,
  'put' | 'adjustments' | 'overrides'
> {
  readonly put: readonly KeptAssumption[];
  readonly adjustments: KeptAdjustmentChange;
  readonly overrides: OverrideChange;
}

export const base = '/workspaces/{workspaceId}';

export const forecastOperations = operations({
  readPlan: {
    method: 'get',
    path: `${base}/plan`,
    summary: 'Everything the core needs, as one moment of the workspace',
    access: 'part',
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
    largest: 8 * MB,
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
    largest: 4 * MB,
    answer: z.object({ streams: z.number() }),
    status: 201,
  },
  createLike: {
    method: 'post',
    path: `${base}/streams/like`,
    summary: 'Adds a member and forecasts it like another one: its lines, season, prices and rates',
    access: 'plans',
    body: memberLikeSchema,
    answer: z.object({ member: idSchema, streams: z.number() }),
    status: 201,
  },
  setMethod: {
    method: 'put',
    path: `${base}/streams/method`,
    summary: 'Forecasts streams by another method',
    access: 'plans',
    body: setMethodSchema,
    largest: 4 * MB,
    answer: z.object({ streams: z.number() }),
  },
  forecastAnew: {
    method: 'put',
    path: `${base}/streams/anew`,
    summary: 'Forecasts some open months of streams anew, from a baseline or blank',
    access: 'plans',
    body: forecastAnewSchema,
    largest: 4 * MB,
    answer: z.object({ streams: z.number() }),
  },
  deleteStreams: {
    method: 'post',
    path: `${base}/streams/delete`,
    summary: 'Deletes streams: what they forecast is forecast no longer; that can be taken back',
    access: 'plans',
    body: deleteStreamsSchema,
    largest: 4 * MB,
    answer: z.object({ streams: z.number() }),
  },
  typeOver: {
    method: 'post',
    path: `${base}/overrides`,
    summary: 'Types over the forecast: a total is spread over the cells below it, as they stand',
    access: 'plans',
    body: typeOverSchema,
    largest: 4 * MB,
    answer: z.object({ cells: z.number() }),
  },
  dropOverrides: {
    method: 'post',
    path: `${base}/overrides/drop`,
    summary: 'Drops what was typed over the forecast; what was computed shows again',
    access: 'plans',
    body: dropOverridesSchema,
    largest: 8 * MB,
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
    path: `${base}/table/measured.{format}`,
    summary: 'The same as a file: csv or xlsx',
    access: 'reads',
    query: measuredAddressSchema,
    writes: 'text/csv',
  },
  saveTable: {
    method: 'get',
    path: `${base}/table.{format}`,
    summary: 'The same as a file: csv or xlsx',
    access: 'reads',
    query: tableAddressSchema,
    writes: 'text/csv',
  },
});
