import type { TargetPart } from '@dravex/core';
import { z } from 'zod';
import {
  codeSchema,
  idSchema,
  minorSchema,
  monthSchema,
  nameSchema,
  scopeSchema,
} from '../common.ts';
import { frameShape } from '../forecast/tables.ts';
import { operations } from '../operation.ts';

export const fiscalYearSchema = z.coerce.number().int().min(1900).max(2200);

export const objectiveSchema = z.strictObject({
  objective: minorSchema.min(0, 'an objective is zero or more'),
  /** What it was when it was seen. */
  saw: minorSchema.optional(),
});

/** A percent (25 is a quarter) of the target above, or an amount in minor units. */
export const targetPartSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('percent'),
    percent: z
      .number()
      .min(0, 'a percent is zero or more')
      .max(1000, 'a part is at most 1000 percent')
      .multipleOf(0.000001, 'a percent has at most six decimals'),
  }),
  z.strictObject({
    kind: z.literal('amount'),
    amount: minorSchema.min(0, 'an amount is zero or more'),
  }),
]) satisfies z.ZodType<TargetPart>;

export const targetKindSchema = z.enum(['company', 'area', 'person']);

export const newTargetNodeSchema = z.strictObject({
  parent: idSchema,
  name: nameSchema,
  kind: targetKindSchema.exclude(['company']),
  scope: scopeSchema.default([]),
  seller: codeSchema.nullable().default(null),
  /** The last month of a person who leaves: nothing is forecast of them after it. */
  until: monthSchema.nullable().default(null),
  part: targetPartSchema,
});
export type NewTargetNode = z.infer<typeof newTargetNodeSchema>;

export const targetNodeChangeSchema = z
  .strictObject({
    name: nameSchema.optional(),
    /** The last month of a person who leaves; null for one who stays. */
    until: monthSchema.nullable().optional(),
    part: targetPartSchema.optional(),
    /** The part that was seen. */
    saw: targetPartSchema.optional(),
  })
  .refine(
    (c) => c.name !== undefined || c.part !== undefined || c.until !== undefined,
    'nothing to change',
  );
export type TargetNodeChange = z.infer<typeof targetNodeChangeSchema>;

/** Several nodes' parts, typed or pasted in one go: one act, which is undone as one. */
export const targetPartsSchema = z.strictObject({
  parts: z
    .array(
      z.strictObject({
        node: idSchema,
        part: targetPartSchema,
        /** The part that was seen. */
        saw: targetPartSchema.optional(),
      }),
    )
    .min(1)
    .max(2000, 'at most 2000 parts at once'),
});
export type TargetParts = z.infer<typeof targetPartsSchema>;

const standing = {
  /** Actual sales of the year before, all of it. */
  lastYear: z.number(),
  /** Actual sales of the closed months of the year. */
  actual: z.number(),
  /** Actual of the closed months and forecast of the open ones. */
  outlook: z.number(),
};

/** A node of the tree with what it comes to; money in minor units, ratios as fractions. */
export const targetNodeSchema = z.object({
  id: idSchema,
  parent: idSchema.nullable(),
  level: z.number(),
  name: z.string(),
  kind: targetKindSchema,
  /** Its own scope and seller code. */
  scope: scopeSchema,
  seller: z.string().nullable(),
  /** The last month of a person who leaves. */
  until: monthSchema.nullable(),
  /** What it counts: the scopes above it narrowed by its own, and whose sales; null where its parts are all it has. */
  counts: z.object({ scope: scopeSchema, seller: z.string().nullable() }).nullable(),
  part: targetPartSchema,
  /** Who changed the node last, and when; null where the journal does not know. */
  typed: z.object({ by: z.string(), at: z.string() }).nullable(),
  /** The target itself, exact. */
  amount: z.number(),
  /** Share of the target above; null at the top or where that is zero. */
  share: z.number().nullable(),
  /** Of its own target, what its parts leave or exceed; null when it has no parts. */
  unassigned: z.number().nullable(),
  overAssigned: z.number().nullable(),
  /** The percents typed below it, added up. */
  percentsBelow: z.number(),
  ...standing,
  /** What is sold in it by none of its parts; null when it has none. */
  others: z.object(standing).nullable(),
  /** Forecast of the scope in the open months of the year. */
  ahead: z.number(),
  /** Of the forecast ahead, the part that is this holder's, as a fraction. */
  aheadShare: z.number(),
  /** Of the year’s target, the part that is due by the last closed month, by the season of its own year before. */
  due: z.number().nullable(),
  /** actual / target of the year; null when the target is zero. */
  attained: z.number().nullable(),
  /** actual / target that is due; null where nothing is. */
  toDate: z.number().nullable(),
  /** What each month left has to bring; null when no month is left. */
  pace: z.number().nullable(),
});
export type TargetNode = z.infer<typeof targetNodeSchema>;

export const targetTreeSchema = z.object({
  fiscalYear: z.number(),
  /** Which part of the year's sales the closed months have by the season of the year before; null without history. */
  due: z.number().nullable(),
  /** Empty when no objective is set. Parents before children, in the order of display. */
  nodes: z.array(targetNodeSchema),
});
export type TargetTree = z.infer<typeof targetTreeSchema>;

const base = '/workspaces/{workspaceId}/targets/{fiscalYear}';

export const targetOperations = operations({
  readTargets: {
    method: 'get',
    path: base,
    summary: 'A fiscal year’s targets with where everybody stands',
    access: 'reads',
    query: z.strictObject({ origin: frameShape.origin }),
    answer: targetTreeSchema,
  },
  setObjective: {
    method: 'put',
    path: base,
    summary: 'Sets the year’s objective',
    access: 'plans',
    body: objectiveSchema,
    answer: targetTreeSchema,
  },
  addTarget: {
    method: 'post',
    path: `${base}/nodes`,
    summary: 'Puts an area or a person below a node',
    access: 'plans',
    body: newTargetNodeSchema,
    answer: z.object({ id: z.number(), tree: targetTreeSchema }),
    status: 201,
  },
  changeTarget: {
    method: 'patch',
    path: `${base}/nodes/{nodeId}`,
    summary: 'Renames a node or gives it another part',
    access: 'plans',
    body: targetNodeChangeSchema,
    answer: targetTreeSchema,
  },
  setTargetParts: {
    method: 'put',
    path: `${base}/parts`,
    summary: 'Gives several nodes other parts, as one act',
    access: 'plans',
    body: targetPartsSchema,
    answer: targetTreeSchema,
  },
  removeTarget: {
    method: 'delete',
    path: `${base}/nodes/{nodeId}`,
    summary: 'Takes a node out that has nothing below it',
    access: 'plans',
    answer: targetTreeSchema,
  },
});
