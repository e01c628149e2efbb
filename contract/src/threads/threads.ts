import { VERSION_CODES, sourceNamed } from '@dravex/core';
import { z } from 'zod';
import { monthSchema, scopeSchema } from '../common.ts';
import { operations } from '../operation.ts';

/** The rooms whose numbers can be commented on. */
const threadRoomSchema = z.enum(['budget', 'comparison']);
export type ThreadRoom = z.infer<typeof threadRoomSchema>;

/** The longest comment, and how many a thread can have. */
export const LONGEST_COMMENT = 2000;
export const MOST_COMMENTS = 200;

const sideSchema = z
  .string()
  .max(60)
  .refine((text) => sourceNamed(text) !== undefined, {
    message:
      'a source is actual, forecast, lastYear, yearBeforeLast, or a version such as version:3',
  });

/** The number that is spoken of: a cell of a table, or a line over all of its months. */
const placeShape = {
  room: threadRoomSchema,
  /** Whose number: `version:3`; of a comparison the first side, held against another. */
  source: sideSchema,
  against: sideSchema.nullable(),
  measure: z.enum(VERSION_CODES),
  scope: scopeSchema,
  from: monthSchema,
  to: monthSchema,
};
export const threadPlaceSchema = z.strictObject(placeShape);
export type ThreadPlace = z.output<typeof threadPlaceSchema>;

const commentSchema = z.object({
  by: z.string(),
  at: z.string(),
  text: z.string().max(LONGEST_COMMENT),
});

/** What a thread is kept as. */
export const keptThreadSchema = z.strictObject({
  ...placeShape,
  // What is nothing is left out where it is kept.
  against: sideSchema.nullable().default(null),
  comments: z.array(commentSchema).max(MOST_COMMENTS),
  resolved: z.boolean(),
});

export const threadSchema = z.object({ id: z.string(), ...keptThreadSchema.shape });
export type Thread = z.output<typeof threadSchema>;

/** What is said of a number. */
export const saySchema = z
  .strictObject({
    ...placeShape,
    text: z
      .string()
      .trim()
      .min(1, 'write something')
      .max(LONGEST_COMMENT, `at most ${LONGEST_COMMENT} characters`),
    /** Whether nothing more is to be said: what was to be checked is dismissed with a reason. */
    resolved: z.boolean().default(false),
  })
  .refine(({ from, to }) => from <= to, { message: 'it ends before it begins', path: ['to'] })
  .refine(({ room, against }) => (room === 'comparison') === (against !== null), {
    message: 'a comparison has a second side, a budget has none',
    path: ['against'],
  });
export type Say = z.output<typeof saySchema>;

const base = '/workspaces/{workspaceId}/threads';

export const threadOperations = operations({
  readThreads: {
    method: 'get',
    path: base,
    summary: 'What was said of numbers of Budget and Comparison, the newest thread first',
    access: 'reads',
    query: z.strictObject({ room: threadRoomSchema.optional() }),
    answer: z.array(threadSchema),
  },
  comment: {
    method: 'post',
    path: base,
    summary: 'Says something of a number: in its thread, which is open again then, or in a new one',
    access: 'plans',
    body: saySchema,
    answer: threadSchema,
  },
  resolveThread: {
    method: 'patch',
    path: `${base}/{thread}`,
    summary: 'Marks a thread as resolved, or opens it again',
    access: 'plans',
    body: z.strictObject({ resolved: z.boolean() }),
    answer: threadSchema,
  },
});
