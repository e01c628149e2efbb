import {
  LATEST_CLOSING_DAY,
  type AddingCode,
  type ClosingRule,
  type KeptMonths,
} from '@dravex/core';
import { z } from 'zod';
import { dateSchema, idSchema, monthSchema } from '../common.ts';
import { frameShape, inOrder, order } from '../forecast/tables.ts';
import { versionCellsSchema } from '../budgets/budgets.ts';
import { MB, operations } from '../operation.ts';
import { closedShowsSchema } from '../workspaces/workspaces.ts';

const ruleSchema = z.strictObject({
  by: z.enum(['hand', 'calendarDay', 'workingDay']),
  day: z.number().int().min(1).max(LATEST_CLOSING_DAY),
}) satisfies z.ZodType<ClosingRule>;

/** How many months the horizon grows by when a month is closed. */
export const ROLLS = [0, 1, 3, 12] as const;

/** How a workspace closes its months. */
export const closingRulesSchema = z.strictObject({
  rule: ruleSchema,
  /** Days that are no working days, besides Saturday and Sunday. */
  holidays: z.array(dateSchema).max(1000),
  roll: z.union(ROLLS.map((months) => z.literal(months))),
  closed: closedShowsSchema.default('actual'),
});
export type ClosingRules = z.infer<typeof closingRulesSchema>;

export const BY_HAND: ClosingRules = {
  rule: { by: 'hand', day: 3 },
  holidays: [],
  roll: 0,
  closed: 'actual',
};

/** A month that was closed. */
export const closeSchema = z.object({
  id: idSchema,
  month: monthSchema,
  /** The forecast as it stood, as a version. */
  version: idSchema,
  by: z.string(),
  at: z.string(),
  byItself: z.boolean(),
  /** The end of the horizon before it. */
  lastBefore: monthSchema,
});
export type Close = z.infer<typeof closeSchema>;

/** A combination of a month that is worth a look; money in minor units. */
const jumpSchema = z.object({
  /** One a dimension. */
  members: z.array(idSchema),
  actual: z.number(),
  forecast: z.number(),
  yearBefore: z.number(),
});

/** What the next month to close needs, and how months are closed. */
export const closingSchema = z.object({
  /** The first open month; null where the horizon has none left to close. */
  month: monthSchema.nullable(),
  over: z.boolean(),
  /** The day on which it is closed by itself. */
  due: dateSchema.nullable(),
  rules: closingRulesSchema,
  asOf: dateSchema,
  asOfBy: z.enum(['day', 'hand']),
  /** Where its sales came from. */
  sources: z.array(
    z.object({
      name: z.string(),
      source: z.enum(['file', 'connection', 'hand']),
      at: z.string(),
      lines: z.number(),
      revenue: z.number(),
    }),
  ),
  /** What waits to be taken in: files that were checked, and documents of order books. */
  waiting: z.object({ files: z.number(), documents: z.number() }),
  jumps: z.array(jumpSchema),
  unsold: z.array(jumpSchema),
  /** Lines of closed months that came after the close, by month. */
  late: z.array(z.object({ month: monthSchema, lines: z.number(), revenue: z.number() })),
  /** The newest first. */
  closes: z.array(closeSchema),
});
export type Closing = z.infer<typeof closingSchema>;

export const closeMonthSchema = z.strictObject({
  month: monthSchema,
  /** That the month is closed though it has no sales, or is not over. */
  sure: z.boolean().default(false),
});

export const reopenSchema = z.strictObject({
  month: monthSchema,
  why: z.string().trim().min(1, 'say why the month is opened again').max(500),
  /** That it is opened though a locked budget reaches over it. */
  sure: z.boolean().default(false),
});

/** A month that was closed before its workspace was here. */
export const earlierCloseSchema = z.strictObject({
  month: monthSchema,
  /** The day on which it was closed. */
  at: dateSchema.optional(),
});

/** A change of the calendar; what is left out stays. */
export const calendarChangeSchema = z.strictObject({
  asOf: dateSchema.optional(),
  asOfBy: z.enum(['day', 'hand']).optional(),
  last: monthSchema.optional(),
  /** That the horizon ends earlier though things lie beyond it. */
  sure: z.boolean().default(false),
});
export type CalendarChange = z.infer<typeof calendarChangeSchema>;

