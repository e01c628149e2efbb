/**
 * The XML inside a workbook (ISO/IEC 29500, SpreadsheetML): which sheets there are, its texts, which
 * numbers are dates, and the rows of a sheet. Read in pieces; what is kept is counted as it is read.
 */
import type { Cell } from '@dravex/core';
import { SaxesParser } from 'saxes';
import { badRequest, HttpProblem } from '../platform/errors.ts';
import { MOST_COLUMNS, type RawRow } from './raw-row.ts';

/** Rows are handed on when so many are there, or so many cells. */
const AT_ONCE = { rows: 2000, cells: 200_000 };
/** Texts of a workbook, and of one row, in characters; more is no table. */
const MOST_TEXT = 32 * 1024 ** 2;
/** A text takes room however short it is; in characters. */
const ROOM_OF_TEXT = 16;
/** Of a part of the workbook that is no sheet so much is read, in bytes. */
const LARGEST_PART = 256 * 1024 ** 2;
const LONGEST_ROW = 2_000_000;

type Attributes = Readonly<Record<string, string>>;
interface Heard {
  open?(name: string, attributes: Attributes): void;
  text?(text: string): void;
  close?(name: string): void;
}

/** A name without the prefix of its namespace: some programs write `x:row`. */
const plain = (name: string): string => name.slice(name.indexOf(':') + 1);

/** So much text without a tag is held by the parser; a cell has less. In bytes. */
const LONGEST_TEXT = 4 * 1024 ** 2;

/** Reads XML piece by piece; gives way after each, so that whoever listens can hand on what came. */
async function* reading(pieces: AsyncIterable<Buffer>, heard: Heard): AsyncGenerator<void> {
  const parser = new SaxesParser();
  const decoder = new TextDecoder();
  let untold = 0;
  parser.on('error', (error) => {
    throw error;
  });
  parser.on('opentag', ({ name, attributes }) => {
    untold = 0;
    heard.open?.(plain(name), attributes as Attributes);
  });
  parser.on('text', (text) => heard.text?.(text));
  parser.on('cdata', (text) => heard.text?.(text));
  parser.on('closetag', ({ name }) => {
    untold = 0;
    heard.close?.(plain(name));
  });
  try {
    for await (const piece of pieces) {
      untold += piece.length;
      parser.write(decoder.decode(piece, { stream: true }));
      if (untold > LONGEST_TEXT) {
        throw badRequest(
          'A cell of the workbook is far too long for a table; nothing was imported',
        );
      }
      yield;
    }
    parser.close();
    yield;
  } catch (error) {
    if (error instanceof HttpProblem) throw error;
    throw badRequest(
      'The workbook cannot be read: it is damaged; save it anew and upload it again',
    );
  }
}

const tooMuchText = (): HttpProblem =>
  badRequest(
    'The workbook holds more text than can be read at once; save the sheet as CSV and upload that',
  );

/** Reads a part that is no sheet; what it unpacks to is counted as it comes. */
async function readWhole(pieces: AsyncIterable<Buffer>, heard: Heard): Promise<void> {
  let size = 0;
  async function* counted(): AsyncGenerator<Buffer> {
    for await (const piece of pieces) {
      size += piece.length;
      if (size > LARGEST_PART) throw tooMuchText();
      yield piece;
    }
  }
  for await (const _ of reading(counted(), heard));
}

/** An attribute by its name without a prefix. */
const attribute = (attributes: Attributes, name: string): string | undefined =>
  Object.entries(attributes).find(([key]) => plain(key) === name)?.[1];

export interface SheetEntry {
  readonly name: string;
  /** By which the relations of the workbook know it. */
  readonly relation: string;
}

/** The sheets in their order, and whether days are counted from 1904. */
export async function readSheetList(
  pieces: AsyncIterable<Buffer>,
): Promise<{ sheets: SheetEntry[]; from1904: boolean }> {
  const sheets: SheetEntry[] = [];
  let from1904 = false;
  await readWhole(pieces, {
    open(name, attributes) {
      if (name === 'sheet') {
        sheets.push({
          name: attributes.name ?? '',
          relation: attribute(attributes, 'id') ?? '',
        });
      }
      if (name === 'workbookPr') from1904 = /^(1|true)$/.test(attributes.date1904 ?? '');
    },
  });
  return { sheets, from1904 };
}

