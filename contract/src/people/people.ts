import { z } from 'zod';
import { idSchema, nameSchema } from '../common.ts';

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

/** Who is signed in, and the token that every write has to bring in `x-csrf-token`. */
export const sessionSchema = z.object({
  person: z.object({ id: idSchema, name: z.string(), email: z.string() }),
  csrfToken: z.string(),
  workspaces: z.array(z.object({ id: idSchema, name: z.string(), role: roleSchema })),
});
export type Session = z.infer<typeof sessionSchema>;
