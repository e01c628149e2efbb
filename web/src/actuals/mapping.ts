/** What a person says of the columns of a file, as the next choice of how it is read. */
import type { Reading, ReadingChoice, TableLook } from '@dravex/contract';

/** A column holds another field, or none: what held the field before holds it no longer. */
export function withColumn(
  { columns }: Pick<Reading, 'columns'>,
  column: number,
  field: string,
): Pick<ReadingChoice, 'columns'> {
  const next: Record<string, number | null> = { ...columns };
  for (const [key, at] of Object.entries(next)) if (at === column) next[key] = null;
  if (field !== '') next[field] = column;
  return { columns: next };
}

/** A field has one value in every row; nothing takes it back. */
export function withConstant(
  { constants }: Pick<Reading, 'constants'>,
  key: string,
  value: string | null,
): Pick<ReadingChoice, 'constants'> {
  const { [key]: _, ...others } = constants;
  const text = value?.trim() ?? '';
  return { constants: text === '' ? others : { ...others, [key]: text } };
}

/** All of a reading that holds for the next file of the same form, to be kept under a name. */
export function lastingChoice({ reading }: Pick<TableLook, 'reading'>): ReadingChoice {
  const { columns, constants, byCustomer, shape, values, fillDown } = reading;
  const { decimal, dates, turn } = reading;
  return { columns, constants, byCustomer, shape, values, fillDown, decimal, dates, turn };
}

/** The names of fields that every row needs and nothing holds. */
export function lackingIn({ fields, missing }: TableLook): string[] {
  return missing.map((key) => fields.find((field) => field.key === key)?.label ?? key);
}

/** So much of a text is enough to say how it is read. */
const HEAD = 256 * 1024;

/** The start of a file that can be read by its start, else the whole. */
export function startOf(sent: File): Blob {
  return /\.(csv|txt|tsv)$/i.test(sent.name) ? sent.slice(0, HEAD) : sent;
}
