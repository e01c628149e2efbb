import { SALES_LINE_FIELDS } from '@dravex/contract';
import type { Dimension } from '@dravex/core';
import { badRequest } from '../platform/errors.ts';
import { openTable, type OpenTable } from './open-table.ts';

/** A row of the file: its cells by field or dimension code, and its number as a person counts. */
export interface FileRow {
  readonly row: number;
  readonly width: number;
  cell(column: string): string;
}

/** A file of sales lines whose header was understood. */
export interface SalesFile extends Pick<OpenTable, 'decimal'> {
  readonly batches: AsyncIterable<readonly FileRow[]>;
  readonly width: number;
}

/** A heading without regard to case and to how its words are joined. */
export function plainHeading(name: string): string {
  return name
    .trim()
    .toLowerCase()
    .replace(/[\s_-]+/g, ' ');
}

/** Which place each field has. @throws HttpProblem 400 naming what is missing */
function columnsOf(
  header: readonly string[],
  dimensions: readonly Dimension[],
): Map<string, number> {
  const places = new Map<string, number>();
  const twice: string[] = [];
  header.forEach((name, place) => {
    const known = plainHeading(name);
    if (places.has(known)) twice.push(known);
    places.set(known, place);
  });
  const found = new Map<string, number>();
  const missing: string[] = [];
  const look = (column: string, names: readonly string[]): void => {
    const place = names.map((name) => places.get(plainHeading(name))).find((p) => p !== undefined);
    if (place === undefined) missing.push(names[0] ?? column);
    else found.set(column, place);
  };
  for (const { code, name } of dimensions) look(code, [name.toLowerCase(), code]);
  for (const field of SALES_LINE_FIELDS) look(field, [field]);
  const names = [...dimensions.map(({ name }) => name.toLowerCase()), ...SALES_LINE_FIELDS];
  if (missing.length === 0) {
    const [doubled] = twice.filter((name) => names.includes(name));
    if (doubled !== undefined) throw badRequest(`The header names "${doubled}" twice`);
    return found;
  }
  if (missing.length > names.length / 2) {
    throw badRequest(
      `The first row is no header of sales lines: it should name ${names.join(', ')}; nothing was taken in`,
    );
  }
  throw badRequest(
    `The header lacks ${missing.map((name) => `"${name}"`).join(' and ')}; add the column and upload the file again`,
    missing.map((name) => ({ path: name, message: 'this column is missing' })),
  );
}

/**
 * Understands a CSV of sales lines: a header in the first row with columns in any order and any
 * case. Rows are read as they are asked for.
 * @throws HttpProblem 400 for a file that is no such thing, saying what and where
 */
export async function readSalesFile(
  chunks: AsyncIterable<Buffer>,
  dimensions: readonly Dimension[],
): Promise<SalesFile> {
  const { header, batches: read, decimal } = await openTable(chunks);
  const columns = columnsOf(header, dimensions);

  async function* batches(): AsyncGenerator<FileRow[]> {
    for await (const rows of read) {
      yield rows.map(({ row, cells }) => ({
        row,
        width: cells.length,
        cell: (column) => cells[columns.get(column) ?? -1] ?? '',
      }));
    }
  }
  return { batches: batches(), width: header.length, decimal };
}
