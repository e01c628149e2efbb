/** Reads the fields of one row after the other, by a reading, and says what is wrong with them. */
import {
  figureColumn,
  figureNamed,
  LINE_NUMBER_KEYS,
  type ImportField,
  type Reading,
  type RowProblem,
} from '@dravex/contract';
import {
  currencyMark,
  isTotalRow,
  monthColumns,
  numberFault,
  plainHeading,
  readDay,
  readNumber,
  type Calendar,
  type Cell,
} from '@dravex/core';
import type { MemberCodes } from '../dimensions/codes.ts';

const LONGEST_TEXT = 100;
/** What is kept, in a number of smallest parts, stays exact in sums of millions of rows. */
const LARGEST = 1e14;
const SHOWN = LONGEST_TEXT;

/** What values are read as instead, by field. */
export type Replacements = ReadonlyMap<string, ReadonlyMap<string, string>>;

/** What rows are read by and checked against. */
export interface RowRules {
  readonly reading: Reading;
  readonly fields: readonly ImportField[];
  readonly codes: MemberCodes;
  readonly calendar: Calendar;
  readonly minorDigits: number;
  /** The currency's code, such as EUR. */
  readonly currency: string;
  readonly replace: Replacements;
  /** The same for single rows. */
  readonly replaceInRow?: ReadonlyMap<number, ReadonlyMap<string, string>>;
}

/**
 * The row that is being read, with the problems found so far. One object for all rows: a million
 * of them need no more.
 */
export class RowReader {
  problems: RowProblem[] = [];
  /** How many values a replacement changed. */
  replaced = 0;
  row = 0;
  part = -1;
  cells: readonly Cell[] = [];
  readonly #columns: ReadonlyMap<string, number>;
  readonly #constants: ReadonlyMap<string, string>;
  readonly #days = new Map<Cell, string>();
  readonly #above = new Map<string, Cell>();
  readonly #months: ReadonlyMap<number, string>;
  readonly #sign: ReadonlyMap<string, number>;
  /** Which column is taken from a field. */
  readonly #less: ReadonlyMap<string, string>;
  /** Where the number of a row is, where the row says which number it is. */
  readonly #figure: string | undefined;
  /** The columns that are taken in: those of fields and those of months. */
  readonly #held: readonly number[];
  /** How the currency of the workspace may be marked. */
  readonly #marks: ReadonlySet<string>;

