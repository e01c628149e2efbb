import { BASES, TARGET_MEASURES, type TargetPart } from '@dravex/core';
import { z } from 'zod';
import {
  codeSchema,
  idSchema,
  minorSchema,
  monthSchema,
  nameSchema,
  scopeSchema,
} from '../common.ts';
import { salesLinesAddressSchema, salesLinesSchema } from '../actuals/actuals.ts';
import { frameShape } from '../forecast/tables.ts';
import { MB, operations } from '../operation.ts';

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

export const targetMeasureSchema = z.enum(TARGET_MEASURES);

/** Amounts are in the whole numbers in which the objective's measure is kept. */
const amountSchema = minorSchema.min(0, 'an amount is zero or more');
const MOST_RAMP = 36;
const MOST_CUSHION = 100;
const MOST_DEALS = 1_000_000;
/** A customer's code as sales lines bear it: any words. */
const accountSchema = z.string().trim().min(1).max(120);

/** What a node is and counts; all of it can be changed later. */
const nodeShape = {
  name: nameSchema,
  scope: scopeSchema,
  seller: codeSchema.nullable(),
  /** Of a part below a person: the customer whose sales it counts. */
  account: accountSchema.nullable(),
  /** Who answers for a team. */
  manager: nameSchema.nullable(),
  /** The first month of a person who joins: nothing is forecast of them before it. */
  from: monthSchema.nullable(),
  /** The last month of a person who leaves: nothing is forecast of them after it. */
  until: monthSchema.nullable(),
  /** Shares of full capacity by months since the start, as fractions: 0.5 is half. */
  ramp: z
    .array(z.number().min(0, 'a share is zero or more').max(1, 'a share is at most 1'))
    .max(MOST_RAMP, `a ramp has at most ${MOST_RAMP} months`),
  /** What a person can sell in a month when in full swing. */
  full: amountSchema.nullable(),
  /** What may be handed out beyond the target, in percent: 4 is 4 %. */
  cushion: z
    .number()
    .min(0, 'a cushion is zero or more')
    .max(MOST_CUSHION, `a cushion is at most ${MOST_CUSHION} percent`)
    .multipleOf(0.001, 'a cushion has at most three decimals'),
} as const;

export const newTargetNodeSchema = z.strictObject({
  parent: idSchema,
  kind: targetKindSchema.exclude(['company']),
  part: targetPartSchema,
  ...nodeShape,
  scope: nodeShape.scope.default([]),
  seller: nodeShape.seller.default(null),
  account: nodeShape.account.default(null),
  manager: nodeShape.manager.default(null),
  from: nodeShape.from.default(null),
  until: nodeShape.until.default(null),
  ramp: nodeShape.ramp.default([]),
  full: nodeShape.full.default(null),
  cushion: nodeShape.cushion.default(0),
});
export type NewTargetNode = z.infer<typeof newTargetNodeSchema>;

/** How far a target is agreed with whoever has it. */
export const targetStateSchema = z.enum(['draft', 'handedOut', 'agreed', 'questioned']);

const commentSchema = z.string().trim().max(500, 'a comment has at most 500 characters');
/** Why something that was agreed is changed. */
const reasonSchema = commentSchema.min(1, 'say why').optional();

/** Deals of one size. */
export const dealBandSchema = z.strictObject({
  name: nameSchema,
  /** The smallest deal that belongs to it, in whole numbers of the measure. */
  from: amountSchema,
  /** Average value of a deal. */
  value: amountSchema.min(1, 'a deal is worth something'),
  count: z
    .number()
    .int('whole deals')
    .min(0, 'a count is zero or more')
    .max(MOST_DEALS, `at most ${MOST_DEALS} deals`),
  winRate: z
    .number()
    .gt(0, 'a win rate is above 0; without a deal won there is none')
    .max(1, 'a win rate is at most 100 %'),
  months: z.number().int().min(0).max(60, 'at most 60 months to close'),
});
/** A target as deals: how many of which size, and who handles them. */
export const dealPlanSchema = z.strictObject({
  bands: z.array(dealBandSchema).min(1).max(12, 'at most 12 sizes'),
  sellers: z.number().int().min(1, 'at least one seller').max(10_000),
  /** How many deals a seller can handle in a year. */
  handles: z.number().int().min(1).max(MOST_DEALS),
});
export type DealPlanOf = z.infer<typeof dealPlanSchema>;

