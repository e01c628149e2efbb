/** Checks rows of sales lines. */
import {
  figureColumn,
  LINE_NUMBER_KEYS,
  type ImportNotes,
  type RowProblem,
} from '@dravex/contract';
import { readSellers, type Cell } from '@dravex/core';
import { RowReader, type RowRules } from '../exchange/row-reader.ts';
import { followsCustomer } from '../exchange/reading.ts';
import type { Telling } from '../dimensions/rules.ts';
import type { AssignedMembers } from './store.ts';

/** A good row, ready to be kept. Money in minor units, quantity in thousandths. */
export interface CheckedLine {
  readonly row: number;
  readonly date: string;
  /** One leaf for every dimension. */
  readonly members: readonly number[];
  readonly quantity: number;
  readonly netAmount: number;
  readonly cost: number;
  readonly document: string;
  readonly lineNumber: number;
  readonly customer: string;
  readonly seller: string;
}

export interface SalesRules extends RowRules {
  /** What rows without a document are called; it must not be used before. */
  readonly document: string;
  /** The usual price of a unit in minor units, by the members' ids joined by commas. */
  readonly usualPrice: ReadonlyMap<string, number>;
  /** What customers belong to, where a file does not say it. */
  readonly assigned: AssignedMembers;
  /** What says the members of a dimension from those of the others, where a file does not. */
  readonly told: ReadonlyMap<string, Telling>;
  /** When members may be named; those without bounds are not here. */
  readonly validity: ReadonlyMap<
    number,
    { readonly from: string | null; readonly to: string | null }
  >;
}

/** A price so many times the usual one, or less than this part of it, is worth a look. */
const UNUSUAL = 5;
const QUANTITY_DIGITS = 3;
const LAST_LINE = 2_000_000_000;

type Resolved = { readonly id: number; readonly problem: null } | Fault;
interface Fault {
  readonly id: null;
  readonly problem: { readonly code: RowProblem['code']; readonly message: string };
}

interface OneDimension {
  readonly code: string;
  readonly known: Map<string, Resolved>;
  /** What customers belong to, where that can say the member. */
  readonly customers: ReturnType<AssignedMembers['get']>;
}

/** Checks one row after the other, and counts what is worth knowing of the good ones. */
export class SalesCheck {
  readonly reader: RowReader;
  /** Of the good row that was checked last: what is unusual in it. */
  unusual: RowProblem | undefined;
  readonly counts = { closed: 0, negative: 0, amounts: 0, negativeQuantities: 0, quantities: 0 };
  readonly #members: readonly OneDimension[];

