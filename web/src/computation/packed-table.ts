/** Measured tables on their way from the worker: thousands of cells as two arrays, made when looked at. */
import { valueOrNull } from '@dravex/core';
import type { MeasuredRow, MeasuredTable, TableCell } from '@dravex/core';

type Bare = Omit<MeasuredRow, 'cells' | 'total'>;

/** A table whose numbers stand in arrays: rows and totals one after the other, each with its total last. */
export interface PackedTable {
  readonly columns: MeasuredTable['columns'];
  readonly rows: readonly Bare[];
  readonly totals: readonly Bare[];
  /** NaN is no value. */
  readonly values: Float64Array;
  readonly incomplete: Uint8Array;
}

export function packTable({ columns, rows, totals }: MeasuredTable): PackedTable {
  const all = [...rows, ...totals];
  const wide = columns.length + 1;
  const values = new Float64Array(all.length * wide);
  const incomplete = new Uint8Array(all.length * wide);
  all.forEach(({ cells, total }, row) => {
    for (let column = 0; column < wide; column += 1) {
      const cell = cells[column] ?? total;
      values[row * wide + column] = cell.value ?? Number.NaN;
      incomplete[row * wide + column] = cell.incomplete ? 1 : 0;
    }
  });
  const bare = ({ cells: _, total: __, ...row }: MeasuredRow): Bare => row;
  return { columns, rows: rows.map(bare), totals: totals.map(bare), values, incomplete };
}

/** The table again. Its cells are made one by one when somebody asks for them. */
export function unpackTable(packed: PackedTable): MeasuredTable {
  const wide = packed.columns.length + 1;
  const cellAt = (at: number): TableCell => {
    return { value: valueOrNull(packed.values[at]), incomplete: packed.incomplete[at] === 1 };
  };
  const whole = (row: Bare, place: number): MeasuredRow => ({
    ...row,
    cells: lazily(wide - 1, (column) => cellAt(place * wide + column)),
    total: cellAt(place * wide + wide - 1),
  });
  return {
    columns: packed.columns,
    rows: packed.rows.map(whole),
    totals: packed.totals.map((row, place) => whole(row, packed.rows.length + place)),
  };
}

/** An array whose members are made when they are read, each once. */
function lazily<T>(length: number, make: (index: number) => T): readonly T[] {
  return new Proxy<T[]>(new Array<T>(length), {
    get(made, key, receiver) {
      const index = typeof key === 'string' ? Number(key) : Number.NaN;
      if (Number.isInteger(index) && index >= 0 && index < length && !(index in made)) {
        made[index] = make(index);
      }
      return Reflect.get(made, key, receiver) as unknown;
    },
    has: (made, key) => {
      const index = typeof key === 'string' ? Number(key) : Number.NaN;
      return (Number.isInteger(index) && index >= 0 && index < length) || Reflect.has(made, key);
    },
  });
}
