import { z } from 'zod';
import {
  sourceNamed,
  TYPED_CODES,
  TYPED_SUBSCRIBER_CODES,
  type KeptSubscribers,
  type RevenueNeeded,
  type SpreadBasis,
  type SubscriberSeries,
} from '@dravex/core';
import {
  codeSchema,
  idListSchema,
  idSchema,
  listSchema,
  minorSchema,
  momentShape,
  monthSchema,
  nameSchema,
  scopeSchema,
  whySchema,
} from '../common.ts';
import {
  broughtSchema,
  FILLED_FILE,
  filledFileSchema,
  filledMeasureSchema,
} from '../exchange/filled-file.ts';
import { inAddress, readingInAddressSchema } from '../actuals/reading.ts';
import { MB, operations } from '../operation.ts';

/** What a version is for. */
const noteSchema = z.string().max(500);

/** Keeps the forecast as it stands, for a stretch of months, under a name. */
export const newVersionSchema = z
  .strictObject({
    name: nameSchema,
    from: monthSchema,
    to: monthSchema,
    note: noteSchema.default(''),
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
  /** An open version takes entries; a sealed one takes nothing. */
  state: z.enum(['open', 'sealed']),
  /** The fiscal year whose budget it is; null where it is no year's. */
  budgetOf: z.number().int().nullable(),
  /** It is there, and is not offered. */
  putAway: z.boolean(),
  /** The newest entry's id, 0 without any: cells that were read with it are still right. */
  lastEntry: z.number(),
  createdBy: z.string(),
  createdAt: z.string(),
});
export type Version = z.infer<typeof versionSchema>;

/** What can be said anew of a version; its numbers stay. */
export const versionChangeSchema = z
  .strictObject({
    name: nameSchema.optional(),
    note: noteSchema.optional(),
    /** Whether it is the budget of the fiscal year in which its last month lies. */
    budget: z.boolean().optional(),
    putAway: z.boolean().optional(),
  })
  .refine((change) => Object.keys(change).length > 0, 'say what is to be changed');
export type VersionChange = z.infer<typeof versionChangeSchema>;

const series = z.array(z.number());
/** Subscriptions as they were kept with a version: how they move, by combination and month. */
export const keptSubscribersSchema = z.object({
  combination: z.array(idSchema),
  month: z.array(monthSchema),
  ...({
    ...{ active: series, opening: series, starters: series, lost: series },
    ...{ changedIn: series, changedOut: series, recurring: series, revenueOpening: series },
    ...{ entered: series, priceChange: series, revenueLost: series, expansion: series },
    ...{ contraction: series, revenueIn: series, revenueOut: series },
  } satisfies Record<SubscriberSeries, typeof series>),
}) satisfies z.ZodType<KeptSubscribers>;

/** A version's cells, one column a field; money in minor units, null where it is not planned. */
export const versionCellsSchema = z.object({
  combination: z.array(idSchema),
  month: z.array(monthSchema),
  units: z.array(z.number()),
  revenue: z.array(z.number()),
  cost: z.array(z.number().nullable()),
  /** Which cells have entries, by their places. */
  touched: z.array(z.number()).optional(),
  /** Of a version that was kept of a forecast with subscriptions. */
  subscribers: keptSubscribersSchema.optional(),
  /** Into which months of them something was typed, by their places. */
  typedSubscribers: z.array(z.number()).optional(),
});
export type VersionCells = z.infer<typeof versionCellsSchema>;

/** By what a total is divided over what lies below it. */
export const basisSchema = z.enum([
  'standing',
  'equal',
  'lastYear',
  'forecast',
]) satisfies z.ZodType<SpreadBasis>;

/** A number typed over cells of an open version: a single one, or a total that is spread. */
export const typedEntrySchema = z
  .strictObject({
    scope: scopeSchema,
    from: monthSchema,
    to: monthSchema,
    measure: z.enum([...TYPED_CODES, ...TYPED_SUBSCRIBER_CODES]),
    /** Units, new subscribers, money in minor units, or a price in minor units per unit. */
    total: z.number('this is not a number').min(-9e15).max(9e15),
    /** What it was when it was seen; null for no value. */
    saw: z.number().nullable(),
    basis: basisSchema.default('standing'),
    /** When revenue is typed: units stay and the price moves, or the other way round. */
    keeps: z.enum(['units', 'price']).default('units'),
  })
  .refine((v) => v.from <= v.to, { message: 'it ends before it starts', path: ['to'] });
