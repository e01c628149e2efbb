import { z } from 'zod';
import { versionCellsSchema } from '../budgets/budgets.ts';
import { closingRulesSchema } from '../closing/closing.ts';
import { codeSchema, createdSchema, monthSchema, nameSchema, scopeSchema } from '../common.ts';
import { assignmentSchema, memberChangeSchema } from '../dimensions/dimensions.ts';
import { adjustmentSchema, assumptionSchema } from '../drivers/drivers.ts';
import { overrideSchema, planSchema } from '../forecast/forecast.ts';
import { keptAccountScopeSchema, MOST_ACCOUNT_SCOPES } from '../ledger/ledger-budget.ts';
import { MB, operations } from '../operation.ts';
import { keptSheetLineSchema, keptSheetSchema } from '../sheets/sheets.ts';
import {
  dealPlanSchema,
  targetKindSchema,
  targetMeasureSchema,
  targetPartSchema,
  targetStateSchema,
} from '../targets/targets.ts';
import { keptThreadSchema } from '../threads/threads.ts';
import { calendarSchema } from '../workspaces/workspaces.ts';

/** The format's number; a file of another one is refused. */
export const PLAN_FILE_FORMAT = 1;

/** A kept version: its cells are what was kept and its entries, added up. */
const planFileVersionSchema = z.strictObject({
  id: z.number().int().positive(),
  name: nameSchema,
  from: monthSchema,
  to: monthSchema,
  note: z.string().max(500),
  state: z.enum(['open', 'sealed']),
  /** The fiscal year whose budget it is. */
  budgetOf: z.number().int().nullable().default(null),
  putAway: z.boolean().default(false),
  cells: versionCellsSchema,
});

/** A month that was closed, with the forecast that was kept. */
const planFileCloseSchema = z.strictObject({
  month: monthSchema,
  /** When it was closed. */
  at: z.iso.datetime(),
  byItself: z.boolean(),
  /** The end of the horizon before it. */
  lastBefore: monthSchema,
  cells: versionCellsSchema,
});

const planFileTargetSchema = z.strictObject({
  id: z.number().int().positive(),
  parent: z.number().int().positive().nullable(),
  fiscalYear: z.number().int(),
  kind: targetKindSchema,
  name: nameSchema,
  scope: scopeSchema,
  seller: z.string().nullable(),
  account: z.string().optional(),
  objective: nameSchema.optional(),
  measure: targetMeasureSchema.optional(),
  manager: z.string().optional(),
  from: monthSchema.optional(),
  until: monthSchema.optional(),
  ramp: z.array(z.number()).optional(),
  full: z.number().optional(),
  cushion: z.number().optional(),
  locked: z.boolean().optional(),
  months: z.array(z.number()).optional(),
  state: targetStateSchema.optional(),
  comment: z.string().optional(),
  deals: dealPlanSchema.optional(),
  part: targetPartSchema,
});

/** A member by its dimension's code and its own. */
const memberNameSchema = z.strictObject({ dimension: codeSchema, member: codeSchema });

/** What is kept of a member beside what the core computes with. */
const planFileMemberSchema = memberNameSchema.extend(
  memberChangeSchema.pick({ validFrom: true, validTo: true, account: true }).shape,
);

/** What says a member where a file of sales does not: a member of another dimension. */
const planFileMemberRuleSchema = memberNameSchema.extend({
  /** Null for all that no other rule of the dimension names. */
  by: memberNameSchema.nullable(),
});

const planFileSheetSchema = keptSheetSchema.omit({ person: true }).extend({
  lines: z.array(keptSheetLineSchema.omit({ sheet: true })).default([]),
});

const planFilePlanSchema = planSchema.extend({
  assumptions: z.array(assumptionSchema.omit({ by: true, at: true })),
  adjustments: z.array(adjustmentSchema.omit({ by: true, at: true })).default([]),
  overrides: z.array(overrideSchema.omit({ at: true })).default([]),
  calendar: calendarSchema,
});

/**
 * A whole plan in one file, `*.dravex.json`: everything the core needs, with kept versions and
 * targets. Sales are held by combination and month. Ids hold within the file.
 */
export const planFileSchema = z.strictObject({
  dravex: z.literal(PLAN_FILE_FORMAT, 'this is no plan file of format 1'),
  name: nameSchema,
  locale: z.string().max(35),
  plan: planFilePlanSchema,
  versions: z.array(planFileVersionSchema).default([]),
  targets: z.array(planFileTargetSchema).default([]),
  closes: z.array(planFileCloseSchema).default([]),
  closingRules: closingRulesSchema.optional(),
  /** Members with a first or last day or a ledger account. */
  members: z.array(planFileMemberSchema).default([]),
  /** Which customers belong to which members, from which days on. */
  assignments: z.array(assignmentSchema.extend({ dimension: codeSchema })).default([]),
  memberRules: z.array(planFileMemberRuleSchema).default([]),
  /** On which accounts of the ledger revenue is booked; scopes by the ids of members. */
  accountScopes: z.array(keptAccountScopeSchema).max(MOST_ACCOUNT_SCOPES).default([]),
  /** Parts of versions that are filled in; whoever takes the file in holds them. */
  sheets: z.array(planFileSheetSchema).default([]),
  /** What was said of numbers of versions and comparisons. */
  threads: z.array(keptThreadSchema).default([]),
});
export type PlanFile = z.infer<typeof planFileSchema>;

export const planFileOperations = operations({
  savePlanFile: {
    method: 'get',
    path: '/workspaces/{workspaceId}/plan-file',
    summary: 'The whole plan as a file that computes to the same numbers',
    access: 'reads',
    writes: 'application/json',
  },
  loadPlanFile: {
    method: 'post',
    path: '/workspaces/plan-file',
    summary: 'Makes a workspace from a plan file',
    access: 'signedIn',
    body: planFileSchema,
    largest: 32 * MB,
    apart: true,
    answer: createdSchema,
    status: 201,
  },
});
