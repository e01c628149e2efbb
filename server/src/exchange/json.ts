/** Tables in JSON: a list of objects, documents with lines too, or of lists with the header first. */
import { isFormulaError, type Cell } from '@dravex/core';
import { badRequest, tooLarge, type HttpProblem } from '../platform/errors.ts';
import { textOf } from './bytes.ts';
import { MOST_COLUMNS, withinColumns, type RawRow } from './raw-row.ts';

const DEEPEST = 64;
/** Values of a document, lists and objects among them: a parser holds them all at once. */
const MOST_VALUES = 2_000_000;
/** Different names of fields; each takes far more memory than its text. */
const MOST_NAMES = 10_000;
/** More cells than the largest file can honestly have. */
const MOST_CELLS = 20_000_000;

/**
 * Looks at a document before it is parsed, which takes far more memory than the text.
 * @throws HttpProblem 400 or 413 for brackets that lie deeper than any table has them, and for too many values
 */
function mustBeTable(text: string): void {
  let [depth, values, start] = [0, 0, 0];
  const names = new Set<string>();
  let quoted = false;
  for (let at = 0; at < text.length; at += 1) {
    const code = text.charCodeAt(at);
    if (quoted) {
      if (code === 92) at += 1;
      else if (code === 34) quoted = false;
    } else if (code === 34) [quoted, start] = [true, at];
    else if (code === 58) {
      names.add(text.slice(start, at));
      if (names.size > MOST_NAMES) throw tooManyColumns();
    } else if (code === 91 || code === 123) {
      depth += 1;
      values += 1;
      if (depth > DEEPEST) throw badRequest('The JSON is nested too deeply to be a table');
    } else if (code === 93 || code === 125) depth -= 1;
    else if (code === 44) values += 1;
    if (values > MOST_VALUES) tooMany(MOST_VALUES, 'values');
  }
}

function tooMany(most: number, what: string): never {
  throw tooLarge(
    `The JSON comes to more than ${most / 1e6} million ${what}; send as much as CSV, which is read as it comes`,
  );
}

const tooManyColumns = (): HttpProblem =>
  badRequest(`The rows of the JSON name more than the ${MOST_COLUMNS} columns that are read`);

function toCell(value: unknown): Cell {
  if (value === null || value === undefined) return '';
  if (typeof value === 'number') return value;
  if (typeof value === 'string') return value.trim();
  return JSON.stringify(value);
}

type Fields = Record<string, unknown>;

const isObject = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Objects within an object as columns of their own: `{invoice: {no}}` has the column `invoice no`. */
function flat(row: Fields, above = ''): Fields {
  return Object.fromEntries(
    Object.entries(row).flatMap(([key, value]) => {
      const name = above === '' ? key : `${above} ${key}`;
      return isObject(value) ? Object.entries(flat(value, name)) : [[name, value]];
    }),
  );
}

/** The rows of an object: one for each line where it has a list of lines, which bear all the rest. */
function rowsOf(document: Fields, room: number): Fields[] {
  const row = flat(document);
  const lists = Object.entries(row).filter(
    ([, value]) => Array.isArray(value) && value.length > 0 && value.every(isObject),
  );
  const [list] = lists;
  if (!list || lists.length > 1) return [row];
  const [name, lines] = list as [string, Fields[]];
  const { [name]: _, ...rest } = row;
  if (lines.length * Object.keys(rest).length > room) tooMany(MOST_CELLS, 'cells');
  return lines.map((line) => {
    const fieldsOfLine = Object.entries(flat(line)).map(([key, value]) => [
      key in rest ? `${name} ${key}` : key,
      value,
    ]);
    return { ...rest, ...(Object.fromEntries(fieldsOfLine) as Fields) };
  });
}

/** The list in a document: the document itself, or the only list in it. */
function listIn(document: unknown): readonly unknown[] {
  if (Array.isArray(document)) return document;
  if (typeof document === 'object' && document !== null) {
    const lists = Object.values(document).filter(Array.isArray);
    if (lists.length === 1) return lists[0] as unknown[];
  }
  throw badRequest('The JSON holds no list of rows; it should be a list of objects');
}

/**
 * The rows of a JSON document, the header first.
 * @throws HttpProblem 400 or 413
 */
export async function* jsonRows(chunks: AsyncIterable<Buffer>): AsyncGenerator<RawRow[]> {
  let text = '';
  for await (const part of textOf(chunks, 'utf-8')) text += part;
  mustBeTable(text);
  let document: unknown;
  try {
    document = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch {
    throw badRequest(
      'The file starts like JSON and cannot be read as such; it may not be complete',
    );
  }
  const list = listIn(document);
  const objects = list.every(
    (row) => typeof row === 'object' && row !== null && !Array.isArray(row),
  );
  if (!objects) {
    const wrong = list.findIndex((row) => !Array.isArray(row));
    if (wrong >= 0)
      throw badRequest(`Row ${wrong + 1} of the JSON is neither an object nor a list`);
    yield* inBatches(list as unknown[][], 1, (row) => withinColumns(row).map(toCell));
    return;
  }
  let room = MOST_CELLS;
  const rows = (list as Fields[]).flatMap((document) => {
    const made = rowsOf(document, room);
    room -= made.length * Object.keys(made[0] ?? {}).length;
    return made;
  });
  const names = new Set<string>();
  for (const row of rows) {
    for (const name of Object.keys(row)) names.add(name);
    if (names.size > MOST_COLUMNS) throw tooManyColumns();
  }
  const header = [...names];
  if (header.some((name) => isFormulaError(name))) {
    throw badRequest('The rows of the JSON name a column as a spreadsheet names an error');
  }
  if (rows.length * header.length > MOST_CELLS) tooMany(MOST_CELLS, 'cells');
  yield [{ row: 1, cells: header }];
  yield* inBatches(rows, 2, (row) => header.map((name) => toCell(row[name])));
}

/** Rows are handed on so many at a time. */
const AT_ONCE = 2000;

function* inBatches<Row>(
  rows: readonly Row[],
  first: number,
  cellsOf: (row: Row) => Cell[],
): Generator<RawRow[]> {
  for (let start = 0; start < rows.length; start += AT_ONCE) {
    yield rows
      .slice(start, start + AT_ONCE)
      .map((row, place) => ({ row: first + start + place, cells: cellsOf(row) }));
  }
}