export type TypedEntry = z.infer<typeof typedEntrySchema>;

export const typedEntriesSchema = z.strictObject({
  typed: z.array(typedEntrySchema).min(1).max(5000),
  why: whySchema,
});
export type TypedEntries = z.infer<typeof typedEntriesSchema>;

/** A line that a version does not plan yet: a combination by codes, and what its months come to. */
export const newLineSchema = z
  .strictObject({
    members: z.record(codeSchema, codeSchema),
    from: monthSchema,
    to: monthSchema,
    units: z.number('this is not a number').min(0, 'units are zero or more').max(9e15),
    /** In minor units; cost null where it is not planned. */
    revenue: z.number('this is not an amount').pipe(minorSchema.min(0, 'revenue is zero or more')),
    cost: z
      .number('this is not an amount')
      .pipe(minorSchema.min(0, 'cost is zero or more'))
      .nullable()
      .default(null),
    why: whySchema,
  })
  .refine((v) => v.from <= v.to, { message: 'it ends before it starts', path: ['to'] })
  .refine(({ units, revenue, cost }) => units > 0 || revenue > 0 || (cost ?? 0) > 0, {
    message: 'enter what it sells',
    path: ['revenue'],
  });
export type NewLine = z.input<typeof newLineSchema>;

/** What typing into a version did. */
export const entriesResultSchema = z.object({
  /** How many cells it was spread over. */
  cells: z.number(),
  lastEntry: z.number(),
  revision: z.number(),
  journal: z.number().nullable(),
});
export type EntriesResult = z.infer<typeof entriesResultSchema>;

export const entriesAddressSchema = z.strictObject({
  scope: idListSchema,
  from: monthSchema,
  to: monthSchema,
  ...momentShape,
});

/** The other costs and the profit that revenue is asked for, in minor units. */
export const neededAddressSchema = z
  .strictObject({
    ...entriesAddressSchema.omit({ at: true }).shape,
    fixed: z.coerce
      .number('this is not an amount')
      .pipe(minorSchema.min(0, 'costs are zero or more')),
    profit: z.coerce.number('this is not an amount').pipe(minorSchema),
  })
  .refine((v) => v.from <= v.to, { message: 'it ends before it starts', path: ['to'] });

/** Money in minor units. */
export const revenueNeededSchema = z.object({
  revenue: z.number(),
  cost: z.number(),
  /** Margin over revenue, as a fraction. */
  ratio: z.number(),
  needed: z.number(),
}) satisfies z.ZodType<RevenueNeeded>;

/** What cells are made of: the numbers that were kept, and every entry since. */
export const versionEntriesSchema = z.object({
  base: z.object({
    ...{ units: z.number(), revenue: z.number(), cost: z.number().nullable() },
    /** New subscribers of the months, and the recurring revenue of the last, in minor units. */
    ...{ starters: z.number(), recurring: z.number() },
  }),
  entries: z.array(
    z.object({
      journal: z.number(),
      at: z.string(),
      by: z.string(),
      what: z.string(),
      why: z.string(),
      /** How many of the cells it changed. */
      cells: z.number(),
      units: z.number(),
      revenue: z.number(),
      cost: z.number().nullable(),
      /** So many more begin; so much more is paid a month, in minor units. */
      starters: z.number(),
      recurring: z.number(),
    }),
  ),
});
export type VersionEntries = z.infer<typeof versionEntriesSchema>;

/** A copy under a new name: each cell times (1 + uplift), some months later. */
const upliftShape = {
  /** More volume and higher prices, as fractions: 0.04 is 4 % more. */
  volume: z.number('this is not a number').min(-1, 'less than nothing is left').max(10).default(0),
  price: z.number('this is not a number').min(-1, 'less than nothing is left').max(10).default(0),
};
const shiftSchema = z.coerce.number().int('months are whole').min(-120).max(120);

