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

/** How numbers and dates are written: `en-IE`. */
export const localeSchema = z
  .string()
  .max(35)
  .refine((tag) => {
    try {
      return Intl.NumberFormat.supportedLocalesOf(tag).length > 0;
    } catch {
      return false;
    }
  }, 'this is not a locale, such as en-IE');

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

/** As it was at a moment, in UTC: `2026-11-20T10:00:00Z`; as it is when it is left out. */
export const momentShape = {
  at: z.iso.datetime({ message: 'write a moment as 2026-11-20T10:00:00Z' }).optional(),
};

/** A list in an address: `channel,product`. */
export const listSchema = z
  .string()
  .max(2000)
  .default('')
  .transform((text) => text.split(',').filter((part) => part !== ''));

/** Members in an address, by id: `12,31`. */
export const idListSchema = listSchema.transform((parts) => parts.map(Number)).pipe(scopeSchema);

/** Money in minor units, in the range that stays exact. */
export const minorSchema = z.number().int().min(-9e15).max(9e15);

/** One mistake of a request, and where it is. */
export const fieldErrorSchema = z.object({ path: z.string(), message: z.string() });

/** A cell that somebody else changed meanwhile: what was seen, what it is now, and whose it is. */
export const conflictSchema = z.object({
  path: z.string(),
  saw: z.number().nullable(),
  now: z.number().nullable(),
  by: z.string(),
  at: z.string(),
});
export type Conflict = z.infer<typeof conflictSchema>;

/** Why something is done, in the words of whoever does it. */
export const whySchema = z.string().trim().max(500).default('');

/** The id of what was made. */
export const createdSchema = z.object({ id: z.number().int().positive() });

/** A record of the journal that is out of sight of who would take it back: what it was, where and when. */
export const askedRecordSchema = z.object({
  journal: z.number(),
  what: z.string(),
  room: z.string(),
  at: z.string(),
});
export type AskedRecord = z.infer<typeof askedRecordSchema>;

/** RFC 9457 problem details; `errors` names every mistake with its place. */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number(),
  detail: z.string(),
  errors: z.array(fieldErrorSchema).optional(),
  conflicts: z.array(conflictSchema).optional(),
  /** Of undo and redo: what would be taken back or done again, if it is said once more. */
  asks: askedRecordSchema.optional(),
  /** By which the request stands in the log of the server. */
  requestId: z.string().optional(),
});
export type FieldError = z.infer<typeof fieldErrorSchema>;
export type ProblemDetails = z.infer<typeof problemSchema>;
