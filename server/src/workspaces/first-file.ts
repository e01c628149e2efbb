/** Understands a first file of sales, of a company that nothing is known of yet. */
import {
  importFields,
  type FirstDimensionChoice,
  type FirstFileChoice,
  type ImportField,
  type NewDimension,
  type Reading,
} from '@dravex/contract';
import { decimalSignOf, monthColumns, plainHeading, readNumber, type Cell } from '@dravex/core';
import { customsOf, missingFields, understand, type UnderstoodTable } from '../exchange/reading.ts';
import { openTableFile } from '../exchange/table-file.ts';

/** What cuts sales: a column whose values are members, or one member that all rows belong to. */
export interface FirstDimension {
  readonly column: number | null;
  readonly value: string | null;
  readonly code: string;
  readonly name: string;
}

/** A first file that is understood, with its dimensions among its fields. */
export interface FirstFile {
  readonly reading: Reading;
  readonly fields: readonly ImportField[];
  readonly dimensions: readonly FirstDimension[];
  readonly missing: readonly ImportField[];
  readonly detected: readonly string[];
  readonly sheets: readonly string[];
  readonly table: UnderstoodTable;
}

const CODE = /^[\p{L}\p{N}][\p{L}\p{N}._-]*$/u;
const LONGEST_CODE = 60;
/** No company cuts its sales by more columns than this. */
const MOST_DIMENSIONS = 12;
/** Of a column that cuts sales, values come again: no more different ones than this share of rows. */
const DIFFERENT = 0.5;
/** So many rows say whether values come again. */
const ENOUGH = 20;

/** `customer group` becomes `customer-group`, which a code may look like. */
function codeOf(text: string): string {
  return plainHeading(text)
    .replaceAll(/[^\p{L}\p{N}]+/gu, '-')
    .replaceAll(/^-|-$/g, '')
    .slice(0, LONGEST_CODE);
}

/** The code of a member: what stands in the file where that is one, else made from it. */
export function memberCode(text: string): string {
  return CODE.test(text) && text.length <= LONGEST_CODE ? text : codeOf(text);
}

/** `customer group` becomes `Customer group`; the rest stays as it is written. */
function nameOf(heading: string): string {
  const words = heading.trim().replaceAll(/[_\s]+/g, ' ');
  return words.charAt(0).toUpperCase() + words.slice(1);
}

const filled = (cells: readonly Cell[]): string[] =>
  cells.map((cell) => String(cell).trim()).filter((cell) => cell !== '');

/** Whether a column holds numbers, and whether any of them has a fraction. */
function numbersIn(
  cells: readonly Cell[],
  decimal: Reading['decimal'],
): 'none' | 'whole' | 'amounts' {
  const texts = filled(cells);
  if (texts.length === 0) return 'none';
  if (texts.some((text) => Number.isNaN(readNumber(text, decimal, 3)))) return 'none';
  const fractions = cells.some((cell) =>
    typeof cell === 'number' ? !Number.isInteger(cell) : /[.,]\d{1,2}\D*$/.test(cell),
  );
  return fractions ? 'amounts' : 'whole';
}

/** Whether values of a column come again, as those that cut sales do. */
function comesAgain(cells: readonly Cell[]): boolean {
  const texts = filled(cells);
  return texts.length < ENOUGH || new Set(texts).size <= texts.length * DIFFERENT;
}

const CODE_WORDS = /\b(?:account|acct|konto|compte|code|no|nr|number|nummer|numéro|id|plz|zip)\b/;

/** Whether whole numbers only name what a column of texts names, too: the same text with each. */
function haveNames(
  { reading, sample }: UnderstoodTable,
  free: readonly number[],
  column: number,
): boolean {
  const cellsOf = (at: number): string[] => sample.map(({ cells }) => String(cells[at] ?? ''));
  const numbers = cellsOf(column);
  if (numbersIn(numbers, reading.decimal) !== 'whole') return false;
  const different = new Set(numbers.filter((text) => text !== '')).size;
  return free.some((other) => {
    const texts = cellsOf(other);
    if (numbersIn(texts, reading.decimal) !== 'none') return false;
    const both = numbers.flatMap((text, row) =>
      text === '' || texts[row] === '' ? [] : [JSON.stringify([text, texts[row]])],
    );
    const pairs = new Set(both).size;
    return pairs > 1 && pairs === different && new Set(texts.filter(Boolean)).size >= different;
  });
}