/** Members of combinations with the revenue of their cells, in minor units. */
const copiedSchema = z.object({
  combinations: z.number(),
  revenue: z.number(),
  /** The first of them, the largest first. */
  members: z.array(z.array(idSchema)),
});
/** What a copy would carry on though it seems to be sold no longer, and what it would lack. */
export const copyLookSchema = z.object({
  /** The months that the copy would have. */
  from: monthSchema,
  to: monthSchema,
  /** What is copied comes to, before any uplift. */
  revenue: z.number(),
  discontinued: copiedSchema,
  added: copiedSchema,
});
export type CopyLook = z.infer<typeof copyLookSchema>;

/** What is copied: a version, the forecast, or what was sold; the latter two in some months. */
const copiedShape = {
  of: z
    .string()
    .max(60)
    .refine((text) => {
      const kind = sourceNamed(text)?.kind;
      return kind === 'actual' || kind === 'forecast' || kind === 'version';
    }, 'copied is actual, forecast, or a version such as version:3'),
  from: monthSchema.optional(),
  to: monthSchema.optional(),
  /** How many months later. */
  shift: shiftSchema.default(0),
};
type Copied = { of: string; from?: string | undefined; to?: string | undefined };
const hasMonths = ({ of, from, to }: Copied): boolean =>
  sourceNamed(of)?.kind === 'version' || (from !== undefined && to !== undefined);
const monthsMissing = { message: 'say from which month to which', path: ['from'] };
const endsLater = ({ from, to }: Copied): boolean =>
  from === undefined || to === undefined || from <= to;
const endsBefore = { message: 'it ends before it starts', path: ['to'] };

export const copiedAddressSchema = z
  .strictObject(copiedShape)
  .refine(hasMonths, monthsMissing)
  .refine(endsLater, endsBefore);
export type CopiedAddress = z.infer<typeof copiedAddressSchema>;

/** The most scopes that have an uplift of their own. */
export const MOST_UPLIFTS = 50;

export const versionCopySchema = z
  .strictObject({
    name: nameSchema,
    ...copiedShape,
    ...upliftShape,
    /** Sales that have an uplift of their own; the narrowest scope holds. */
    uplifts: z
      .array(
        z.strictObject({
          scope: scopeSchema.min(1, 'choose whose sales'),
          ...upliftShape,
        }),
      )
      .max(MOST_UPLIFTS)
      .default([]),
    /** Whether what seems to be sold no longer is copied, too. */
    discontinued: z.enum(['keep', 'leaveOut']).default('keep'),
    /** Whether what is copied has nothing of, and the forecast has, comes in from there. */
    added: z.enum(['none', 'forecast']).default('none'),
    note: noteSchema.default(''),
  })
  .refine(hasMonths, monthsMissing)
  .refine(endsLater, endsBefore);
export type VersionCopy = z.infer<typeof versionCopySchema>;
/** As it is asked for. */
export type NewCopy = z.input<typeof versionCopySchema>;

/** What a value of a dimension stands for, as a member's code. */
const meantSchema = z.strictObject({
  ...{ field: codeSchema, from: z.string().min(1).max(200), to: codeSchema },
  remember: z.boolean().default(false),
});

/** How a plan that was made elsewhere is taken in. */
export const plannedAddressSchema = z.strictObject({
  fileName: nameSchema.default('plan'),
  /** How it is to be read, as JSON; what it does not say is detected. */
  reading: readingInAddressSchema.optional(),
  apply: broughtSchema.shape.apply,
  /** Values that are read as others, as JSON; those to be remembered hold for the next file too. */
  replace: inAddress(z.array(meantSchema).max(200)).default([]),
  /** What is done with rows that cannot be imported: they keep all of it out, or are left out. */
  faulty: z.enum(['refuse', 'leave']).default('refuse'),
});
export type PlannedAddress = z.output<typeof plannedAddressSchema>;

const PLANNED_FILE = {
  what: 'a table as CSV, XLSX or JSON',
  type: 'application/octet-stream',
  largest: 256 * MB,
  streamed: true,
};

const base = '/workspaces/{workspaceId}/versions';
const keptSchema = z.object({ id: z.number(), missing: z.number() });

