import { z } from 'zod';
import { createdSchema, idSchema, nameSchema } from '../common.ts';
import { operations } from '../operation.ts';

/** What a person may do in a workspace: a planner reads and writes all of it, a reader reads it. */
export const roleSchema = z.enum(['planner', 'reader']);
export type Role = z.infer<typeof roleSchema>;

export const signInSchema = z.strictObject({
  email: z.string().trim().min(1).max(200),
  password: z.string().min(1).max(500),
});

export const newPersonSchema = z.strictObject({
  email: z.email('this is not an e-mail address').max(200),
  name: nameSchema,
  password: z.string().min(10, 'a password has at least 10 characters').max(500),
  role: roleSchema,
});
export type NewPerson = z.infer<typeof newPersonSchema>;

/** What of a table is remembered by its name; more than anybody turns by hand. */
const MOST_REMEMBERED = 2000;
const rememberedKey = z.string().min(1).max(200);
const fewerThan = (record: object): boolean => Object.keys(record).length <= MOST_REMEMBERED;
const tooMany = `at most ${MOST_REMEMBERED} are remembered`;

/** How a person has laid out tables: widths of columns in px, and rows that were opened or folded. */
export const layoutSchema = z.strictObject({
  widths: z.record(rememberedKey, z.number().min(20).max(2000)).refine(fewerThan, tooMany),
  folded: z
    .record(rememberedKey, z.array(z.string().max(200)).max(MOST_REMEMBERED))
    .refine(fewerThan, tooMany),
});
export type Layout = z.infer<typeof layoutSchema>;

/** Who is signed in, and the token that every write has to bring in `x-csrf-token`. */
export const sessionSchema = z.object({
  person: z.object({ id: idSchema, name: z.string(), email: z.string() }),
  csrfToken: z.string(),
  layout: layoutSchema,
  workspaces: z.array(z.object({ id: idSchema, name: z.string(), role: roleSchema })),
});
export type Session = z.infer<typeof sessionSchema>;

/** Somebody who may enter a workspace. */
export const workspacePersonSchema = z.object({
  id: idSchema,
  name: z.string(),
  email: z.string(),
  role: roleSchema,
});
export type WorkspacePerson = z.infer<typeof workspacePersonSchema>;

export const sessionOperations = operations({
  signIn: {
    method: 'post',
    path: '/session',
    summary: 'Signs in; the answer holds the token that every write has to bring',
    access: 'anybody',
    body: signInSchema,
    answer: sessionSchema,
  },
  readSession: {
    method: 'get',
    path: '/session',
    summary: 'Who is signed in',
    access: 'signedIn',
    answer: sessionSchema,
  },
  keepLayout: {
    method: 'put',
    path: '/session/layout',
    summary: 'Remembers how the signed-in person has laid out tables',
    access: 'signedIn',
    body: layoutSchema,
  },
  signOut: {
    method: 'delete',
    path: '/session',
    summary: 'Signs out',
    access: 'signedIn',
  },
});

export const peopleOperations = operations({
  listPeople: {
    method: 'get',
    path: '/workspaces/{workspaceId}/people',
    summary: 'Who may enter the workspace',
    access: 'reads',
    answer: z.array(workspacePersonSchema),
  },
  addPerson: {
    method: 'post',
    path: '/workspaces/{workspaceId}/people',
    summary: 'Brings a new person into the workspace',
    access: 'plans',
    body: newPersonSchema,
    answer: createdSchema,
    status: 201,
  },
});
