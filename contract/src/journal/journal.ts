import { z } from 'zod';
import { idSchema } from '../common.ts';
import { operations } from '../operation.ts';

/** The rooms whose writes the journal keeps apart. */
export const journalRoomSchema = z.enum([
  'dimensions',
  'actuals',
  'drivers',
  'forecast',
  'targets',
  'budget',
  'closing',
  'people',
  'workspace',
]);
export type JournalRoom = z.infer<typeof journalRoomSchema>;

/** How a value of the journal is shown; money in minor units, a rate as a fraction. */
export const journalUnitSchema = z.enum(['percent', 'price', 'units', 'minor', 'text']);
export type JournalUnit = z.infer<typeof journalUnitSchema>;

/** One cell or property that was changed. A value that is no number or text is a thing as a whole. */
export const journalChangeSchema = z.object({
  label: z.string(),
  unit: journalUnitSchema,
  before: z.union([z.number(), z.string()]).nullable(),
  after: z.union([z.number(), z.string()]).nullable(),
});
export type JournalChange = z.infer<typeof journalChangeSchema>;

/** One write: who, when, what, why, from what to what. */
export const journalRecordSchema = z.object({
  id: idSchema,
  at: z.string(),
  by: z.string(),
  /** Whether it was the person who asks. */
  own: z.boolean(),
  room: journalRoomSchema,
  what: z.string(),
  why: z.string(),
  kind: z.enum(['do', 'undo', 'redo']),
  /** Whether it is taken back now. */
  undone: z.boolean(),
  /** Whether the one who asks can take it back. */
  undoable: z.boolean(),
  /** How many cells or things it changed; the first of them are listed. */
  count: z.number(),
  changes: z.array(journalChangeSchema),
});
export type JournalRecord = z.infer<typeof journalRecordSchema>;

export const journalAddressSchema = z.strictObject({
  room: journalRoomSchema.optional(),
  before: z.coerce.number().pipe(idSchema).optional(),
  limit: z.coerce.number().int().min(1).max(200).default(50),
});

/**
 * Where undo and redo are asked from: the sitting (what the idempotency keys of its writes begin
 * with) and the room in sight. Without a sitting whatever was last is taken back.
 */
export const hereSchema = z.strictObject({
  sitting: z
    .string()
    .regex(/^[\w-]{8,40}$/, 'a sitting has 8 to 40 letters and figures')
    .optional(),
  room: journalRoomSchema.optional(),
});
export type Here = z.output<typeof hereSchema>;

/** What undo or redo did. */
export const undoResultSchema = z.object({
  record: journalRecordSchema,
  revision: z.number(),
});
export type UndoResult = z.infer<typeof undoResultSchema>;

/** A change notice: something was written, by whom, and in which room. */
export const noticeSchema = z.object({
  revision: z.number(),
  journal: z.number(),
  by: z.string(),
  room: journalRoomSchema,
});
export type Notice = z.infer<typeof noticeSchema>;

/** How far a long write of one's own is; `key` is the idempotency key that it was sent under. */
export const progressSchema = z.object({
  key: z.string(),
  share: z.number().min(0).max(1),
});
export type Progress = z.infer<typeof progressSchema>;

const base = '/workspaces/{workspaceId}';

export const journalOperations = operations({
  readJournal: {
    method: 'get',
    path: `${base}/journal`,
    summary: 'What was changed, newest first: who, when, what, from, to, why',
    access: 'reads',
    query: journalAddressSchema,
    answer: z.array(journalRecordSchema),
  },
  sayWhy: {
    method: 'patch',
    path: `${base}/journal/{journalId}`,
    summary: 'Says why one’s own change was made; once',
    access: 'plans',
    body: z.strictObject({ why: z.string().trim().min(1, 'say why').max(500) }),
    answer: journalRecordSchema,
  },
  takeBack: {
    method: 'post',
    path: `${base}/journal/{journalId}/undo`,
    summary: 'Takes back one’s own change; refused where somebody changed the same since',
    access: 'part',
    answer: undoResultSchema,
  },
  doAgain: {
    method: 'post',
    path: `${base}/journal/{journalId}/redo`,
    summary: 'Does again one’s own change that is taken back',
    access: 'part',
    answer: undoResultSchema,
  },
  undo: {
    method: 'post',
    path: `${base}/undo`,
    summary:
      'Takes back one’s own last change; one of another sitting or room is named and left, until its own undo is asked for',
    access: 'part',
    query: hereSchema,
    answer: undoResultSchema,
  },
  redo: {
    method: 'post',
    path: `${base}/redo`,
    summary: 'Does again what one took back last, under the same condition',
    access: 'part',
    query: hereSchema,
    answer: undoResultSchema,
  },
  followNotices: {
    method: 'get',
    path: `${base}/notices`,
    summary:
      'Change notices as server-sent events; beside them, how far a long write of one’s own is',
    access: 'part',
    writes: 'text/event-stream',
  },
});