export const budgetOperations = operations({
  listVersions: {
    method: 'get',
    path: base,
    summary: 'The kept versions',
    access: 'reads',
    answer: z.array(versionSchema),
  },
  keepVersion: {
    method: 'post',
    path: base,
    summary: 'Keeps the forecast as it stands under a name',
    access: 'plans',
    body: newVersionSchema,
    answer: keptSchema,
    status: 201,
  },
  importVersion: {
    method: 'post',
    path: `${base}/import`,
    summary: 'Takes in a version from a file, all or none',
    access: 'plans',
    query: z.strictObject({ name: nameSchema }),
    file: { what: 'a CSV of cells', type: 'text/csv', largest: 64 * MB },
    answer: z.object({ id: z.number() }),
    status: 201,
  },
  readVersionCells: {
    method: 'get',
    path: `${base}/{versionId}/cells`,
    summary: 'The cells of a version: what was kept and its entries, added up, now or at a moment',
    access: 'reads',
    query: z.strictObject(momentShape),
    answer: versionCellsSchema,
  },
  listEntries: {
    method: 'get',
    path: `${base}/{versionId}/entries`,
    summary: 'What the cells of a scope and window are made of, entry by entry',
    access: 'reads',
    query: entriesAddressSchema,
    answer: versionEntriesSchema,
  },
  typeIntoVersion: {
    method: 'post',
    path: `${base}/{versionId}/entries`,
    summary:
      'Types numbers over cells and totals of an open version; what somebody else changed meanwhile is a conflict',
    access: 'plans',
    body: typedEntriesSchema,
    largest: 4 * MB,
    answer: entriesResultSchema,
  },
  readRevenueNeeded: {
    method: 'get',
    path: `${base}/{versionId}/revenue-needed`,
    summary:
      'The revenue that covers other costs and leaves a wanted profit, by the margin of what is planned',
    access: 'reads',
    query: neededAddressSchema,
    answer: revenueNeededSchema,
  },
  saveFilled: {
    method: 'get',
    path: `${base}/{versionId}/filled.{format}`,
    summary: 'A version as a table by line and month that can be filled in and brought back',
    access: 'reads',
    query: z.strictObject({
      measure: filledMeasureSchema.default('revenue'),
      rows: listSchema,
      scope: idListSchema,
    }),
    writes: 'text/csv',
  },
  bringFilled: {
    method: 'post',
    path: `${base}/{versionId}/filled`,
    summary: 'Brings such a table back: looked at first, then its changed numbers as one act',
    access: 'plans',
    query: broughtSchema,
    file: FILLED_FILE,
    answer: filledFileSchema,
  },
  bringPlanned: {
    method: 'post',
    path: `${base}/{versionId}/planned`,
    summary:
      'Takes in a plan from any table: looked at first, then what differs as one act. Months may stand across or down; the reading says which column holds what',
    access: 'plans',
    query: plannedAddressSchema,
    file: PLANNED_FILE,
    answer: filledFileSchema,
  },
  addLine: {
    method: 'post',
    path: `${base}/{versionId}/lines`,
    summary: 'Adds a line that an open version does not plan yet, its months alike',
    access: 'plans',
    body: newLineSchema,
    answer: z.object({ scope: scopeSchema, cells: z.number() }),
    status: 201,
  },
  deleteVersion: {
    method: 'delete',
    path: `${base}/{versionId}`,
    summary: 'Deletes a version; that can be taken back',
    access: 'plans',
  },
  changeVersion: {
    method: 'patch',
    path: `${base}/{versionId}`,
    summary:
      'Renames a version, says what it is for, marks it as the budget of its year, or puts it away',
    access: 'plans',
    body: versionChangeSchema,
    answer: versionSchema,
  },
  sealVersion: {
    method: 'post',
    path: `${base}/{versionId}/seal`,
    summary: 'Seals a version: it takes no more entries',
    access: 'plans',
    answer: versionSchema,
  },
  lookAtCopy: {
    method: 'get',
    path: `${base}/copies`,
    summary:
      'What a copy would carry on that is sold no longer, and what is new and would be missing',
    access: 'reads',
    query: copiedAddressSchema,
    answer: copyLookSchema,
  },
  copyVersion: {
    method: 'post',
    path: `${base}/copies`,
    summary:
      'Makes a version as a copy of another, of the forecast or of sales, with uplifts of volume and price by scope, some months later',
    access: 'plans',
    body: versionCopySchema,
    answer: z.object({ id: z.number() }),
    status: 201,
  },
});
