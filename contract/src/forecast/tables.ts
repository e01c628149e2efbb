/** Tables of the forecast: how one is asked for, and what it answers. */
import { MEASURE_CODES, MEASURED_CODES, type Table } from '@dravex/core';
import { z } from 'zod';
import {
  idSchema,
  codeSchema,
  idListSchema,
  listSchema,
  momentShape,
  monthSchema,
  scopeSchema,
} from '../common.ts';

/** Whether closed months have their actuals, or the forecast kept at their close where there is one. */
const closedSchema = z.enum(['actual', 'kept']).default('actual');

export const measureSchema = z.enum(MEASURE_CODES);

export const grainSchema = z.enum(['day', 'week', 'month', 'quarter', 'year']);

/** What cuts every table: the window, and the scope as ids of members. */
export const frameShape = {
  measure: measureSchema.default('revenue'),
  rows: listSchema.pipe(z.array(codeSchema).min(1, 'name a dimension for the rows').max(4)),
  scope: idListSchema,
  from: monthSchema,
  to: monthSchema,
  /** Whether of what happened everything counts, or only what is in the books. */
  origin: z.enum(['all', 'books']).default('all'),
};

/** Whether a window ends no earlier than it starts. */
export const inOrder = (frame: { from: string; to: string }): boolean => frame.from <= frame.to;

/** Sales by day are read in Actuals: what is planned is divided by days, and only that. */
export const daysOfPlans = ({ grain, version }: { grain: string; version?: number | undefined }) =>
  grain !== 'day' || version !== undefined;
export const ofVersions = {
  message: 'by day a version can be read; name one as version, or choose weeks',
  path: ['grain'],
};

/** A moment is one of a version. */
export const momentOfVersion = ({
  at,
  version,
}: {
  at?: string | undefined;
  version?: number | undefined;
}) => at === undefined || version !== undefined;
export const momentNeedsVersion = {
  message: 'a version can be read as it was; name one as version',
  path: ['at'],
};

export const order = { message: 'the window ends before it starts', path: ['to'] };

/** A table by the address: `?rows=channel,product&columns=time&from=2026-04&to=2027-03`. */
export const tableAddressSchema = z
  .strictObject({
    ...frameShape,
    columns: z.string().max(60).default('time'),
    grain: grainSchema.default('month'),
    /** A kept version's id; the forecast when it is left out. */
    version: z.coerce.number().pipe(idSchema).optional(),
    ...momentShape,
    closed: closedSchema,
  })
  .refine(inOrder, order)
  .refine(daysOfPlans, ofVersions)
  .refine(momentOfVersion, momentNeedsVersion);

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
    version: z.coerce.number().pipe(idSchema).optional(),
    ...momentShape,
    closed: closedSchema,
    origin: frameShape.origin,
    /** Whether rows in which there is nothing are there too. */
    empty: z.enum(['yes', 'no']).default('no'),
    order: orderSchema.optional(),
  })
  .refine(inOrder, order)
  .refine(daysOfPlans, ofVersions)
  .refine(momentOfVersion, momentNeedsVersion);

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

export const periodSchema = z.object({
  key: z.string(),
  from: z.number(),
  to: z.number(),
  partial: z.boolean(),
  /** Of a week or a day: its first and last day within the window. */
  days: z.object({ from: z.string(), to: z.string() }).optional(),
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