export interface Relation {
  readonly id: string;
  /** The last word of its type: `worksheet`, `sharedStrings`, `styles`. */
  readonly type: string;
  /** The name of the part in the zip. */
  readonly part: string;
}

/** What the workbook refers to. */
export async function readRelations(pieces: AsyncIterable<Buffer>): Promise<Relation[]> {
  const relations: Relation[] = [];
  await readWhole(pieces, {
    open(name, { Id: id = '', Type: type = '', Target: target = '' }) {
      if (name !== 'Relationship') return;
      const part = target.startsWith('/') ? target.slice(1) : `xl/${target}`;
      relations.push({ id, type: type.slice(type.lastIndexOf('/') + 1), part });
    },
  });
  return relations;
}

/** The texts that cells refer to by number. @throws HttpProblem 400 when they are too much */
export async function readTexts(pieces: AsyncIterable<Buffer>): Promise<string[]> {
  const texts: string[] = [];
  let [item, size] = ['', 0];
  const text = new TextOf();
  await readWhole(pieces, {
    open(name) {
      text.open(name);
      if (name !== 'si') return;
      item = '';
      size += ROOM_OF_TEXT;
      if (size > MOST_TEXT) throw tooMuchText();
    },
    text(part) {
      if (!text.counts) return;
      item += part;
      size += part.length;
      if (size > MOST_TEXT) throw tooMuchText();
    },
    close(name) {
      text.close(name);
      if (name === 'si') texts.push(item.trim());
    },
  });
  return texts;
}

/** Whether what is heard is text of a cell: within `t`, but not how it is pronounced. */
class TextOf {
  #within = false;
  #spoken = false;
  get counts(): boolean {
    return this.#within && !this.#spoken;
  }
  open(name: string): void {
    if (name === 't') this.#within = true;
    if (name === 'rPh') this.#spoken = true;
  }
  close(name: string): void {
    if (name === 't') this.#within = false;
    if (name === 'rPh') this.#spoken = false;
  }
}

/** Formats of numbers that every workbook knows and that show days or times. */
const isKnownDay = (format: number): boolean =>
  (format >= 14 && format <= 22) ||
  (format >= 27 && format <= 36) ||
  (format >= 45 && format <= 47) ||
  (format >= 50 && format <= 58);

/** Whether a format shows a day or a time: by its letters, apart from what is only printed. */
function showsDay(code: string): boolean {
  return /[ymdhs]/i.test(code.replace(/\[[^\]]*\]|"[^"]*"|[\\_*]./g, ''));
}

/** Which styles of cells show a number as a day, by their place. */
export async function readDayStyles(pieces: AsyncIterable<Buffer>): Promise<boolean[]> {
  const own = new Map<number, boolean>();
  const styles: boolean[] = [];
  let within = false;
  await readWhole(pieces, {
    open(name, attributes) {
      if (name === 'numFmt')
        own.set(Number(attributes.numFmtId), showsDay(attributes.formatCode ?? ''));
      if (name === 'cellXfs') within = true;
      if (name === 'xf' && within) {
        const format = Number(attributes.numFmtId ?? 0);
        styles.push(own.get(format) ?? isKnownDay(format));
      }
    },
    close(name) {
      if (name === 'cellXfs') within = false;
    },
  });
  return styles;
}

/** What the cells of a sheet are read by. */
export interface SheetTerms {
  readonly texts: readonly string[];
  readonly dayStyles: readonly boolean[];
  readonly from1904: boolean;
}

/** The number of a column by its letters, from 0; -1 for none. */
function columnOf(reference: string | undefined): number {
  let column = 0;
  for (const letter of reference ?? '') {
    const place = letter.charCodeAt(0) - 64;
    if (place < 1 || place > 26) break;
    column = Math.min(column * 26 + place, MOST_COLUMNS * 26);
  }
  return column - 1;
}

