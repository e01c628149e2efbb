import type { MeasuredTable } from '@dravex/core';
import { assert } from 'chai';
import { packTable, unpackTable } from './packed-table.ts';

describe('packed tables', () => {
  const cell = (value: number | null, incomplete = false) => ({ value, incomplete });
  const row = (key: string, values: (number | null)[]) => ({
    key,
    label: key,
    level: 0,
    scope: [1],
    parent: false,
    measure: 'revenue' as const,
    line: false,
    cells: values.map((value) => cell(value, value === null)),
    total: cell(
      values.reduce<number>((sum, value) => sum + (value ?? 0), 0),
      true,
    ),
  });
  const table: MeasuredTable = {
    columns: ['a', 'b', 'c'].map((key) => ({ key, label: key, period: null })),
    rows: [row('x', [1, null, -3]), row('y', [0, 5, 6.25])],
    totals: [row('total', [1, 5, null])],
  };

  it('come out as they went in, however they are read', () => {
    const again = unpackTable(packTable(table));
    assert.deepEqual(JSON.parse(JSON.stringify(again)), JSON.parse(JSON.stringify(table)));
    const cells = again.rows[0]?.cells ?? [];
    assert.lengthOf(cells, 3);
    assert.deepEqual(cells[2], cell(-3));
    assert.isUndefined(cells[3]);
    assert.deepEqual(
      cells.map(({ value }) => value),
      [1, null, -3],
    );
    assert.strictEqual(cells[0], cells[0], 'a cell is made once');
  });

  it('hold nothing where there is nothing', () => {
    const empty = unpackTable(packTable({ columns: [], rows: [], totals: [] }));
    assert.deepEqual(empty, { columns: [], rows: [], totals: [] });
  });
});
