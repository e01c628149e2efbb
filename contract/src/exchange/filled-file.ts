/** A table that is saved, filled in with any program, and brought back. */
import { FILLED_MEASURES } from '@dravex/core';
import { z } from 'zod';
import { MB } from '../operation.ts';

/** What of a plan a file can hold. */
export const filledMeasureSchema = z.enum(FILLED_MEASURES);

/** So many changes, problems and lines of a file are told one by one. */
export const MOST_TOLD = 500;

/** One number of a file that differs from what stands here; units, or money in minor units. */
const filledChangeSchema = z.object({
  row: z.number(),
  /** The line, with what it lies below. */
  name: z.string(),
  /** The heading of its column; empty where there is one only. */
  column: z.string(),
  measure: filledMeasureSchema,
  /** What stands here now, and what the file says. */
  now: z.number().nullable(),
  file: z.number(),
  /** What stood here when the file was saved, where that is another number than now. */
  was: z.number().nullable(),
});
export type FilledChange = z.infer<typeof filledChangeSchema>;

/** What a file that is brought back would do, or did. */
export const filledFileSchema = z.object({
  changed: z.array(filledChangeSchema),
  /** What was changed in the file and here since it was saved. */
  meanwhile: z.array(filledChangeSchema),
  /** How many numbers are as they are here. */
  same: z.number(),
  /** The lines that the file lacks: they stay as they are. */
  lacking: z.array(z.string()),
  /** Rows that cannot be imported: unknown, twice, locked, no number. */
  problems: z.array(
    z.object({
      ...{ row: z.number(), message: z.string() },
      /** A value that names no member, and the dimension in which it stands. */
      unknown: z.object({ field: z.string(), value: z.string() }).optional(),
    }),
  ),
  /** Combinations that were never seen together, and are planned from now on. */
  added: z.array(z.string()),
  /** What else is to be known of it, in sentences: what is left out or added up. */
  leftOut: z.array(z.string()),
  /** How many there are of each; of many the first are told. */
  counts: z.object({
    ...{ changed: z.number(), meanwhile: z.number(), lacking: z.number() },
    ...{ problems: z.number(), added: z.number() },
  }),
  applied: z.boolean(),
});
export type FilledFile = z.infer<typeof filledFileSchema>;

/** How a file is brought back. */
export const broughtSchema = z.strictObject({
  /** Without it, it is looked at only. */
  apply: z.enum(['yes', 'no']).default('no'),
  /** What is done with what changed in the file and here: what stands here stays, or not. */
  meanwhile: z.enum(['keep', 'take']).default('keep'),
});
export type Brought = z.output<typeof broughtSchema>;

export const FILLED_FILE = {
  what: 'a table as CSV or XLSX, as it was saved from here',
  type: 'application/octet-stream',
  largest: 32 * MB,
} as const;