/**
 * Which columns hold amounts that no heading names: the only column with fractions is what was
 * sold for, the only one of whole numbers that come again is how many. With two it is asked.
 */
function guessed(table: UnderstoodTable, free: readonly number[]): Record<string, number> {
  const { reading, sample } = table;
  const areCodes = (column: number): boolean =>
    CODE_WORDS.test(plainHeading(reading.header[column] ?? '')) || haveNames(table, free, column);
  const of = (wanted: 'whole' | 'amounts'): number[] =>
    free.filter((column) => {
      const cells = sample.map((row) => row.cells[column] ?? '');
      return (
        numbersIn(cells, reading.decimal) === wanted &&
        (wanted !== 'whole' || (comesAgain(cells) && !areCodes(column)))
      );
    });
  const found: Record<string, number> = {};
  for (const [field, columns] of [
    ['net amount', of('amounts')],
    ['quantity', of('whole')],
  ] as const) {
    const [only] = columns;
    if (only !== undefined && columns.length === 1 && reading.columns[field] === null) {
      found[field] = only;
    }
  }
  return found;
}

const CURRENCIES: ReadonlySet<string> = new Set(Intl.supportedValuesOf('currency'));
/** Whether a column only says in which currency the amounts are. */
function areCurrencies(cells: readonly Cell[]): boolean {
  return filled(cells).every((text) => CURRENCIES.has(text.toUpperCase()));
}

/** The columns that seem to cut sales: texts whose values come again. */
function proposed(table: UnderstoodTable, free: readonly number[]): FirstFileChoice['dimensions'] {
  const { reading, sample } = table;
  return free
    .filter((column) => {
      const cells = sample.map((row) => row.cells[column] ?? '');
      const some = filled(cells).length > 0 && plainHeading(reading.header[column] ?? '') !== '';
      const kind = numbersIn(cells, reading.decimal);
      if (!some || kind === 'amounts' || !comesAgain(cells) || areCurrencies(cells)) return false;
      return !haveNames(table, free, column);
    })
    .slice(0, MOST_DIMENSIONS)
    .map((column) => ({ column, name: nameOf(reading.header[column] ?? '') }));
}