  constructor(readonly rules: RowRules) {
    const { reading } = rules;
    this.#columns = new Map(
      Object.entries(reading.columns).flatMap(([key, column]) =>
        column === null ? [] : [[key, column]],
      ),
    );
    this.#constants = new Map(Object.entries(reading.constants));
    this.#figure = figureColumn(reading);
    this.#months = reading.shape === 'wide' ? monthColumns(reading.header) : new Map();
    this.#held = [...this.#columns.values(), ...this.#months.keys()];
    const { currency } = rules;
    const format = { style: 'currency', currency, currencyDisplay: 'narrowSymbol' } as const;
    const sign = new Intl.NumberFormat('en', format)
      .formatToParts(1)
      .find(({ type }) => type === 'currency')?.value;
    this.#marks = new Set([currency, ...(sign === undefined ? [] : [sign])]);
    this.#sign = new Map(reading.turn.map((field) => [field, -1]));
    this.#less = new Map(
      rules.fields.flatMap(({ key, less }) =>
        less !== undefined && this.#columns.has(less) ? [[key, less]] : [],
      ),
    );
  }

  /** The parts of a row that are read on their own: -1, or the columns of its months. */
  partsOf(cells: readonly Cell[]): readonly number[] {
    if (this.rules.reading.shape === 'long') return WHOLE;
    return [...this.#months.keys()].filter((column) => (cells[column] ?? '') !== '');
  }

  /**
   * Whether nothing that is taken in stands in a row: what is left of it, such as a currency that
   * is repeated, makes no line.
   */
  isBlank(cells: readonly Cell[]): boolean {
    const empty = (column: number): boolean => (cells[column] ?? '') === '';
    return this.#held.every(empty);
  }

  begin(cells: readonly Cell[], row: number, part: number): void {
    this.cells = cells;
    this.row = row;
    this.part = part;
    if (this.problems.length > 0) this.problems = [];
    if (this.rules.reading.fillDown) this.#fillDown();
  }

  #fillDown(): void {
    const filled = [...this.cells];
    for (const { key, content } of this.rules.fields) {
      const column = this.#columns.get(key);
      if (column === undefined || (content !== 'member' && content !== 'day')) continue;
      const cell = filled[column] ?? '';
      if (cell === '') filled[column] = this.#above.get(key) ?? '';
      else this.#above.set(key, cell);
    }
    this.cells = filled;
  }

  refuse(field: string, code: RowProblem['code'], message: string, value = this.text(field)): void {
    this.problems.push({ row: this.row, field, value: value.slice(0, SHOWN), code, message });
  }

  /**
   * Whether the row has the cells that the header has. Empty ones more do no harm, and workbooks
   * leave empty ones out.
   */
  fits(): boolean {
    const { format, header } = this.rules.reading;
    const { length } = this.cells;
    if (length === header.length) return true;
    if (length > header.length) {
      for (let at = header.length; at < length; at += 1)
        if (this.cells[at] !== '') return this.#misfit();
      return true;
    }
    return format === 'csv' ? this.#misfit() : true;
  }

  #misfit(): false {
    const wanted = this.rules.reading.header.length;
    const message = `The row has ${this.cells.length} columns, the header ${wanted}`;
    this.problems.push({ row: this.row, field: '', value: '', code: 'wrong-columns', message });
    return false;
  }

  /** Whether a column, a value for all rows or a month across holds the field. */
  holds(field: string): boolean {
    return this.#columns.has(field) || this.#constants.has(field) || this.#inPart(field);
  }

  #inPart(field: string): boolean {
    return this.part >= 0 && field === this.rules.reading.values;
  }

  cell(field: string): Cell {
    const column = this.#inPart(field) ? this.part : this.#columns.get(field);
    let cell =
      column === undefined ? (this.#constants.get(field) ?? '') : (this.cells[column] ?? '');
    if (typeof cell === 'string') cell = cell.trim();
    const { replace, replaceInRow } = this.rules;
    if (replace.size === 0 && !replaceInRow) return cell;
    const to = replaceInRow?.get(this.row)?.get(field) ?? replace.get(field)?.get(String(cell));
    if (to === undefined) return cell;
    this.replaced += 1;
    return to;
  }

  text(field: string): string {
    return String(this.cell(field));
  }

  /** A text that is kept; what is too long is refused. */
  keptText(field: string): string {
    const text = this.text(field);
    if (text.length > LONGEST_TEXT) {
      this.refuse(field, 'too-large', `${field} has more than ${LONGEST_TEXT} characters`);
    }
    return text;
  }

  /** A day within the calendar, as ISO text. */
  day(field: string, needed = true): string {
    if (this.part >= 0 && field === 'date')
      return this.#checkedDay(this.#months.get(this.part) ?? '');
    const cell = this.cell(field);
    const dayBefore = this.#days.get(cell);
    if (dayBefore !== undefined) return dayBefore;
    if (cell === '') {
      if (needed) this.refuse(field, 'missing-value', `${field} is missing`);
      return '';
    }
    const day = readDay(cell, this.rules.reading.dates);
    if (day === undefined) {
      this.refuse(
        field,
        'impossible-date',
        `"${String(cell).slice(0, 40)}" is not a day from 1990 to 2100; write it as 2026-10-12`,
      );
      return '';
    }
    const before = this.problems.length;
    const checked = field === 'date' ? this.#checkedDay(day) : day;
    if (this.problems.length === before) this.#days.set(cell, checked);
    return checked;
  }

  #checkedDay(text: string): string {
    const day = text.length === 7 ? `${text}-01` : text;
    const { first, last } = this.rules.calendar;
    if (day < `${first}-01`) {
      this.refuse('date', 'outside-calendar', `${day} is before the first month, ${first}`, day);
    } else if (day.slice(0, 7) > last) {
      this.refuse('date', 'outside-calendar', `${day} is after the last month, ${last}`, day);
    }
    return day;
  }

  /**
   * A number in its smallest parts, less the column that is taken from it, with the sign turned
   * where the reading says so.
   * @param needed an empty cell is refused, where there are two both empty; else it is 0
   */
  number(field: string, digits: number, needed: boolean): number {
    const sign = this.#sign.get(field) ?? 1;
    if (this.#figure !== undefined && LINE_NUMBER_KEYS.has(field)) {
      const here = figureNamed(this.text('figure')) === field;
      return here ? this.#one(this.#figure, digits, true) * sign || 0 : 0;
    }
    const less = this.#less.get(field);
    if (less === undefined) return this.#one(field, digits, needed) * sign || 0;
    const alone = (this.cells[this.#columns.get(less) ?? -1] ?? '') === '';
    const more = this.#one(field, digits, needed && alone);
    return (more - this.#one(less, digits, false)) * sign || 0;
  }

  #one(field: string, digits: number, needed: boolean): number {
    const cell = this.cell(field);
    if (cell === '') {
      if (needed) this.refuse(field, 'missing-value', `${field} is missing`);
      return 0;
    }
    const { decimal } = this.rules.reading;
    const parts = readNumber(cell, decimal, digits);
    if (Number.isNaN(parts)) {
      this.#refuseNumber(field, cell, digits);
      return 0;
    }
    const mark = currencyMark(cell);
    if (mark !== undefined && !this.#marks.has(mark)) {
      const { currency } = this.rules;
      this.refuse(
        field,
        'other-currency',
        `"${String(cell).slice(0, 40)}" is in another currency than ${currency}`,
      );
      return 0;
    }
    if (!(Math.abs(parts) <= LARGEST)) {
      this.refuse(field, 'too-large', `${String(cell).slice(0, 40)} is more than can be kept`);
      return 0;
    }
    return parts;
  }

  #refuseNumber(field: string, cell: Cell, digits: number): void {
    const { decimal } = this.rules.reading;
    const shown = `"${String(cell).slice(0, 40)}"`;
    switch (numberFault(cell, decimal)) {
      case 'formula-error':
        this.refuse(
          field,
          'formula-error',
          cell === '#NO RESULT!'
            ? `${field} is a formula without a result; open the workbook, save it and upload it again`
            : `The formula of ${field} ended with the error ${String(cell)}`,
        );
        break;
      case 'other-style':
        this.refuse(
          field,
          'other-style',
          `${shown} is written with another decimal sign than "${decimal}", which this file uses`,
        );
        break;
      default:
        this.refuse(
          field,
          'not-a-number',
          digits === 0
            ? `${shown} is not a whole number`
            : `${shown} is not a number with up to ${digits} decimals`,
        );
    }
  }

  /** Refuses a row whose figure is none of a line. */
  mustNameFigure(): void {
    if (this.#figure === undefined) return;
    const text = this.text('figure');
    if (figureNamed(text) !== undefined) return;
    this.refuse(
      'figure',
      'unknown-figure',
      `"${text.slice(0, 40)}" is neither a quantity, a net amount nor a cost`,
    );
  }

  /** Whether the row is a total of others. */
  isTotal(): boolean {
    return isTotalRow(this.cells);
  }

  /** What the row is where it is no row of the table at all: a total, or the header once more. */
  explained(): RowProblem[] {
    const { header } = this.rules.reading;
    const problemHere = (code: RowProblem['code'], message: string): RowProblem[] => [
      { row: this.row, field: '', value: '', code, message },
    ];
    if (this.isTotal()) return problemHere('totals-row', 'The row is a total of other rows');
    const again = header.filter((name) => name !== '').length;
    const same = header.filter(
      (name, at) =>
        name !== '' && plainHeading(String(this.cells[at] ?? '')) === plainHeading(name),
    ).length;
    if (again > 1 && same === again)
      return problemHere('header-again', 'The header stands here once more');
    return this.problems;
  }
}

const WHOLE = [-1];