const YEAR = 12;
export const targetNodeChangeSchema = z
  .strictObject({
    ...z.object(nodeShape).partial().shape,
    /** The node to move it below. */
    parent: idSchema.optional(),
    /** Whether its target stays when those beside it are divided anew. */
    locked: z.boolean().optional(),
    /** Twelve months typed by hand, by which the target is phased; null to go by season. */
    months: z
      .array(amountSchema)
      .length(YEAR, 'a year has twelve months')
      .refine((months) => months.some((month) => month > 0), 'some month has a target')
      .nullable()
      .optional(),
    state: targetStateSchema.optional(),
    comment: commentSchema.optional(),
    deals: dealPlanSchema.nullable().optional(),
    part: targetPartSchema.optional(),
    /** The part that was seen. */
    saw: targetPartSchema.optional(),
    reason: reasonSchema,
  })
  .refine(
    ({ saw: _, reason: __, comment: ___, ...change }) =>
      Object.values(change).some((value) => value !== undefined),
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
    .max(10_000, 'at most 10,000 parts at once'),
  reason: reasonSchema,
});
export type TargetParts = z.infer<typeof targetPartsSchema>;

/** By what a target is divided, and how much each counts; any weights. */
export const targetMixSchema = z
  .partialRecord(z.enum(BASES), z.number().min(0, 'a weight is zero or more').max(1e6))
  .refine((mix) => Object.values(mix).some((weight) => weight > 0), 'some basis counts');

/** A way to divide a node's target anew. */
export const targetDivisionSchema = z.discriminatedUnion('kind', [
  /** Among its parts by a mix of bases; all the way down where that is wanted. */
  z.strictObject({
    kind: z.literal('divide'),
    mix: targetMixSchema,
    withCushion: z.boolean().default(false),
    deep: z.boolean().default(false),
  }),
  /** Its target becomes an amount, and what lies below it follows in proportion. */
  z.strictObject({
    kind: z.literal('passDown'),
    amount: amountSchema,
    /** What it was before, where it is that amount already. */
    was: amountSchema.optional(),
  }),
  /** Who has it leaves: what is due after the last month goes to those beside who stay. */
  z.strictObject({ kind: z.literal('handOver'), until: monthSchema, mix: targetMixSchema }),
]);
export type TargetDivision = z.infer<typeof targetDivisionSchema>;

/** What parts would become, before it is taken. */
export const targetProposalSchema = z.object({
  parts: z.array(
    z.object({
      node: idSchema,
      name: z.string(),
      /** In whole numbers of the measure. */
      now: z.number(),
      then: z.number(),
      locked: z.boolean(),
    }),
  ),
});
export type TargetProposal = z.infer<typeof targetProposalSchema>;

/** Deals that were made, by what they were worth together. */
export const madeDealsSchema = z.object({
  /** Values of the deals of the last fiscal year and of this one so far, the largest first. */
  lastYear: z.array(z.number()),
  thisYear: z.array(z.number()),
});
export type MadeDeals = z.infer<typeof madeDealsSchema>;

/** What became of a file of targets. */
export const targetsFileSchema = z.object({
  added: z.number(),
  changed: z.number(),
  same: z.number(),
  problems: z.array(z.object({ row: z.number(), message: z.string() })),
});
export type TargetsFile = z.infer<typeof targetsFileSchema>;

/** Why a target is ahead or behind: steps from the target to date to actual, which add up. */
export const targetGapSchema = z.object({
  due: z.number(),
  actual: z.number(),
  steps: z.array(
    z.object({
      kind: z.enum([
        'growth',
        'phasing',
        'joiners',
        'leavers',
        'volume',
        'mix',
        'price',
        'new',
        'discontinued',
        'other',
      ]),
      value: z.number(),
    }),
  ),
});
export type TargetGap = z.infer<typeof targetGapSchema>;

