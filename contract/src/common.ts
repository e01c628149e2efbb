import { z } from 'zod';

/** `2026-04` */
export const monthSchema = z.string().regex(/^\d{4}-(0[1-9]|1[0-2])$/, 'write a month as 2026-04');

/** `2026-10-12`, a day that exists */
export const dateSchema = z.iso.date('write a date as 2026-10-12');

export const idSchema = z.number().int().positive();

/** What a person names: trimmed, not empty, not endless, and without control characters. */
export const nameSchema = z
  .string()
  .trim()
  .min(1, 'give it a name')
  .max(120, 'a name has at most 120 characters')
  .refine((text) => !/\p{Cc}/u.test(text), 'a name has no control characters');

/** What a code may look like in files and addresses. */
export const codeSchema = z
  .string()
  .trim()
  .min(1)
  .max(60)
  .regex(
    /^[\p{L}\p{N}][\p{L}\p{N}._-]*$/u,
    'a code has letters, digits, dots, dashes and underscores',
  );

/** A choice of members by id. */
export const scopeSchema = z.array(idSchema).max(200);

/** Money in minor units, in the range that stays exact. */
export const minorSchema = z.number().int().min(-9e15).max(9e15);

/** One mistake of a request, and where it is. */
export const fieldErrorSchema = z.object({ path: z.string(), message: z.string() });

/** RFC 9457 problem details; `errors` names every mistake with its place. */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number(),
  detail: z.string(),
  errors: z.array(fieldErrorSchema).optional(),
});
export type FieldError = z.infer<typeof fieldErrorSchema>;
export type ProblemDetails = z.infer<typeof problemSchema>;
