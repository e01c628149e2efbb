import { assert } from 'chai';
import { linesOf } from './grid-file.ts';
import type { GridCell, GridRow } from './plan-grid.ts';

const cell = (value: number | null, unit: string): GridCell => ({
  text: String(value),
  typed: String(value),
  dress: 'plain',
  value,
  unit,
});
const row = (label: string, level: number, cells: GridCell[]): GridRow => ({
  key: label,
  label,
  level,
  parent: false,
  folded: false,
  strong: false,
  cells,
});

describe('a table as a file', () => {
  it('has numbers as numbers, percents as fractions, units in the headings, and no marks', () => {
    const mark: GridCell = {
      text: '',
      typed: '',
      dress: 'plain',
      mark: { kind: 'bar', is: 1, should: 2, full: 3 },
    };
    const words: GridCell = { text: 'by hand', typed: 'by hand', dress: 'plain' };
    const lines = linesOf({
      heading: 'Who',
      columns: ['Target', 'Share', 'is | should be', 'Why'].map((heading) => ({
        key: heading,
        heading,
      })),
      rows: [
        row('North', 0, [cell(7817.5, 'thousand €'), cell(29.5, '%'), mark, words]),
        { ...row('Web', 1, [cell(null, 'thousand €'), cell(0, '%'), mark, words]), tail: 'shop' },
      ],
    });
    assert.deepEqual(lines, [
      ['Who', 'Target, thousand €', 'Share, fraction', 'Why'],
      ['North', 7817.5, 0.295, 'by hand'],
      ['  Web, shop', null, 0, 'by hand'],
    ]);
  });

  it('says no unit where cells of a column have several', () => {
    const lines = linesOf({
      heading: 'Row',
      columns: [{ key: 'a', heading: 'Oct' }],
      rows: [row('Revenue', 0, [cell(1, '€')]), row('Growth', 0, [cell(10, '%')])],
    });
    assert.deepEqual(lines, [
      ['Row', 'Oct'],
      ['Revenue', 1],
      ['Growth', 0.1],
    ]);
  });
});