/** From what an objective starts. */
export const newObjectiveSchema = z.strictObject({
  name: nameSchema,
  measure: targetMeasureSchema,
  /** An amount, or what was sold or is forecast, so many percent higher. */
  start: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('amount'), amount: amountSchema }),
    z.strictObject({
      kind: z.enum(['lastYear', 'forecast']),
      uplift: z.number().min(-100, 'less than nothing is left').max(1000),
    }),
  ]),
  /** An objective whose teams and people it starts with; with their parts where the measure is the same. */
  like: idSchema.optional(),
});
export type NewObjective = z.infer<typeof newObjectiveSchema>;

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
  account: z.string().nullable(),
  manager: z.string().nullable(),
  /** The first month of a person who joins, and the last of one who leaves. */
  from: monthSchema.nullable(),
  until: monthSchema.nullable(),
  ramp: z.array(z.number()),
  full: z.number().nullable(),
  cushion: z.number(),
  locked: z.boolean(),
  state: targetStateSchema,
  comment: z.string().nullable(),
  deals: dealPlanSchema.nullable(),
  /** What it counts: the scopes above it narrowed by its own, and whose sales; null where its parts are all it has. */
  counts: z
    .object({ scope: scopeSchema, seller: z.string().nullable(), account: z.string().nullable() })
    .nullable(),
  /** Whether anybody knows where it stands: of subscribers and scores no seller is known. */
  known: z.boolean(),
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
  /** target x (1 + cushion), and what its parts come to beyond the target within it. */
  assignable: z.number(),
  cushionUsed: z.number(),
  /** The percents typed below it, added up. */
  percentsBelow: z.number(),
  ...standing,
  /** What is sold in it by none of its parts; null when it has none. */
  others: z.object(standing).nullable(),
  /** Forecast of the scope in the open months of the year. */
  ahead: z.number(),
  /** Of the forecast ahead, the part that is this holder's, as a fraction. */
  aheadShare: z.number(),
  /** What its people can sell in the year; null where nobody said of any of them. */
  capacity: z.number().nullable(),
  /** The most of any twelve months in a row so far. */
  best: z.number(),
  /** The target over the twelve months, exact; whether they were typed by hand. */
  months: z.array(z.number()).nullable(),
  monthsTyped: z.boolean(),
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

/** An objective of a fiscal year. */
export const objectiveOfSchema = z.object({
  /** The node at the top of its tree. */
  id: idSchema,
  name: z.string(),
  measure: targetMeasureSchema,
  amount: z.number(),
});
export type ObjectiveOf = z.infer<typeof objectiveOfSchema>;

export const targetTreeSchema = z.object({
  fiscalYear: z.number(),
  /** The objectives of the year; the nodes are those of the one that was asked for. */
  objectives: z.array(objectiveOfSchema),
  objective: objectiveOfSchema.nullable(),
  /** How many of the whole numbers in which its amounts are kept make one. */
  wholes: z.number(),
  /** Which part of the year's sales the closed months have by the season of the year before; null without history. */
  due: z.number().nullable(),
  /** Empty when no objective is set. Parents before children, in the order of display. */
  nodes: z.array(targetNodeSchema),
});
export type TargetTree = z.infer<typeof targetTreeSchema>;

const base = '/workspaces/{workspaceId}/targets/{fiscalYear}';