export const addingSchema = z.enum([
  'units',
  'revenue',
  'cost',
  'margin',
]) satisfies z.ZodType<AddingCode>;

export const accuracyQuerySchema = z
  .strictObject({
    ...frameShape,
    measure: addingSchema.default('revenue'),
    /** Months ahead, joined by commas. */
    leads: z
      .string()
      .regex(/^[1-9]\d?(,[1-9]\d?){0,11}$/, 'months ahead are numbers from 1, joined by commas')
      .default('1,2,3,6,12')
      .transform((text) => text.split(',').map(Number)),
  })
  .refine(inOrder, order);
export type AccuracyAddress = z.infer<typeof accuracyQuerySchema>;

const numberOrNone = z.number().nullable();
export const leadAccuracySchema = z.object({
  lead: z.number(),
  months: z.number(),
  /** In the measure's unit, money in currency units; error = actual - forecast. */
  bias: numberOrNone,
  mae: numberOrNone,
  mape: numberOrNone,
  wape: numberOrNone,
  mase: numberOrNone,
  biasShare: numberOrNone,
  /** What the shares are made of: errors with and without their signs, actuals without theirs. */
  sums: z.object({ error: z.number(), off: z.number(), actual: z.number() }),
});
const accuracyRowSchema = z.object({
  key: z.string(),
  label: z.string(),
  level: z.number(),
  scope: z.array(idSchema),
  parent: z.boolean(),
  leads: z.array(leadAccuracySchema),
  always: z.enum(['tooHigh', 'tooLow']).nullable(),
});
export const accuracyTableSchema = z.object({
  rows: z.array(accuracyRowSchema),
  total: accuracyRowSchema,
});

/** The forecast of each closed month as it stood when it was closed; money in minor units. */
export const keptMonthsSchema = z.object({
  months: z.array(monthSchema).readonly(),
  cells: versionCellsSchema,
}) satisfies z.ZodType<KeptMonths>;

const base = '/workspaces/{workspaceId}/closing';

export const closingOperations = operations({
  readClosing: {
    method: 'get',
    path: base,
    summary: 'What the next month needs before it is closed, and what was closed',
    access: 'reads',
    answer: closingSchema,
  },
  closeMonth: {
    method: 'post',
    path: `${base}/close`,
    summary: 'Closes a month: its forecast is kept as it stood, and actuals take its place',
    access: 'plans',
    body: closeMonthSchema,
    answer: closeSchema,
    status: 201,
  },
  reopenMonth: {
    method: 'post',
    path: `${base}/reopen`,
    summary: 'Opens the last closed month again',
    access: 'plans',
    body: reopenSchema,
  },
  setClosingRules: {
    method: 'put',
    path: `${base}/rules`,
    summary: 'Says when months are closed by themselves, and whether the horizon grows',
    access: 'plans',
    body: closingRulesSchema,
  },
  changeCalendar: {
    method: 'patch',
    path: `${base}/calendar`,
    summary: 'Changes the as-of date and the end of the horizon',
    access: 'plans',
    body: calendarChangeSchema,
  },
  bringKeptForecast: {
    method: 'post',
    path: `${base}/earlier`,
    summary: 'Brings in the forecast that was kept elsewhere when a month was closed',
    access: 'plans',
    query: earlierCloseSchema,
    file: {
      what: 'a CSV with month, the dimensions, units, revenue and cost',
      type: 'text/csv',
      largest: 32 * MB,
    },
    answer: closeSchema,
    status: 201,
  },
  readKeptMonths: {
    method: 'get',
    path: `${base}/kept`,
    summary: 'The forecast of each closed month as it stood when it was closed',
    access: 'reads',
    answer: keptMonthsSchema,
  },
  readAccuracy: {
    method: 'get',
    path: `${base}/accuracy`,
    summary: 'How far kept forecasts were from what happened, by how far ahead they were made',
    access: 'reads',
    query: accuracyQuerySchema,
    answer: accuracyTableSchema,
  },
});
