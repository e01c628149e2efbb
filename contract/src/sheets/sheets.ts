import { z } from 'zod';
import {
  codeSchema,
  dateSchema,
  monthSchema,
  nameSchema,
  scopeSchema,
  whySchema,
} from '../common.ts';
import { basisSchema, entriesResultSchema } from '../budgets/budgets.ts';
import { broughtSchema, FILLED_FILE, filledFileSchema } from '../exchange/filled-file.ts';
import { operations } from '../operation.ts';

/** What a sheet is filled in; money in minor units. */
export const sheetMeasureSchema = z.enum(['revenue', 'units']);

/**
 * Where a sheet is on its way: in draft only planners see it; handed out or questioned whoever it is
 * for fills it in; handed in or agreed nobody does.
 */
export const sheetStateSchema = z.enum(['draft', 'handedOut', 'handedIn', 'questioned', 'agreed']);
export type SheetState = z.infer<typeof sheetStateSchema>;

/** The longest word that goes with a step. */
const LONGEST_WORD = 1000;
const wordSchema = z.string().trim().max(LONGEST_WORD);

/** One step of a sheet's way, with who took it. */
const stepSchema = z.object({
  state: sheetStateSchema,
  by: z.string(),
  at: z.string(),
  text: z.string(),
});

/** What a planner says of a sheet. */
const saidShape = {
  title: nameSchema,
  /** The version whose cells it fills. */
  version: z.number().int().positive('choose a version'),
  /** Who fills it in. */
  person: z.number().int().positive('choose who fills it in'),
  scope: scopeSchema,
  /** The dimensions of its lines, the outer one first. */
  rows: z.array(codeSchema).min(1, 'choose what the lines are').max(2, 'lines have two dimensions'),
  measure: sheetMeasureSchema,
  /** The day on which it is due. */
  due: dateSchema.nullable(),
};

/** What a sheet is kept as. */
export const keptSheetSchema = z.strictObject({
  ...saidShape,
  // What is nothing is left out where it is kept.
  due: dateSchema.nullable().default(null),
  state: sheetStateSchema,
  steps: z.array(stepSchema),
});

export const newSheetSchema = z.strictObject({
  ...saidShape,
  measure: sheetMeasureSchema.default('revenue'),
  due: dateSchema.nullable().default(null),
});
export type NewSheet = z.input<typeof newSheetSchema>;

export const sheetChangeSchema = z
  .strictObject(saidShape)
  .omit({ version: true })
  .partial()
  .refine((change) => Object.keys(change).length > 0, 'say what is to be changed');
export type SheetChange = z.infer<typeof sheetChangeSchema>;

export const sheetSchema = z.object({
  id: z.string(),
  ...keptSheetSchema.shape,
  /** Who fills it in, and the version it fills, by their names. */
  personName: z.string(),
  versionName: z.string(),
  from: monthSchema,
  to: monthSchema,
  /** Whether whoever asks can fill it in now. */
  open: z.boolean(),
});
export type Sheet = z.infer<typeof sheetSchema>;

/** The longest comment that stands at a line. */
export const LONGEST_LINE_COMMENT = 500;

/** What whoever fills a sheet in says of one of its lines. */
const lineShape = {
  comment: z.string().trim().max(LONGEST_LINE_COMMENT),
  /** By what a number that is typed is divided over the months and what lies below. */
  basis: basisSchema,
  /** Whether it stays when a total above it is typed over. */
  locked: z.boolean(),
};
/** What is kept of a line about which something was said. */
export const keptSheetLineSchema = z.strictObject({
  sheet: z.string(),
  scope: scopeSchema,
  ...lineShape,
});

export const sheetLineChangeSchema = z
  .strictObject({ scope: scopeSchema, ...z.strictObject(lineShape).partial().shape })
  .refine((change) => Object.keys(change).length > 1, 'say what is to be changed');
export type SheetLineChange = z.infer<typeof sheetLineChangeSchema>;