/** How fractions are written in columns that no heading names; undefined where none tells. */
function decimalIn(
  { sample }: UnderstoodTable,
  free: readonly number[],
): Reading['decimal'] | undefined {
  const texts = sample.flatMap(({ cells }) =>
    free.flatMap((column) => {
      const cell = cells[column] ?? '';
      return typeof cell === 'string' && AMOUNT.test(cell) ? [cell] : [];
    }),
  );
  return decimalSignOf(texts);
}
const AMOUNT = /^[-+(]?[\d.,'’\s]*\d\)?-?$/;

/** Dimensions with codes of their own: two columns of one name are told apart. */
function withCodes(list: readonly FirstDimensionChoice[]): FirstDimension[] {
  const taken = new Set(importFields('sales', []).map(({ key }) => key));
  return list.map((said) => {
    const { name } = said;
    const wanted = codeOf(name) || 'dimension';
    let code = wanted;
    for (let more = 2; taken.has(code); more += 1) code = `${wanted}-${more}`;
    taken.add(code);
    const of = 'column' in said ? { column: said.column } : { value: said.value };
    return { column: null, value: null, ...of, code, name };
  });
}

const columnOf = (said: FirstDimensionChoice): number | null =>
  'column' in said ? said.column : null;
const asDimension = ({ code, name }: FirstDimension) => ({ code, name, members: [] });

/**
 * Opens a first file, understands it by what was said of it, and lets go of it when the work is done.
 * @throws HttpProblem 400 or 413 for what is no table
 */
export async function withFirstFile<T>(
  chunks: AsyncIterable<Buffer>,
  fileName: string,
  choice: FirstFileChoice,
  work: (first: FirstFile) => Promise<T>,
): Promise<T> {
  const { dimensions: said, ...reading } = choice;
  const file = await openTableFile(chunks, reading);
  try {
    const plain = importFields('sales', []);
    // What is a dimension is none of the fields of a line.
    const columns = Object.fromEntries(
      Object.entries(reading.columns ?? {}).filter(([key]) => plain.some((f) => f.key === key)),
    );
    const told = reading.columns ? { ...reading, columns } : reading;
    const understood = await understand(file, fileName, plain, told, customsOf('en'));
    const { header, shape } = understood.reading;
    const months = shape === 'wide' ? monthColumns(header) : new Map<number, string>();
    const freeOf = (held: Readonly<Record<string, number | null>>): number[] => {
      const taken = new Set([...Object.values(held), ...(said ?? []).map(columnOf)]);
      return header.flatMap((_, place) => (taken.has(place) || months.has(place) ? [] : [place]));
    };
    const tells = reading.decimal !== undefined || understood.detected.includes('decimal');
    const decimal = tells
      ? understood.reading.decimal
      : (decimalIn(understood, freeOf(understood.reading.columns)) ?? understood.reading.decimal);
    const table = { ...understood, reading: { ...understood.reading, decimal } };
    const found = reading.columns ? {} : guessed(table, freeOf(table.reading.columns));
    const held = { ...table.reading.columns, ...found };
    const chosen = (said ?? proposed(table, freeOf(held)) ?? []).filter((one) => {
      const column = columnOf(one);
      return column === null || (column < table.reading.header.length && !months.has(column));
    });
    const dimensions = withCodes(chosen);
    const byColumn = new Set(dimensions.map(({ column }) => column));
    const constants = dimensions.flatMap(({ code, value }) =>
      value === null ? [] : [[code, value]],
    );
    const read: Reading = {
      ...table.reading,
      columns: {
        ...Object.fromEntries(
          Object.entries(held).map(([key, at]) => [
            key,
            at !== null && byColumn.has(at) ? null : at,
          ]),
        ),
        ...Object.fromEntries(dimensions.map(({ code, column }) => [code, column])),
      },
      constants: { ...table.reading.constants, ...Object.fromEntries(constants) },
    };
    const fields = importFields('sales', dimensions.map(asDimension));
    return await work({
      reading: read,
      fields,
      dimensions,
      missing: missingFields(fields, read),
      detected: table.detected,
      sheets: file.sheets,
      table,
    });
  } finally {
    await file.close();
  }
}

/** A member with every way in which it is spelled, and how often. */
interface FirstMember {
  readonly code: string;
  readonly spellings: Map<string, number>;
}

/** The usual spelling: of two that are as frequent, the one that begins with a capital. */
function usualOf({ spellings }: FirstMember): string {
  const capital = (text: string): number => (/^\p{Lu}/u.test(text) ? 1 : 0);
  const [usual] = [...spellings].sort(
    ([a, often], [b, oftenB]) => oftenB - often || capital(b) - capital(a),
  );
  return usual?.[0] ?? '';
}

/** Collects the members of a dimension: one for each value, however it is spelled. */
export class FirstMembers {
  readonly #members = new Map<string, FirstMember>();
  readonly #codes = new Set<string>();

  constructor(readonly dimension: FirstDimension) {}

  get size(): number {
    return this.#members.size;
  }

  add(text: string): void {
    const key = text.toLowerCase();
    const known = this.#members.get(key);
    if (known) {
      known.spellings.set(text, (known.spellings.get(text) ?? 0) + 1);
      return;
    }
    const wanted = memberCode(text) || 'member';
    let code = wanted;
    for (let more = 2; this.#codes.has(code.toLowerCase()); more += 1) code = `${wanted}-${more}`;
    this.#codes.add(code.toLowerCase());
    this.#members.set(key, { code, spellings: new Map([[text, 1]]) });
  }

  /** The dimension as it is brought in, its members in the order of their names. */
  made(): NewDimension {
    const { code, name } = this.dimension;
    const members = [...this.#members.values()]
      .map((member) => ({ code: member.code, name: usualOf(member), parent: null }))
      .sort((a, b) => (a.name < b.name ? -1 : 1));
    return { code, name, members };
  }
}
