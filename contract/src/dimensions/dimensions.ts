import { z } from 'zod';
import { codeSchema, createdSchema, dateSchema, idSchema, nameSchema } from '../common.ts';
import { MB, operations } from '../operation.ts';

/** A member with everything that is kept of it. */
export const memberDetailSchema = z.object({
  id: idSchema,
  code: z.string(),
  name: z.string(),
  parent: idSchema.nullable(),
  /** Days from and to which sales may name it; null without a bound. */
  validFrom: z.string().nullable(),
  validTo: z.string().nullable(),
  /** The ledger account that its sales belong to, where one wants that. */
  account: z.string().nullable(),
  /** The member that it came in place of. */
  replaces: idSchema.nullable(),
  /** How many combinations name it or what lies below it, and how many sales lines count there. */
  combinations: z.number(),
  lines: z.number(),
});
export type MemberDetail = z.infer<typeof memberDetailSchema>;

export const dimensionDetailSchema = z.object({
  code: z.string(),
  name: z.string(),
  /** How many customers are assigned to its members. */
  assignments: z.number(),
  members: z.array(memberDetailSchema),
});
export type DimensionDetail = z.infer<typeof dimensionDetailSchema>;

const accountSchema = z.string().trim().min(1).max(60);

export const newMemberSchema = z.strictObject({
  code: codeSchema,
  name: nameSchema,
  parent: idSchema.nullable().default(null),
});
export type NewMember = z.output<typeof newMemberSchema>;

export const memberChangeSchema = z.strictObject({
  code: codeSchema.optional(),
  name: nameSchema.optional(),
  parent: idSchema.nullable().optional(),
  validFrom: dateSchema.nullable().optional(),
  validTo: dateSchema.nullable().optional(),
  account: accountSchema.nullable().optional(),
  replaces: idSchema.nullable().optional(),
});
export type MemberChange = z.infer<typeof memberChangeSchema>;

/** What a merge moves, before it is done and after. */
export const mergeEffectSchema = z.object({
  from: z.string(),
  into: z.string(),
  lines: z.number(),
  combinations: z.number(),
  streams: z.number(),
  /** Streams that end because the other member has one in the same place. */
  streamsEnded: z.number(),
  assumptions: z.number(),
  versionCells: z.number(),
  targets: z.number(),
  assignments: z.number(),
});
export type MergeEffect = z.infer<typeof mergeEffectSchema>;

/** From when on a customer belongs to a member. */
export const assignmentSchema = z.strictObject({
  customer: z.string().trim().min(1).max(100),
  from: dateSchema,
  /** The member's code. */
  member: z.string().max(60),
});
export type Assignment = z.infer<typeof assignmentSchema>;

/** What became of a file of members or assignments. */
export const membersFileSchema = z.object({
  added: z.number(),
  changed: z.number(),
  same: z.number(),
  problems: z.array(z.object({ row: z.number(), message: z.string() })),
});
export type MembersFile = z.infer<typeof membersFileSchema>;

/** How the members of a dimension are told apart: by customers, or by members of another dimension. */
export const tellApartSchema = z.strictObject({
  /** `customer`, or the code of another dimension. */
  by: z.string().min(1).max(60),
  /** Which customers, or members of any depth by their codes, belong to which lowest member. */
  rules: z
    .array(
      z.strictObject({
        member: codeSchema,
        values: z.array(z.string().trim().min(1).max(100)).min(1).max(10_000),
      }),
    )
    .min(1, 'name what belongs to at least one member')
    .max(500),
  /** The member of all others; where it is left out they stay where they are. */
  rest: codeSchema.nullable().default(null),
});
export type TellApart = z.output<typeof tellApartSchema>;

/** What telling apart moves; money in minor units. */
export const toldApartSchema = z.object({
  members: z.array(
    z.object({ member: codeSchema, name: nameSchema, lines: z.number(), revenue: z.number() }),
  ),
  /** Sales lines that get another member, and forecast lines that go with their products. */
  lines: z.number(),
  streams: z.number(),
  /** Customers of the rule that have bought nothing yet; no more than twenty are listed. */
  withoutSales: z.array(z.string()),
});
export type ToldApart = z.infer<typeof toldApartSchema>;