export const targetOperations = operations({
  listParts: {
    method: 'get',
    path: '/workspaces/{workspaceId}/parts',
    summary: 'The teams and people of all target trees, that somebody can hold',
    access: 'owns',
    answer: z.array(
      z.object({
        node: idSchema,
        /** With those above it: `Ondwell, North, Mira Tol`. */
        name: z.string(),
        fiscalYear: z.number(),
        objective: z.string(),
      }),
    ),
  },
  readTargets: {
    method: 'get',
    path: base,
    summary: 'A fiscal year’s targets with where everybody stands',
    access: 'part',
    query: z.strictObject({
      origin: frameShape.origin,
      /** The first one of revenue where none is named. */
      objective: z.coerce.number().pipe(idSchema).optional(),
    }),
    answer: targetTreeSchema,
  },
  setObjective: {
    method: 'put',
    path: base,
    summary: 'Sets the year’s revenue objective',
    access: 'plans',
    body: objectiveSchema,
    answer: targetTreeSchema,
  },
  addObjective: {
    method: 'post',
    path: `${base}/objectives`,
    summary: 'Adds an objective of any measure, from nothing or like another one',
    access: 'plans',
    body: newObjectiveSchema,
    answer: z.object({ id: z.number(), tree: targetTreeSchema }),
    status: 201,
  },
  renameObjective: {
    method: 'patch',
    path: `${base}/objectives/{objectiveId}`,
    summary: 'Gives an objective another name',
    access: 'plans',
    body: z.strictObject({ name: nameSchema }),
    answer: targetTreeSchema,
  },
  removeObjective: {
    method: 'delete',
    path: `${base}/objectives/{objectiveId}`,
    summary: 'Takes an objective out with everything below it',
    access: 'plans',
    answer: targetTreeSchema,
  },
  saveTargets: {
    method: 'get',
    path: `${base}/file.{format}`,
    summary: 'A whole tree as a file that can be brought back: teams, people, parts and targets',
    access: 'reads',
    query: z.strictObject({ objective: z.coerce.number().pipe(idSchema).optional() }),
    writes: 'text/csv',
  },
  bringTargets: {
    method: 'post',
    path: `${base}/file`,
    summary: 'Adds and changes teams, people, parts and targets by a file; looked at first',
    access: 'plans',
    query: z.strictObject({
      objective: z.coerce.number().pipe(idSchema).optional(),
      apply: z.enum(['yes', 'no']).default('no'),
      reason: reasonSchema,
    }),
    file: {
      what: 'a table as CSV, XLSX or JSON',
      type: 'application/octet-stream',
      largest: 16 * MB,
    },
    answer: targetsFileSchema,
  },
  addTarget: {
    method: 'post',
    path: `${base}/nodes`,
    summary: 'Puts an area or a person below a node',
    access: 'part',
    body: newTargetNodeSchema,
    answer: z.object({ id: z.number(), tree: targetTreeSchema }),
    status: 201,
  },
  changeTarget: {
    method: 'patch',
    path: `${base}/nodes/{nodeId}`,
    summary: 'Changes a node: what it counts, its part, months, state or deals; or moves it',
    access: 'part',
    body: targetNodeChangeSchema,
    answer: targetTreeSchema,
  },
  proposeTargets: {
    method: 'post',
    path: `${base}/nodes/{nodeId}/proposal`,
    summary: 'What parts would become if a target were divided anew; nothing is changed',
    access: 'part',
    body: targetDivisionSchema,
    answer: targetProposalSchema,
  },
  divideTargets: {
    method: 'post',
    path: `${base}/nodes/{nodeId}/division`,
    summary: 'Divides a target anew, as one act',
    access: 'part',
    body: z.strictObject({ division: targetDivisionSchema, reason: reasonSchema }),
    answer: targetTreeSchema,
  },
  readDeals: {
    method: 'get',
    path: `${base}/nodes/{nodeId}/deals`,
    summary: 'What the sales documents of a node were worth, last year and this year so far',
    access: 'part',
    answer: madeDealsSchema,
  },
  explainGap: {
    method: 'get',
    path: `${base}/nodes/{nodeId}/gap`,
    summary: 'Why a target is ahead or behind: growth, months, people, volume, mix and price',
    access: 'part',
    answer: z.object({
      /** Null where no target is due, or nobody knows what is sold. */
      gap: targetGapSchema.nullable(),
    }),
  },
  listTargetSales: {
    method: 'get',
    path: `${base}/nodes/{nodeId}/sales-lines`,
    summary: 'The sales lines of a node, with their documents',
    access: 'part',
    query: salesLinesAddressSchema.pick({
      ...{ from: true, to: true, origin: true, limit: true, skip: true },
    }),
    answer: salesLinesSchema,
  },
  handOutTargets: {
    method: 'post',
    path: `${base}/nodes/{nodeId}/hand-out`,
    summary: 'Hands a target out, with all drafts below it',
    access: 'part',
    answer: targetTreeSchema,
  },
  setTargetParts: {
    method: 'put',
    path: `${base}/parts`,
    summary: 'Gives several nodes other parts, as one act',
    access: 'part',
    body: targetPartsSchema,
    answer: targetTreeSchema,
  },
  removeTarget: {
    method: 'delete',
    path: `${base}/nodes/{nodeId}`,
    summary: 'Takes a node out that has nothing below it',
    access: 'part',
    answer: targetTreeSchema,
  },
});
