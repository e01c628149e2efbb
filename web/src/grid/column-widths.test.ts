import { assert } from 'chai';
import type { GridCell, GridRow } from './plan-grid.ts';
import { namesNeeded, widthsNeeded } from './column-widths.ts';

const bare: GridCell = { text: '', typed: '', dress: 'plain' };
const row = (key: string, cell: Partial<GridCell>): GridRow => ({
  ...{ key, label: key, level: 0, parent: false, folded: false, strong: false },
  cells: [{ ...bare, ...cell }],
});
const width = (others: readonly GridRow[], pinned: readonly GridRow[] = []): number =>
  widthsNeeded([{ key: 'a', heading: 'A' }], { pinned, others })[0] ?? 0;

describe('the width of a column', () => {
  const number = '12,345,678';

  it('has room for what stands before and beside a number', () => {
    const plain = width([row('1', { text: number })]);
    assert.isAbove(plain, 66, 'wider than usual');
    for (const more of [{ dress: 'entries' }, { judgement: 'bad' }, { beside: '+8%' }] as const) {
      assert.isAtLeast(
        width([row('1', { text: number, ...more })]),
        plain + 9,
        Object.keys(more)[0],
      );
    }
  });

  it('follows rows that stay in sight, and rows far below', () => {
    const short = Array.from({ length: 400 }, (_, place) => row(`${place}`, { text: '1' }));
    const long = row('long', { text: number });
    const wide = width([long]);
    assert.equal(width(short), 66);
    assert.equal(width(short, [long]), wide);
    assert.equal(width([...short.slice(0, 23), long, ...short.slice(24)]), wide);
    assert.equal(width(short.map((one, place) => (place >= 300 ? long : one))), wide);
  });
});

describe('the width of names', () => {
  const named = (label: string): GridRow => ({ ...row('1', {}), label });
  const names = (label: string, frame = 1000): number =>
    namesNeeded({ pinned: [], others: [named(label)] }, frame);

  it('is what tells them apart, but leaves most of the room to numbers', () => {
    const label = 'Brook carafe · Households · North';
    assert.equal(names('Web shop'), 196);
    assert.isAbove(names(label), 6 * label.length);
    assert.isAtMost(names(label.repeat(3)), 340);
    assert.isAtMost(names(label, 700), 240);
  });
});
