/** Finding out which column of a table holds what. */
import { monthNamed, readDay, readMonth } from './day.ts';
import type { Cell } from './number.ts';

/** Something that a column can hold. */
export interface Field {
  readonly key: string;
  /** How a heading may call it, the best name first. */
  readonly names: readonly string[];
  readonly content: 'day' | 'number' | 'text' | 'member';
  /** Of members: codes and names, in small letters. */
  readonly known?: ReadonlySet<string>;
}

/** A heading without regard to case and to how its words are joined. */
export function plainHeading(name: string): string {
  return name
    .trim()
    .toLowerCase()
    .replace(/[\s_./-]+/g, ' ')
    .trim();
}

const KNOWN_SHARE = 0.6;

function share(cells: readonly Cell[], holds: (cell: Cell) => boolean): number {
  const filled = cells.filter((cell) => cell !== '');
  return filled.length === 0 ? 0 : filled.filter(holds).length / filled.length;
}

/** How well a column fits a field, from 0 to 1: by its heading first, by what it holds else. */
function fit(heading: string, cells: readonly Cell[], field: Field): number {
  const knownNames = field.known;
  const members = knownNames
    ? share(cells, (cell) => knownNames.has(String(cell).trim().toLowerCase()))
    : undefined;
  const names = field.names.map(plainHeading);
  if (names[0] === heading) return 1;
  if (names.includes(heading)) return 0.95;
  // A heading that only resembles a name must not hold something else altogether.
  if (members !== undefined) return members >= KNOWN_SHARE ? 0.5 + members * 0.4 : 0;
  if (field.content === 'day') {
    const days = share(
      cells,
      (cell) => typeof cell === 'string' && readDay(cell, 'dmy') !== undefined,
    );
    if (days < KNOWN_SHARE) return 0;
    return /date|day|datum|tag|month|monat/.test(heading) ? 0.8 : 0.55;
  }
  const words = heading.split(' ');
  return names.some((name) => name.split(' ').every((word) => words.includes(word))) ? 0.6 : 0;
}

/**
 * Which column holds each field; a field that no column fits is left out, and no column holds two.
 * @param rows some rows below the header
 */
export function matchColumns(
  header: readonly string[],
  rows: readonly (readonly Cell[])[],
  fields: readonly Field[],
): ReadonlyMap<string, number> {
  const fits = header.flatMap((name, column) => {
    const heading = plainHeading(name);
    const cells = rows.map((row) => row[column] ?? '');
    return fields.map((field, rank) => ({
      key: field.key,
      column,
      rank,
      fit: fit(heading, cells, field),
    }));
  });
  const fieldByHeading = new Map<string, number>();
  const taken = new Set<number>();
  fits.sort((a, b) => b.fit - a.fit || a.rank - b.rank || a.column - b.column);
  for (const { key, column, fit: value } of fits) {
    if (value === 0 || fieldByHeading.has(key) || taken.has(column)) continue;
    fieldByHeading.set(key, column);
    taken.add(column);
  }
  return fieldByHeading;
}

/** The columns whose headings are months, each once: a table that lies wide. */
export function monthColumns(header: readonly string[]): ReadonlyMap<number, string> {
  const months = new Map<number, string>();
  header.forEach((name, column) => {
    const month = readMonth(name);
    if (month !== undefined) months.set(column, month);
  });
  return months;
}

const YEAR = /^(?:19|20)\d\d$/;

/**
 * Headings in two rows as one: months without a year take the year that stands above them, or
 * above the next cell to the left that has one. Other headings stay as they are.
 * @example joinYears(['', 2025, ''], ['Item', 'Nov', 'Dec']) // ['Item', 'Nov 2025', 'Dec 2025']
 */
export function joinYears(above: readonly Cell[], header: readonly string[]): string[] {
  let year = '';
  return header.map((name, column) => {
    const given = String(above[column] ?? '').trim();
    if (YEAR.test(given)) year = given;
    return year !== '' && monthNamed(name.trim()) !== undefined ? `${name.trim()} ${year}` : name;
  });
}

/** Whether a table lies wide: three months or more across. */
export function isWide(header: readonly string[]): boolean {
  return new Set(monthColumns(header).values()).size >= 3;
}

/**
 * The place of the header among the first rows: the row that names most of what is looked for,
 * where no row names anything the first with two cells or more. Titles above it are passed over.
 */
export function headerPlace(rows: readonly (readonly Cell[])[], fields: readonly Field[]): number {
  const names = new Set(fields.flatMap((field) => field.names.map(plainHeading)));
  let best = -1;
  let most = 1;
  rows.forEach((row, place) => {
    const texts = joinYears(rows[place - 1] ?? [], row.map(String));
    const named = new Set(texts.map(plainHeading).filter((heading) => names.has(heading))).size;
    const score = named + (isWide(texts) ? 3 : 0);
    if (score > most) {
      most = score;
      best = place;
    }
  });
  if (best >= 0) return best;
  const first = rows.findIndex((row) => row.filter((cell) => cell !== '').length >= 2);
  return Math.max(0, first);
}

const TOTAL =
  /^(?:grand |sub ?|sub-)?totals?\b|^sum(?:me|ma)?\b|^(?:zwischen|gesamt)summe\b|^gesamt\b|^overall\b/i;

/** Whether a row is a total of rows above it, as exports put between and below them. */
export function isTotalRow(texts: Iterable<Cell>): boolean {
  for (const text of texts) if (typeof text === 'string' && TOTAL.test(text.trim())) return true;
  return false;
}

/** A heading as it is compared: of months across, which others follow next time, any is as good. */
function likeHeading(name: string): string {
  return readMonth(name) === undefined ? plainHeading(name) : 'month';
}

/** How alike two headers are, from 0 to 1: the share of headings that both have. */
export function likeness(a: readonly string[], b: readonly string[]): number {
  const first = new Set(a.map(likeHeading).filter((name) => name !== ''));
  const second = new Set(b.map(likeHeading).filter((name) => name !== ''));
  const both = [...first].filter((name) => second.has(name)).length;
  const all = new Set([...first, ...second]).size;
  return all === 0 ? 0 : both / all;
}
