/** A table as it is sent, opened and understood: what its columns hold, and by what its rows are read. */
import {
  importFields,
  type ReadingChoice,
  type Replacement,
  type TableKind,
} from '@dravex/contract';
import { MemberCodes } from '../dimensions/codes.ts';
import { dimensionsOf } from '../dimensions/store.ts';
import { customsOf, understand, type UnderstoodTable } from '../exchange/reading.ts';
import type { Replacements, RowRules } from '../exchange/row-reader.ts';
import { openTableFile } from '../exchange/table-file.ts';
import { calendarOf } from '../plan/calendar.ts';
import type { Actor } from '../people/actor.ts';
import type { Database } from '../platform/database.ts';
import { notFound } from '../platform/errors.ts';
import { workspaceById } from '../workspaces/store.ts';

/** A file as it is sent, and what its sender says of it. */
export interface SentTable<Kind extends TableKind = TableKind> {
  readonly fileName: string;
  readonly kind: Kind;
  readonly reading: ReadingChoice | undefined;
  readonly chunks: AsyncIterable<Buffer>;
  /** For whoever keeps its rows in memory. */
  readonly mostRows?: number;
}

/** Opens a file, understands it, and lets go of it when the work is done. */
export async function withTable<T>(
  db: Database,
  { workspaceId }: Actor,
  { fileName, kind, reading, chunks, mostRows }: SentTable,
  work: (table: UnderstoodTable, sheets: readonly string[]) => Promise<T>,
): Promise<T> {
  const { fields, locale } = await rulesFor(db, workspaceId, kind);
  const file = await openTableFile(chunks, reading ?? {}, mostRows);
  try {
    const table = await understand(file, fileName, fields, reading ?? {}, customsOf(locale));
    return await work(table, file.sheets);
  } finally {
    await file.close();
  }
}

/** By what rows of a kind are read in a workspace, whatever file they stand in. */
export async function rulesFor(
  db: Database,
  workspaceId: number,
  kind: TableKind,
): Promise<Omit<RowRules, 'reading'> & { readonly locale: string }> {
  const workspace = await workspaceById(db, workspaceId);
  if (!workspace) throw notFound('such workspace');
  const dimensions = await dimensionsOf(db, workspaceId);
  return {
    fields: importFields(kind, dimensions),
    codes: new MemberCodes(dimensions),
    calendar: calendarOf(workspace),
    minorDigits: workspace.minorDigits,
    currency: workspace.currencyCode,
    replace: new Map(),
    locale: workspace.locale,
  };
}

/** Values that are read as others, by field, as the row reader wants them. */
export function toReplacements(
  list: readonly Replacement[],
): Pick<RowRules, 'replace' | 'replaceInRow'> {
  const replace = new Map<string, Map<string, string>>();
  const inRow = new Map<number, Map<string, string>>();
  for (const { field, from, to, row } of list) {
    if (row === undefined) replace.set(field, (replace.get(field) ?? new Map()).set(from, to));
    else inRow.set(row, (inRow.get(row) ?? new Map()).set(field, to));
  }
  const fields: Replacements = replace;
  return { replace: fields, ...(inRow.size > 0 ? { replaceInRow: inRow } : {}) };
}
