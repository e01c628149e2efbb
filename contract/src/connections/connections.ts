import { z } from 'zod';
import { createdSchema, idSchema, nameSchema } from '../common.ts';
import { operations } from '../operation.ts';

/** How often a connection runs by itself, in minutes; null is only when it is told to. */
const everySchema = z.number().int().min(1).max(10_080).nullable();

const urlSchema = z
  .url({ protocol: /^https?$/, hostname: /./, message: 'an address such as https://erp.example' })
  .max(500);

export const newConnectionSchema = z.strictObject({
  name: nameSchema,
  url: urlSchema,
  key: z.string().min(1, 'the service asks for a key').max(500),
  everyMinutes: everySchema.default(60),
});
export type NewConnection = z.output<typeof newConnectionSchema>;

/** Fields of the feed that can name a member; `assigned` is the customer's own group. */
export const FEED_FIELDS = ['item', 'channel', 'group', 'region', 'customer', 'assigned'] as const;
/** What names the member of a dimension: a field of the document, or one member for all of them. */
export const feedFieldSchema = z.union([
  z.enum(FEED_FIELDS),
  z.strictObject({ member: z.string().min(1).max(60) }),
]);
export type FeedField = z.infer<typeof feedFieldSchema>;
const fieldsSchema = z.record(z.string().max(60), feedFieldSchema);

export const connectionChangeSchema = z.strictObject({
  name: nameSchema.optional(),
  url: urlSchema.optional(),
  /** A new key; the old one is never shown. */
  key: z.string().min(1).max(500).optional(),
  everyMinutes: everySchema.optional(),
  /** By dimension's code; documents read from now on follow it. */
  fields: fieldsSchema.optional(),
});
export type ConnectionChange = z.infer<typeof connectionChangeSchema>;

/** How a run stands: one that is asked to stop does so before it asks the service again. */
export const RUN_STATES = ['running', 'stopping', 'stopped', 'done', 'failed'] as const;

/** One time that a connection was run: what it brought, or why it did not. */
export const connectionRunSchema = z.object({
  id: idSchema,
  startedAt: z.string(),
  endedAt: z.string().nullable(),
  state: z.enum(RUN_STATES),
  /** Documents that are new, that replaced an earlier one, that were the same, that wait. */
  added: z.number(),
  replaced: z.number(),
  same: z.number(),
  held: z.number(),
  /** What the run changed revenue by, in minor units. */
  revenue: z.number(),
  message: z.string(),
});
export type ConnectionRun = z.infer<typeof connectionRunSchema>;

export const connectionSchema = z.object({
  id: idSchema,
  name: z.string(),
  url: z.string(),
  /** Whether a key has to be entered: that of an earlier address is forgotten. */
  keyMissing: z.boolean(),
  everyMinutes: everySchema,
  /** When it runs next by itself. */
  nextRunAt: z.string().nullable(),
  /** Since when the service does not answer; null when it does. */
  awaySince: z.string().nullable(),
  lastDoneAt: z.string().nullable(),
  /** Documents that wait for a code. */
  held: z.number(),
  running: z.boolean(),
  /** What names the member of each dimension; null where nothing in the feed seems to. */
  fields: z.record(z.string(), feedFieldSchema.nullable()),
  /** Items and customers that the service has told of. */
  items: z.number(),
  customers: z.number(),
});
export type Connection = z.infer<typeof connectionSchema>;

export const heldDocumentSchema = z.object({
  number: z.string(),
  date: z.string(),
  reason: z.string(),
  /** The code that nobody knows, and the dimension that it would belong to. */
  dimension: z.string().nullable(),
  value: z.string(),
  /** What the service calls it; empty where it does not say. */
  name: z.string(),
});
export type HeldDocument = z.infer<typeof heldDocumentSchema>;

/** What to do with a code that nobody knows: make it a member, or say which member it stands for. */
export const settlementSchema = z.strictObject({
  dimension: z.string().max(60),
  value: z.string().min(1).max(100),
  as: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('new'), name: nameSchema, parent: idSchema.nullable() }),
    z.strictObject({ kind: z.literal('standsFor'), member: z.string().min(1).max(60) }),
  ]),
});
export type Settlement = z.infer<typeof settlementSchema>;

const base = '/workspaces/{workspaceId}/connections';

export const connectionOperations = operations({
  listConnections: {
    method: 'get',
    path: base,
    summary: 'The connected sources, and how each stands',
    access: 'reads',
    answer: z.array(connectionSchema),
  },
  addConnection: {
    method: 'post',
    path: base,
    summary: 'Connects an order book',
    access: 'plans',
    body: newConnectionSchema,
    answer: createdSchema,
    status: 201,
  },
  changeConnection: {
    method: 'patch',
    path: `${base}/{connectionId}`,
    summary: 'Changes a connection',
    access: 'plans',
    body: connectionChangeSchema,
  },
  dropConnection: {
    method: 'delete',
    path: `${base}/{connectionId}`,
    summary: 'Ends a connection; what it brought stays',
    access: 'plans',
  },
  testConnection: {
    method: 'post',
    path: `${base}/{connectionId}/test`,
    summary: 'Asks the service whether it is there and takes the key',
    access: 'plans',
    answer: z.object({ message: z.string() }),
  },
  runConnection: {
    method: 'post',
    path: `${base}/{connectionId}/run`,
    summary: 'Runs a connection now, in the background',
    access: 'plans',
  },
  stopConnection: {
    method: 'post',
    path: `${base}/{connectionId}/stop`,
    summary: 'Stops a run; what it has taken in is kept, and the next run goes on from there',
    access: 'plans',
  },
  listRuns: {
    method: 'get',
    path: `${base}/{connectionId}/runs`,
    summary: 'What a connection brought, newest first',
    access: 'reads',
    answer: z.array(connectionRunSchema),
  },
  listHeld: {
    method: 'get',
    path: `${base}/{connectionId}/held`,
    summary: 'Documents that wait, and why; they are tried again with every run',
    access: 'reads',
    answer: z.array(heldDocumentSchema),
  },
  settleHeld: {
    method: 'post',
    path: `${base}/{connectionId}/settle`,
    summary: 'Settles a code that documents wait for, and takes in what waited for it',
    access: 'plans',
    body: settlementSchema,
  },
});
