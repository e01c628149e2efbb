import type { ImportNotes, RowProblem } from '@dravex/contract';

/** The kinds of problems of rows, as a heading says them. */
export const PROBLEM_KINDS: Record<RowProblem['code'], string> = {
  'unknown-code': 'unknown code',
  'not-a-leaf': 'group instead of a member',
  'missing-value': 'missing value',
  'unassigned-customer': 'customer not assigned',
  'unreadable-seller': 'seller not readable',
  'unknown-figure': 'unknown figure',
  'impossible-date': 'impossible date',
  'outside-calendar': 'date outside the calendar',
  'not-a-number': 'not a number',
  'other-style': 'another decimal sign',
  'other-currency': 'another currency',
  'formula-error': 'formula error',
  'too-large': 'too large',
  'repeated-line': 'repeated document line',
  'already-there': 'imported before',
  overlapping: 'overlaps another subscription',
  'wrong-columns': 'wrong number of columns',
  'totals-row': 'subtotal row',
  'header-again': 'repeated header row',
  'outside-validity': 'member not valid on that date',
  'unusual-price': 'unusual price',
  'left-out': 'excluded by hand',
};

/** `1 row`, `12 rows` */
export const rowsInWords = (count: number): string => (count === 1 ? '1 row' : `${count} rows`);

/** Problems that a value in place of another one mends. */
export const REPAIRABLE: ReadonlySet<RowProblem['code']> = new Set([
  'unknown-code',
  'not-a-leaf',
  'missing-value',
  'unassigned-customer',
  'unreadable-seller',
  'unknown-figure',
  'impossible-date',
  'outside-calendar',
  'not-a-number',
  'other-style',
  'other-currency',
  'formula-error',
]);

/** A number field whose amounts bear the ledger's sign, as far as can be seen. */
export interface SignProposal {
  readonly field: 'net amount' | 'quantity';
  readonly text: string;
}

/** What to do about signs: turn them when most are negative, say they are credits when some are. */
export function signsOf(notes: ImportNotes): { turn: SignProposal[]; credits: string } {
  const turn: SignProposal[] = [];
  const mostly = (negative: number, all: number): boolean => all > 0 && negative * 2 > all;
  if (mostly(notes.negative, notes.amounts)) {
    turn.push({
      field: 'net amount',
      text: `${notes.negative} of ${notes.amounts} amounts are negative, as in a ledger`,
    });
  }
  if (mostly(notes.negativeQuantities, notes.quantities)) {
    turn.push({
      field: 'quantity',
      text: `${notes.negativeQuantities} of ${notes.quantities} quantities are negative`,
    });
  }
  const few = notes.negative > 0 && !mostly(notes.negative, notes.amounts);
  const credits = few
    ? `${notes.negative} ${notes.negative === 1 ? 'row has a negative amount and counts as a credit' : 'rows have negative amounts and count as credits'}.`
    : '';
  return { turn, credits };
}

const FIELD_NAMES: Readonly<Record<string, string>> = {
  quantity: 'quantity (units are 0)',
  'net amount': 'net amount (revenue is 0)',
  cost: 'cost (it is 0)',
  document: 'document (rows are identified by file and row number)',
};

/** What a file does not hold, and what that means. */
export function withoutInWords(notes: ImportNotes): string {
  const names = notes.without.map((field) => FIELD_NAMES[field] ?? field);
  return names.length === 0 ? '' : `No column for ${names.join('; no column for ')}.`;
}
