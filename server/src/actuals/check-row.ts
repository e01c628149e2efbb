import type { RowProblem } from '@dravex/contract';
import type { Calendar } from '@dravex/core';
import type { MemberCodes } from '../dimensions/codes.ts';
import type { FileRow } from './read-file.ts';

/** A good row, ready to be kept. Money in minor units, quantity as its decimal text. */
export interface CheckedLine {
  readonly row: number;
  readonly date: string;
  readonly members: readonly number[];
  readonly quantity: string;
  readonly netAmount: number;
  readonly cost: number;
  readonly document: string;
  readonly lineNumber: number;
  readonly customer: string | null;
  readonly seller: string | null;
}

/** What rows are checked against. */
export interface RowRules {
  readonly codes: MemberCodes;
  readonly calendar: Calendar;
  readonly minorDigits: number;
  readonly decimal: '.' | ',';
  readonly width: number;
}

const LONGEST_TEXT = 100;

/** A decimal as a whole number of its smallest parts, exactly; `undefined` when it is none. */
function decimalParts(text: string, decimal: string, digits: number): number | undefined {
  const pattern = decimal === ',' ? /^([+-]?)(\d+)(?:,(\d+))?$/ : /^([+-]?)(\d+)(?:\.(\d+))?$/;
  const match = pattern.exec(text.replace('\u2212', '-'));
  if (!match) return undefined;
  const [, sign, whole = '', fraction = ''] = match;
  if (fraction.replace(/0+$/, '').length > digits) return undefined;
  const parts = Number(whole + fraction.slice(0, digits).padEnd(digits, '0'));
  return sign === '-' ? -parts : parts;
}

/** Whether a date such as 2025-02-29 exists. */
function dayExists(text: string): boolean {
  const match = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  if (!match) return false;
  const date = new Date(`${text}T00:00:00Z`);
  return !Number.isNaN(date.getTime()) && date.toISOString().startsWith(text);
}

/** Checks one row after the other. */
export class RowCheck {
  constructor(private readonly rules: RowRules) {}

  /** The row as a line, or everything that is wrong with it. */
  check(row: FileRow): CheckedLine | RowProblem[] {
    const problems: RowProblem[] = [];
    const refuse = (field: string, code: RowProblem['code'], message: string): void => {
      problems.push({ row: row.row, field, value: row.cell(field).slice(0, 80), code, message });
    };
    if (row.width !== this.rules.width) {
      refuse(
        '',
        'wrong-columns',
        `The row has ${row.width} columns, the header ${this.rules.width}`,
      );
      return problems;
    }
    const date = this.#date(row, refuse);
    const { members, problems: unknown } = this.rules.codes.leaves((code) => row.cell(code));
    for (const { dimension, code, message } of unknown) refuse(dimension, code, message);
    const quantity = this.#number(row, 'quantity', 3, refuse);
    const netAmount = this.#number(row, 'net amount', this.rules.minorDigits, refuse);
    const cost = this.#number(row, 'cost', this.rules.minorDigits, refuse);
    const document = this.#text(row, 'document', refuse) ?? '';
    if (document === '') refuse('document', 'missing-value', 'document is missing');
    const lineNumber = this.#number(row, 'line number', 0, refuse);
    if (lineNumber !== undefined && (lineNumber < 1 || lineNumber > 2_000_000_000)) {
      refuse('line number', 'not-a-number', 'a line number is a whole number from 1 on');
    }
    const customer = this.#text(row, 'customer', refuse);
    const seller = this.#text(row, 'seller', refuse);
    if (problems.length > 0) return problems;
    return {
      row: row.row,
      date,
      members,
      quantity: String((quantity ?? 0) / 1000),
      netAmount: netAmount ?? 0,
      cost: cost ?? 0,
      document,
      lineNumber: lineNumber ?? 0,
      customer: customer || null,
      seller: seller || null,
    };
  }

  #date(row: FileRow, refuse: Refuse): string {
    const text = row.cell('date');
    const { first, asOf } = this.rules.calendar;
    if (text === '') refuse('date', 'missing-value', 'date is missing');
    else if (!dayExists(text)) {
      refuse('date', 'impossible-date', `"${text}" is not a day; write it as 2026-10-12`);
    } else if (text < `${first}-01`) {
      refuse('date', 'outside-calendar', `${text} is before the first month, ${first}`);
    } else if (text > asOf) {
      refuse('date', 'outside-calendar', `${text} is after the as-of date, ${asOf}`);
    }
    return text;
  }

  #number(row: FileRow, field: string, digits: number, refuse: Refuse): number | undefined {
    const text = row.cell(field);
    if (text === '') {
      refuse(field, 'missing-value', `${field} is missing`);
      return undefined;
    }
    const parts = decimalParts(text, this.rules.decimal, digits);
    if (parts === undefined) {
      const form = digits === 0 ? 'a whole number' : `a number with up to ${digits} decimals`;
      refuse(field, 'not-a-number', `"${text.slice(0, 40)}" is not ${form}`);
    } else if (!Number.isSafeInteger(parts) || Math.abs(parts) > 1e14) {
      refuse(field, 'too-large', `${text.slice(0, 40)} is more than can be kept`);
    } else return parts;
    return undefined;
  }

  #text(row: FileRow, field: string, refuse: Refuse): string | undefined {
    const text = row.cell(field);
    if (text.length <= LONGEST_TEXT) return text;
    refuse(field, 'too-large', `${field} has more than ${LONGEST_TEXT} characters`);
    return undefined;
  }
}

type Refuse = (field: string, code: RowProblem['code'], message: string) => void;
