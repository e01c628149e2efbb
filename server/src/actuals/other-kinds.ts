/** What else happened besides sales: measured facts, the ledger's history, subscribers. */
import type { ImportKind } from '@dravex/contract';
import { namedMembers } from '../exchange/named-members.ts';
import type { RowReader } from '../exchange/row-reader.ts';
import { copyField, copyOptional } from '../platform/copy.ts';

/** How rows of a kind are checked and kept. */
export interface OtherKind {
  /** `table (column, …)`; the first three columns are workspace, batch and row. */
  readonly target: string;
  /** The other columns as COPY has them; what is wrong is told to the reader. */
  line(reader: RowReader): string;
}

const DIGITS = 6;
const REVENUE = /^(?:r|rev|revenue|income|sales|ertrag|erlös|credit|c|h)\b/i;
const EXPENSE = /^(?:e|exp|expense|cost|aufwand|kosten|debit|d|s)\b/i;

/** The smallest parts as a decimal text. */
function decimal(parts: number, digits: number): string {
  return (parts / 10 ** digits).toFixed(digits);
}

function firstOfMonth(day: string): string {
  return day === '' ? '' : `${day.slice(0, 7)}-01`;
}

function needed(reader: RowReader, field: string): string {
  const text = reader.keptText(field);
  if (text === '') reader.refuse(field, 'missing-value', `${field} is missing`);
  return text;
}

export const OTHER_KINDS: Readonly<Record<Exclude<ImportKind, 'sales'>, OtherKind>> = {
  facts: {
    target: 'observation (workspace_id, batch_id, row, measure, members, month, value)',
    line: (reader) => {
      const month = firstOfMonth(reader.day('date'));
      const measure = needed(reader, 'measure');
      const scope = namedMembers(reader);
      const value = reader.number('value', DIGITS, true);
      return `${copyField(measure)}\t{${scope.join()}}\t${month}\t${decimal(value, DIGITS)}`;
    },
  },
  ledger: {
    target: 'ledger_amount (workspace_id, batch_id, row, account, name, kind, month, amount)',
    line: (reader) => {
      const month = firstOfMonth(reader.day('date'));
      const account = needed(reader, 'account');
      const name = reader.keptText('account name');
      const type = reader.text('type');
      const kind = REVENUE.test(type) ? 'revenue' : EXPENSE.test(type) ? 'expense' : '';
      if (type !== '' && kind === '') {
        reader.refuse(
          'type',
          'unknown-code',
          `"${type.slice(0, 40)}" is neither revenue nor expense`,
        );
      }
      const amount = reader.number('value', reader.rules.minorDigits, true);
      return `${copyField(account)}\t${copyField(name)}\t${copyOptional(kind)}\t${month}\t${amount}`;
    },
  },
  subscribers: {
    target: 'subscriber (workspace_id, batch_id, row, code, members, start, "end")',
    line: (reader) => {
      const code = needed(reader, 'subscriber');
      const start = reader.day('start');
      const end = reader.day('end', false);
      if (start !== '' && end !== '' && end < start) {
        reader.refuse('end', 'impossible-date', `It ends on ${end}, before it starts`);
      }
      const scope = namedMembers(reader);
      return `${copyField(code)}\t{${scope.join()}}\t${start}\t${copyOptional(end)}`;
    },
  },
};
