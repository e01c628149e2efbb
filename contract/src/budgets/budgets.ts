import { z } from 'zod';
import { idSchema, monthSchema, nameSchema } from '../common.ts';

/** Keeps the forecast as it stands, for a stretch of months, under a name. */
export const newVersionSchema = z
  .strictObject({
    name: nameSchema,
    from: monthSchema,
    to: monthSchema,
    note: z.string().max(500).default(''),
  })
  .refine((v) => v.from <= v.to, { message: 'it ends before it starts', path: ['to'] });
export type NewVersion = z.infer<typeof newVersionSchema>;

export const versionSchema = z.object({
  id: idSchema,
  name: z.string(),
  from: monthSchema,
  to: monthSchema,
  note: z.string(),
  cells: z.number(),
  createdBy: z.string(),
  createdAt: z.string(),
});
export type Version = z.infer<typeof versionSchema>;

/** A version's cells, one column a field; money in minor units, null where it is not planned. */
export const versionCellsSchema = z.object({
  combination: z.array(idSchema),
  month: z.array(monthSchema),
  units: z.array(z.number()),
  revenue: z.array(z.number()),
  cost: z.array(z.number().nullable()),
});
export type VersionCells = z.infer<typeof versionCellsSchema>;