const DAY_MS = 86_400_000;
/** 1970-01-01 in days since 1899-12-30. */
const EPOCH = 25_569;
const DAYS_TO_1904 = 1462;

function dayOf(serial: number, from1904: boolean): string {
  const days = serial - EPOCH + (from1904 ? DAYS_TO_1904 : 0);
  const day = new Date(Math.round(days * DAY_MS));
  return Number.isNaN(day.getTime()) ? '' : day.toISOString().slice(0, 10);
}

/** A cell as it is heard: its kind and style, its value, whether a formula stands in it. */
interface CellHeard {
  readonly column: number;
  readonly type: string;
  readonly style: number;
  value: string;
  valued: boolean;
  formula: boolean;
}

/** What a cell shows: of a formula its result, of a date its day, of rich text the text. */
function shown(cell: CellHeard, { texts, dayStyles, from1904 }: SheetTerms): Cell {
  const { type, value } = cell;
  if (!cell.valued) return cell.formula ? '#NO RESULT!' : '';
  if (type === 's') return texts[Number(value)] ?? '';
  if (type === 'b') return value === '1' ? 'true' : 'false';
  if (type === 'd') return value.slice(0, 10);
  if (type !== 'n') return value.trim();
  const number = Number(value);
  if (value.trim() === '' || !Number.isFinite(number)) return value.trim();
  return dayStyles[cell.style] ? dayOf(number, from1904) : number;
}

/**
 * The rows of a sheet, many at a time, with their numbers as a person counts; empty ones are passed
 * over. What stands beyond the last column that a table has is one cell.
 * @throws HttpProblem 400 for XML that is none, and for a row that is longer than a table's
 */
export async function* readRows(
  pieces: AsyncIterable<Buffer>,
  terms: SheetTerms,
): AsyncGenerator<RawRow[]> {
  let ready: RawRow[] = [];
  let readyCells = 0;
  let [row, column, length] = [0, -1, 0];
  let cells: Cell[] = [];
  let cell: CellHeard | undefined;
  let inValue = false;
  const text = new TextOf();
  const heard: Heard = {
    open(name, attributes) {
      text.open(name);
      if (name === 'row') {
        const said = Number(attributes.r);
        row = Number.isSafeInteger(said) && said > row ? said : row + 1;
        [cells, column, length] = [[], -1, 0];
      } else if (name === 'c') {
        const said = columnOf(attributes.r);
        column = Math.min(said < 0 ? column + 1 : said, MOST_COLUMNS);
        const { t: type = 'n', s: style = '0' } = attributes;
        const none = { value: '', valued: false, formula: false };
        cell = { column, type, style: Number(style), ...none };
      } else if (name === 'f' && cell) cell.formula = true;
      else if (name === 'v' && cell) [inValue, cell.valued] = [true, true];
      else if (name === 'is' && cell) cell.valued = true;
    },
    text(part) {
      if (!cell || !(inValue || text.counts)) return;
      length += part.length;
      if (length > LONGEST_ROW) {
        throw badRequest(
          `Row ${row} of the sheet is far too long for a table; nothing was imported`,
        );
      }
      cell.value += part;
    },
    close(name) {
      text.close(name);
      if (name === 'v') inValue = false;
      else if (name === 'c' && cell) {
        const value = shown(cell, terms);
        if (value !== '') {
          while (cells.length < cell.column) cells.push('');
          cells[cell.column] = value;
        }
        cell = undefined;
      } else if (name === 'row' && cells.length > 0) {
        ready.push({ row, cells });
        readyCells += cells.length;
      }
    },
  };
  for await (const _ of reading(pieces, heard)) {
    if (ready.length < AT_ONCE.rows && readyCells < AT_ONCE.cells) continue;
    yield ready;
    [ready, readyCells] = [[], 0];
  }
  if (ready.length > 0) yield ready;
}
