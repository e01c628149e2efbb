import { z } from 'zod';
import { operations } from '../operation.ts';

/** The rooms whose view can be kept. */
const roomSchema = z.enum(['forecast', 'drivers', 'comparison', 'budget', 'actuals', 'targets']);

/** A room as it was laid out: everything that stands in its address. */
export const viewSchema = z.object({
  name: z.string(),
  room: roomSchema,
  /** The part of the address after `?`: measures, rows, columns, scope, window. */
  address: z.string(),
  by: z.string(),
});
export type View = z.infer<typeof viewSchema>;

export const keepViewSchema = z.strictObject({
  room: roomSchema,
  address: z
    .string()
    .max(4000)
    .regex(/^[\w%.~+:|*'(),&=-]*$/, 'an address is written as in the browser, without spaces'),
});

const base = '/workspaces/{workspaceId}/kept-views';

export const viewOperations = operations({
  readKeptViews: {
    method: 'get',
    path: base,
    summary: 'The views that are kept under a name',
    access: 'reads',
    answer: z.array(viewSchema),
  },
  keepView: {
    method: 'put',
    path: `${base}/{view}`,
    summary: 'Keeps a view under a name; one of the same name is written over',
    access: 'plans',
    body: keepViewSchema,
  },
  dropView: {
    method: 'delete',
    path: `${base}/{view}`,
    summary: 'Forgets a view',
    access: 'plans',
  },
});
