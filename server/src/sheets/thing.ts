import { keptSheetLineSchema, keptSheetSchema } from '@dravex/contract';
import { namedThing, type Named } from '../journal/named.ts';
import { sheet, sheetLine } from './tables.ts';

const stamp = (changedBy: number) => ({ changedBy, changedAt: new Date() });

/** A sheet: whose it is, of what, and how far it is on its way. */
export const SHEET: Named<'sheet'> = {
  kind: 'sheet',
  word: 'sheet',
  table: sheet,
  value: keptSheetSchema,
  stamp,
};
export const sheetThing = namedThing(SHEET);

/** What was said of a line of a sheet. */
export const SHEET_LINE: Named<'sheetLine'> = {
  kind: 'sheetLine',
  word: 'line of a sheet',
  table: sheetLine,
  value: keptSheetLineSchema,
  stamp,
};
export const sheetLineThing = namedThing(SHEET_LINE);
