import type { InjectionKey, ShallowRef } from 'vue';
import { MOST_FILE_CELLS, type ShownTable } from '@dravex/contract';
import { keepFile, requestFile } from '../shell/api.ts';
import type { GridCell, GridColumn, GridRow } from './plan-grid.ts';
import { TEXTS } from './texts.ts';

/** Saves the table in sight as it is shown. */
export type SaveShown = (format: 'csv' | 'xlsx') => Promise<void>;
/** Where a page takes the saving of its table from, for its menu. */
export const SHOWN_TABLE: InjectionKey<ShallowRef<SaveShown | undefined>> = Symbol('shown table');

/** A table as it is shown. */
export interface GridParts {
  /** The heading of the rows' names. */
  readonly heading: string;
  readonly columns: readonly GridColumn[];
  readonly rows: readonly GridRow[];
}

/** A line of a file: words, numbers, nothing. */
export type Line = ShownTable['lines'][number];

/** A number in the unit shown and in full, a percent as a fraction; words where it is none. */
function fieldOf(cell: GridCell | undefined): Line[number] {
  if (!cell) return null;
  const { value, unit, typed } = cell;
  if (value === undefined) return typed === '' ? null : typed;
  return value === null || unit !== '%' ? value : value / 100;
}

/** The unit of a column, where all of its cells have the same one. */
function unitOf(rows: readonly GridRow[], place: number): string {
  const units = new Set(rows.flatMap(({ cells }) => cells.at(place)?.unit ?? []));
  const [only] = units;
  if (units.size !== 1 || only === undefined) return '';
  return only === '%' ? TEXTS.fraction : `, ${only}`;
}

/**
 * The lines of a table's file: headings with their units, then rows, those below others indented.
 * What is drawn and is no number, such as a mark, has no column.
 */
export function linesOf({ heading, columns, rows }: GridParts): Line[] {
  const drawn = (place: number): boolean =>
    rows.some(({ cells }) => cells.at(place)?.mark !== undefined);
  const places = columns.flatMap((_, place) => (drawn(place) ? [] : [place]));
  const heads = places.map((place) => `${columns[place]?.heading ?? ''}${unitOf(rows, place)}`);
  const lines = rows.map(({ level, label, tail, cells }) => [
    '  '.repeat(level) + (tail === undefined ? label : `${label}, ${tail}`),
    ...places.map((place) => fieldOf(cells.at(place))),
  ]);
  return [[heading, ...heads], ...lines];
}

/** Saves a table as it is shown. @throws Error, or ApiProblem, with the reason */
export function saveGrid(
  format: 'csv' | 'xlsx',
  name: string,
  about: readonly string[],
  parts: GridParts,
): Promise<void> {
  return saveLines(format, name, about, linesOf(parts));
}

/** Saves lines as a file. @throws Error, or ApiProblem, with the reason */
export async function saveLines(
  format: 'csv' | 'xlsx',
  name: string,
  about: readonly string[],
  lines: Line[],
): Promise<void> {
  if (lines.length * (lines[0]?.length ?? 0) > MOST_FILE_CELLS) {
    throw new Error(TEXTS.tooLargeToSave(MOST_FILE_CELLS));
  }
  const file = await requestFile(`/table-file.${format}`, { name, about, lines });
  keepFile({ file, name: `${name}.${format}` });
}