  constructor(private readonly rules: SalesRules) {
    this.reader = new RowReader(rules);
    this.#members = rules.codes.dimensions.map(({ code }) => ({
      code,
      known: new Map(),
      customers:
        rules.assigned.get(code) ??
        (followsCustomer(rules.reading, code) ? new Map<string, never>() : undefined),
    }));
  }

  /** The row, or the part of a wide one, as a line; or everything that is wrong with it. */
  check(cells: readonly Cell[], row: number, part: number): CheckedLine | RowProblem[] {
    const { reader, rules } = this;
    reader.begin(cells, row, part);
    if (!reader.fits()) return reader.explained();
    const date = reader.day('date');
    const members = this.#leaves(date);
    reader.mustNameFigure();
    const quantity = reader.number('quantity', QUANTITY_DIGITS, reader.holds('quantity'));
    const netAmount = reader.number('net amount', rules.minorDigits, reader.holds('net amount'));
    const cost = reader.number('cost', rules.minorDigits, reader.holds('cost'));
    let document = reader.keptText('document');
    let lineNumber: number;
    if (reader.holds('document')) {
      if (document === '') reader.refuse('document', 'missing-value', 'document is missing');
      // Quantity and amount of one document line are rows of their own: the row tells them apart.
      const numbered = reader.holds('line number') && figureColumn(rules.reading) === undefined;
      lineNumber = numbered ? reader.number('line number', 0, true) : row;
      if (lineNumber < 1 || lineNumber > LAST_LINE) {
        if (reader.text('line number') !== '') {
          reader.refuse('line number', 'not-a-number', 'a line number is a whole number from 1 on');
        }
      }
    } else {
      document = rules.document;
      // A wide row is many lines, each with a number of its own: the same when it is checked again.
      lineNumber = part < 0 ? row : row * rules.reading.header.length + part;
      if (lineNumber > LAST_LINE) {
        reader.refuse('document', 'too-large', 'The file has more lines than can be kept', '');
      }
    }
    const customer = reader.keptText('customer');
    const sellers = readSellers(reader.keptText('seller'));
    if ('wrong' in sellers) reader.refuse('seller', 'unreadable-seller', sellers.wrong);
    const seller = 'kept' in sellers ? sellers.kept : '';
    if (reader.problems.length > 0) return reader.explained();
    this.#count(date, quantity, netAmount);
    this.#look(members, quantity, netAmount);
    return {
      row,
      date,
      members,
      quantity,
      netAmount,
      cost,
      document,
      lineNumber,
      customer,
      seller,
    };
  }

  /** One leaf for every dimension; fewer where some cannot be told. */
  #leaves(date: string): number[] {
    const { rules, reader } = this;
    // What follows from other dimensions is looked for when these are known.
    const follows = ({ code }: OneDimension): boolean =>
      rules.told.has(code) && reader.text(code) === '';
    const found = this.#members.map((one) => (follows(one) ? null : this.#member(one, date)));
    const known = found.filter((id) => id !== null);
    this.#members.forEach((one, place) => {
      if (!follows(one)) return;
      found[place] = rules.told.get(one.code)?.(known) ?? this.#member(one, date);
    });
    return found.flatMap((id, place) => {
      if (id === null) return [];
      if (rules.validity.size > 0) this.#mustBeValid(this.#members[place]?.code ?? '', id, date);
      return [id];
    });
  }

  #member(dimension: OneDimension, date: string): number | null {
    const text = this.reader.text(dimension.code);
    const { customers } = dimension;
    const customer = this.reader.text('customer');
    if (text === '' && customers && customer !== '') {
      const assigned = customers.get(customer)?.find(({ from }) => from <= date);
      if (assigned) return assigned.member;
      const name = this.rules.codes.nameOf(dimension.code);
      const message = `${name} is missing, and customer "${customer}" is not assigned to one`;
      this.reader.refuse(dimension.code, 'unassigned-customer', message, customer);
      return null;
    }
    let resolved = dimension.known.get(text);
    if (!resolved) {
      const { id, problem } = this.rules.codes.leaf(dimension.code, text);
      resolved = problem ? { id: null, problem } : { id: id ?? 0, problem: null };
      dimension.known.set(text, resolved);
    }
    if (resolved.problem) {
      const { code, message } = resolved.problem;
      this.reader.refuse(dimension.code, code, message, text);
    }
    return resolved.id;
  }

  #mustBeValid(dimension: string, id: number, date: string): void {
    const bounds = this.rules.validity.get(id);
    if (!bounds || date === '') return;
    const early = bounds.from !== null && date < bounds.from;
    const late = bounds.to !== null && date > bounds.to;
    if (!early && !late) return;
    const { name } = this.rules.codes.tree.member(id);
    this.reader.refuse(
      dimension,
      'outside-validity',
      early
        ? `${name} is valid from ${bounds.from ?? ''} on, not on ${date}`
        : `${name} was valid to ${bounds.to ?? ''}, not on ${date}`,
    );
  }

  #count(date: string, quantity: number, netAmount: number): void {
    const { counts } = this;
    if (date.slice(0, 7) <= this.rules.calendar.closedThrough) counts.closed += 1;
    if (netAmount !== 0) counts.amounts += 1;
    if (netAmount < 0) counts.negative += 1;
    if (quantity !== 0) counts.quantities += 1;
    if (quantity < 0) counts.negativeQuantities += 1;
  }

  #look(members: readonly number[], quantity: number, netAmount: number): void {
    this.unusual = undefined;
    if (quantity === 0 || netAmount === 0 || this.rules.usualPrice.size === 0) return;
    const usual = this.rules.usualPrice.get(members.join());
    if (usual === undefined || usual === 0) return;
    const times = Math.abs((netAmount * 1000) / quantity / usual);
    if (times <= UNUSUAL && times >= 1 / UNUSUAL) return;
    const minor = 10 ** this.rules.minorDigits;
    const price = ((netAmount * 1000) / quantity / minor).toFixed(2);
    this.unusual = {
      row: this.reader.row,
      field: 'net amount',
      value: this.reader.text('net amount').slice(0, 80),
      code: 'unusual-price',
      message: `The price of a unit is ${price}, usually it is about ${(usual / minor).toFixed(2)}`,
    };
  }

  /** What is worth knowing of the rows so far. */
  notes(): ImportNotes {
    const { reading } = this.rules;
    const fields = figureColumn(reading) === undefined ? LINE_NUMBER_KEYS : [];
    const without = [...fields, 'document'].filter(
      (field) =>
        reading.columns[field] === null &&
        reading.constants[field] === undefined &&
        reading.values !== field,
    );
    return { ...this.counts, turned: reading.turn, remembered: this.reader.replaced, without };
  }
}
