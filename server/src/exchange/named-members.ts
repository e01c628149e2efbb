import type { RowReader } from './row-reader.ts';

/** The members that a row names, at most one a dimension, of any depth; an empty cell is no limit. */
export function namedMembers(reader: RowReader): number[] {
  const { codes } = reader.rules;
  return codes.dimensions.flatMap(({ code, name }) => {
    const text = reader.text(code);
    if (text === '') return [];
    const id = codes.find(code, text);
    if (id !== undefined) return [id];
    reader.refuse(code, 'unknown-code', `"${text.slice(0, 40)}" is not a code of ${name}`);
    return [];
  });
}
