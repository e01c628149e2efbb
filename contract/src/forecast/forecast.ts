import type { Plan } from '@dravex/core';
import { z } from 'zod';
import { codeSchema, idSchema, monthSchema, scopeSchema } from '../common.ts';
import { assumptionSchema, driverSchema, type KeptAssumption } from '../drivers/drivers.ts';
import { calendarSchema, currencySchema } from '../workspaces/workspaces.ts';

const memberSchema = z.object({
  id: idSchema,
  code: z.string(),
  name: z.string(),
  parent: idSchema.nullable(),
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
  streams: z.array(
    z.object({ id: idSchema, combination: idSchema, method: z.literal('volumePrice') }),
  ),
  actuals: z.object({
    combination: z.array(idSchema),
    month: z.array(monthSchema),
    units: z.array(z.number()),
    revenue: z.array(z.number()),
    cost: z.array(z.number()),
  }),
}) satisfies z.ZodType<Plan>;

/** A workspace's plan with what frames it. */
export interface WorkspacePlan {
  readonly name: string;
  readonly locale: string;
  readonly revision: number;
  readonly plan: Omit<Plan, 'assumptions'> & { readonly assumptions: readonly KeptAssumption[] };
}

/** Streams as they are brought in: one leaf member's code for every dimension. */
export const newStreamsSchema = z.strictObject({
  streams: z
    .array(
      z.strictObject({
        members: z.record(codeSchema, codeSchema),
        method: z.literal('volumePrice'),
      }),
    )
    .min(1)
    .max(20_000),
});
export type NewStreams = z.infer<typeof newStreamsSchema>;

export const measureSchema = z.enum(['revenue', 'units', 'averagePrice', 'cost']);
export const grainSchema = z.enum(['month', 'quarter', 'year']);

/** A list in an address: `channel,product`. */
const listSchema = z
  .string()
  .max(2000)
  .default('')
  .transform((text) => text.split(',').filter((part) => part !== ''));

const idListSchema = listSchema.transform((parts) => parts.map(Number)).pipe(scopeSchema);

/** What cuts every table: the window, and the scope as ids of members. */
const frameShape = {
  measure: measureSchema.default('revenue'),
  rows: listSchema.pipe(z.array(codeSchema).min(1, 'name a dimension for the rows').max(4)),
  scope: idListSchema,
  from: monthSchema,
  to: monthSchema,
};

const inOrder = (frame: { from: string; to: string }): boolean => frame.from <= frame.to;
const order = { message: 'the window ends before it starts', path: ['to'] };

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

export const comparisonAddressSchema = z
  .strictObject({ ...frameShape, version: z.coerce.number().int().positive() })
  .refine(inOrder, order);
export type ComparisonAddress = z.infer<typeof comparisonAddressSchema>;
