/** Tables in JSON: a list of objects, documents with lines too, or of lists with the header first. */
import { isFormulaError, type Cell } from '@dravex/core';
import { badRequest, HttpProblem } from '../platform/errors.ts';
import { textOf } from './bytes.ts';
import type { RawRow } from './raw-row.ts';

const LARGEST_JSON = 64 * 1024 ** 2;
const DEEPEST = 64;
/** More cells than the largest file can honestly have. */
const MOST_CELLS = 20_000_000;

/** Whether brackets lie deeper than any table has them; a parser would follow them all. */
function tooDeep(text: string): boolean {
  let depth = 0;
  let quoted = false;
  for (let at = 0; at < text.length; at += 1) {
    const code = text.charCodeAt(at);
    if (quoted) {
      if (code === 92) at += 1;
      else if (code === 34) quoted = false;
    } else if (code === 34) quoted = true;
    else if (code === 91 || code === 123) {
      depth += 1;
      if (depth > DEEPEST) return true;
    } else if (code === 93 || code === 125) depth -= 1;
  }
  return false;
}

function tooMany(): never {
  throw new HttpProblem(
    413,
    'This is too large',
    `The JSON comes to more than ${MOST_CELLS / 1e6} million cells; send as much as CSV, which is read as it comes`,
  );
}

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
  if (lines.length * Object.keys(rest).length > room) tooMany();
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
  for await (const part of textOf(chunks, 'utf-8')) {
    text += part;
    if (text.length > LARGEST_JSON) {
      throw new HttpProblem(
        413,
        'This is too large',
        'The JSON is larger than 64 MB; send as much as CSV, which is read as it comes',
      );
    }
  }
  if (tooDeep(text)) throw badRequest('The JSON is nested too deeply to be a table');
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
    yield (list as unknown[][]).map((row, place) => ({ row: place + 1, cells: row.map(toCell) }));
    return;
  }
  let room = MOST_CELLS;
  const rows = (list as Fields[]).flatMap((document) => {
    const made = rowsOf(document, room);
    room -= made.length * Object.keys(made[0] ?? {}).length;
    return made;
  });
  const header = [...new Set(rows.flatMap((row) => Object.keys(row)))];
  if (header.some((name) => isFormulaError(name)) || header.length > 2000) {
    throw badRequest('The rows of the JSON name more columns than a table has');
  }
  if (rows.length * header.length > MOST_CELLS) tooMany();
  yield [{ row: 1, cells: header }];
  yield rows.map((row, place) => ({
    row: place + 2,
    cells: header.map((name) => toCell(row[name])),
  }));
}