/** A line, or a total of lines; units, or money in minor units. */
export const sheetLineSchema = z.object({
  key: z.string(),
  name: z.string(),
  level: z.number(),
  parent: z.boolean(),
  scope: scopeSchema,
  ...lineShape,
  lastYear: z.number().nullable(),
  lastTwelve: z.number().nullable(),
  forecast: z.number().nullable(),
  /** Null where the targets do not say it of these very sales. */
  target: z.number().nullable(),
  plan: z.number(),
});
export type SheetLine = z.infer<typeof sheetLineSchema>;

/** A sheet with its lines, the total of all of them first. */
export const filledSheetSchema = z.object({
  sheet: sheetSchema,
  lines: z.array(sheetLineSchema),
  /** The last closed month: what is actual in last year's numbers. */
  closedThrough: monthSchema,
  minorDigits: z.number(),
});
export type FilledSheet = z.infer<typeof filledSheetSchema>;

/** A number over a line, or over a total of lines, with what stood there when it was typed. */
const typedLineSchema = z.strictObject({
  scope: scopeSchema,
  total: z.number('this is not a number').min(-9e15).max(9e15),
  saw: z.number(),
});
export const typedLinesSchema = z.strictObject({
  typed: z.array(typedLineSchema).min(1).max(2000),
  why: whySchema,
});
export type TypedLine = z.infer<typeof typedLineSchema>;

export const sheetStepSchema = z.strictObject({
  state: sheetStateSchema,
  text: wordSchema.default(''),
});

const base = '/workspaces/{workspaceId}/sheets';
const one = `${base}/{sheet}` as const;

export const sheetOperations = operations({
  listSheets: {
    method: 'get',
    path: base,
    summary: 'The budget sheets: all of them for whoever reads all, otherwise one’s own',
    access: 'part',
    answer: z.array(sheetSchema),
  },
  addSheet: {
    method: 'post',
    path: base,
    summary: 'Makes a sheet, in draft, for somebody to fill in a part of a version',
    access: 'plans',
    body: newSheetSchema,
    answer: sheetSchema,
    status: 201,
  },
  readSheet: {
    method: 'get',
    path: one,
    summary: 'A sheet with its lines beside last year, the last twelve months, forecast and target',
    access: 'part',
    answer: filledSheetSchema,
  },
  changeSheet: {
    method: 'patch',
    path: one,
    summary: 'Says anew who fills a sheet in, of what it is, or when it is due',
    access: 'plans',
    body: sheetChangeSchema,
    answer: sheetSchema,
  },
  removeSheet: {
    method: 'delete',
    path: one,
    summary: 'Removes a sheet; what was typed on it stays in the version',
    access: 'plans',
  },
  stepSheet: {
    method: 'post',
    path: `${one}/state`,
    summary: 'Hands a sheet out, in, back with a question, or agrees it',
    access: 'part',
    body: sheetStepSchema,
    answer: sheetSchema,
  },
  changeSheetLine: {
    method: 'patch',
    path: `${one}/lines`,
    summary: 'Says what stands at a line: a comment, how it is divided, whether it is locked',
    access: 'part',
    body: sheetLineChangeSchema,
    answer: filledSheetSchema,
  },
  saveSheet: {
    method: 'get',
    path: `${one}/file.{format}`,
    summary: 'A sheet as a file that can be filled in anywhere and brought back',
    access: 'part',
    writes: 'text/csv',
  },
  bringSheet: {
    method: 'post',
    path: `${one}/file`,
    summary: 'Brings a sheet’s file back: looked at first, then its changed lines as one act',
    access: 'part',
    query: broughtSchema,
    file: FILLED_FILE,
    answer: filledFileSchema,
  },
  typeIntoSheet: {
    method: 'post',
    path: `${one}/entries`,
    summary: 'Types numbers over lines and totals of a sheet; what changed meanwhile is a conflict',
    access: 'part',
    body: typedLinesSchema,
    answer: entriesResultSchema,
  },
});