const base = '/workspaces/{workspaceId}/dimensions';
const file = {
  what: 'a table as CSV, XLSX or JSON',
  type: 'application/octet-stream',
  largest: 16 * MB,
};

export const dimensionOperations = operations({
  listDimensions: {
    method: 'get',
    path: base,
    summary: 'The dimensions with their members and how much of the sales each has',
    access: 'reads',
    answer: z.array(dimensionDetailSchema),
  },
  addDimension: {
    method: 'post',
    path: base,
    summary: 'Adds a dimension; everything that is there belongs to its first member',
    access: 'plans',
    body: z.strictObject({ code: codeSchema, name: nameSchema, first: newMemberSchema }),
    answer: z.object({ code: z.string() }),
    status: 201,
  },
  renameDimension: {
    method: 'patch',
    path: `${base}/{dimension}`,
    summary: 'Gives a dimension another name',
    access: 'plans',
    body: z.strictObject({ name: nameSchema }),
  },
  deleteDimension: {
    method: 'delete',
    path: `${base}/{dimension}`,
    summary: 'Deletes a dimension that tells nothing apart; that can be taken back',
    access: 'plans',
  },
  addMember: {
    method: 'post',
    path: `${base}/{dimension}/members`,
    summary: 'Adds a member',
    access: 'plans',
    body: newMemberSchema,
    answer: createdSchema,
    status: 201,
  },
  changeMember: {
    method: 'patch',
    path: `${base}/{dimension}/members/{memberId}`,
    summary:
      'Renames a member, moves it under another one, says when it is valid, its account or what it replaces',
    access: 'plans',
    body: memberChangeSchema,
  },
  dropMember: {
    method: 'delete',
    path: `${base}/{dimension}/members/{memberId}`,
    summary: 'Takes a member away that nothing refers to',
    access: 'plans',
  },
  previewMerge: {
    method: 'get',
    path: `${base}/{dimension}/members/{memberId}/merge`,
    summary: 'Says what would move if a member were merged into another one',
    access: 'reads',
    query: z.strictObject({ into: z.coerce.number().pipe(idSchema) }),
    answer: mergeEffectSchema,
  },
  mergeMember: {
    method: 'post',
    path: `${base}/{dimension}/members/{memberId}/merge`,
    summary: 'Merges a member into another one: everything of it moves there, and it is gone',
    access: 'plans',
    body: z.strictObject({ into: idSchema }),
    answer: mergeEffectSchema,
  },
  tellApart: {
    method: 'post',
    path: `${base}/{dimension}/tell-apart`,
    summary: 'Tells the members of a dimension apart by a rule, in history and in files to come',
    access: 'plans',
    query: z.strictObject({ apply: z.enum(['yes', 'no']).default('no') }),
    body: tellApartSchema,
    largest: 4 * MB,
    answer: toldApartSchema,
  },
  bringMembers: {
    method: 'post',
    path: `${base}/{dimension}/file`,
    summary:
      'Adds and changes members by a file: code, name, parent, valid from, valid to, account, replaces',
    access: 'plans',
    query: z.strictObject({ apply: z.enum(['yes', 'no']).default('no') }),
    file,
    answer: membersFileSchema,
  },
  listAssignments: {
    method: 'get',
    path: `${base}/{dimension}/assignments`,
    summary: 'Which customer belongs to which member, from when on',
    access: 'reads',
    answer: z.array(assignmentSchema),
  },
  assignCustomers: {
    method: 'put',
    path: `${base}/{dimension}/assignments`,
    summary: 'Assigns customers to members from a day on; sales lines taken in later follow it',
    access: 'plans',
    body: z.strictObject({ assignments: z.array(assignmentSchema).min(1).max(20_000) }),
    largest: 4 * MB,
    answer: z.object({ assignments: z.number() }),
  },
});
