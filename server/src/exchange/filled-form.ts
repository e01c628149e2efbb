/** The form of a table that is saved, filled in with any program, and brought back. */
import { UNIT_PARTS, type FilledMeasure } from '@dravex/core';
import type { CsvField } from '../platform/csv.ts';

/** What stands beside the numbers that are filled in, and is not read back. */
export interface BesideColumn {
  readonly head: string;
  readonly kind: 'number' | 'percent' | 'text';
  /** In a workbook: what follows from other cells of the row, by their headings. */
  readonly formula?: (cell: (head: string) => string) => string;
}

export interface FilledRow {
  /** What it is known by when it comes back; also says of what table it is. */
  readonly key: string;
  readonly name: string;
  /** 0 for the total of all. */
  readonly level: number;
  /** A total: it follows from the rows below it. */
  readonly parent: boolean;
  /** Why nothing is filled in here. */
  readonly locked?: string | undefined;
  /** One a heading; in the smallest parts that are whole. */
  readonly values: readonly (number | null)[];
  /** One a column beside; numbers like the values, fractions, words. */
  readonly beside: readonly CsvField[];
}

export interface FilledTable {
  readonly title: string;
  /** What a person has to know of it. */
  readonly about: string;
  /** What the keys of its rows begin with, up to the colon. */
  readonly of: string;
  readonly measure: FilledMeasure;
  /** The headings of what is filled in. */
  readonly heads: readonly string[];
  readonly columns: readonly BesideColumn[];
  /** Rows above those that lie below them. */
  readonly rows: readonly FilledRow[];
  /** Decimals of a number, and how many of its smallest parts make one. */
  readonly digits: number;
  readonly wholes: number;
  /** Whether all decimals are written, as of money. */
  readonly fixed: boolean;
}

/** How the numbers of a table are written: money with all its decimals, units with those they have. */
export function writtenAs(
  measure: FilledMeasure,
  minorDigits: number,
): Pick<FilledTable, 'measure' | 'digits' | 'wholes' | 'fixed'> {
  return measure === 'units'
    ? { measure, digits: Math.log10(UNIT_PARTS), wholes: 1, fixed: false }
    : { measure, digits: minorDigits, wholes: 10 ** minorDigits, fixed: true };
}

/** The hidden heading of what a number was when it was saved. */
export const asSaved = (head: string): string => `${head}, as saved`;
/** The heading of a row's key, and of its name. */
export const KEY = 'key';
export const LINE = 'Line';
