import { assert } from 'chai';
import fc from 'fast-check';
import { readBlock, writeBlock } from './block-text.ts';
import { commandOf, opensCell, type GridKey } from './keys.ts';
import { blockOf, filled, inside, laidDown, spotsOf, stepped, type Step } from './spots.ts';
import { beginnings, columnsInSight, rowsInSight, widened } from './windowed.ts';

const SIZE = { rows: 5, columns: 4, page: 3 };
const at = (row: number, column: number) => ({ row, column });
const key = (name: string, held: Partial<GridKey> = {}): GridKey => ({
  key: name,
  shiftKey: false,
  ctrlKey: false,
  metaKey: false,
  altKey: false,
  ...held,
});

describe('moving in a grid', () => {
  it('goes to the next cell, to edges and by pages, and never out of it', () => {
    const steps: [Step, object | undefined][] = [
      ['up', at(0, 2)],
      ['down', at(2, 2)],
      ['left', at(1, 1)],
      ['right', at(1, 3)],
      ['pageDown', at(4, 2)],
      ['pageUp', at(0, 2)],
      ['top', at(0, 2)],
      ['bottom', at(4, 2)],
      ['rowStart', at(1, 0)],
      ['rowEnd', at(1, 3)],
      ['first', at(0, 0)],
      ['last', at(4, 3)],
    ];
    for (const [step, to] of steps) assert.deepEqual(stepped(at(1, 2), step, SIZE), to, step);
    assert.deepEqual(stepped(at(0, 0), 'up', SIZE), at(0, 0));
    assert.deepEqual(inside(at(9, -3), SIZE), at(4, 0));
  });

  it('goes through all cells by Tab, and back, and leaves after the last', () => {
    const visited = [at(0, 0)];
    for (;;) {
      const next = stepped(visited.at(-1) ?? at(0, 0), 'next', SIZE);
      if (!next) break;
      assert.deepEqual(stepped(next, 'previous', SIZE), visited.at(-1));
      visited.push(next);
    }
    assert.lengthOf(visited, 20);
    assert.isUndefined(stepped(at(0, 0), 'previous', SIZE));
  });
});

describe('a block of cells', () => {
  const block = (top: number, bottom: number, left: number, right: number) => ({
    top,
    bottom,
    left,
    right,
  });

  it('lies between its corners', () => {
    const selected = { active: at(3, 2), corner: at(1, 3) };
    assert.deepEqual(blockOf(selected), block(1, 3, 2, 3));
    assert.lengthOf(spotsOf(blockOf(selected)), 6);
  });

  it('takes one text everywhere, a block as often as it fits, and says what lay beyond', () => {
    const one = laidDown([['7']], block(0, 1, 0, 2), SIZE);
    assert.lengthOf(one.placed, 6);
    const twice = laidDown([['1', '2']], block(0, 1, 0, 3), SIZE);
    assert.deepEqual(
      twice.placed.map(({ text }) => text),
      ['1', '2', '1', '2', '1', '2', '1', '2'],
    );
    const large = laidDown([['1', '2'], ['3', '4'], ['5']], block(3, 3, 3, 3), SIZE);
    assert.deepEqual(large.placed, [
      { spot: at(3, 3), text: '1' },
      { spot: at(4, 3), text: '3' },
    ]);
    assert.deepInclude(large, { rowsBeyond: 1, columnsBeyond: 1 });
    assert.isEmpty(laidDown([], block(0, 0, 0, 0), SIZE).placed);
  });

  it('fills down and right from its first row or column, or from the one before', () => {
    const textAt = ({ row, column }: { row: number; column: number }): string => `${row}${column}`;
    assert.deepEqual(filled(block(1, 3, 2, 2), 'down', textAt), [
      { spot: at(2, 2), text: '12' },
      { spot: at(3, 2), text: '12' },
    ]);
    assert.deepEqual(filled(block(1, 1, 2, 2), 'right', textAt), [{ spot: at(1, 2), text: '11' }]);
    assert.isEmpty(filled(block(0, 0, 1, 2), 'down', textAt));
  });

  it('is read from the clipboard as it was written there', () => {
    const cell = fc.string({ maxLength: 6 }).map((text) => text.replaceAll('\r', ''));
    const cells = fc.array(cell, { minLength: 2, maxLength: 4 });
    fc.assert(
      fc.property(fc.array(cells, { minLength: 1, maxLength: 4 }), (rows) => {
        assert.deepEqual(readBlock(writeBlock(rows)), rows);
      }),
    );
    assert.deepEqual(readBlock('"1,234"\t2\r\n3\t\r\n'), [
      ['1,234', '2'],
      ['3', ''],
    ]);
    assert.deepEqual(readBlock('"never ends'), [['never ends']]);
  });
});

describe('a key in a grid', () => {
  it('moves, selects, opens, fills or leaves', () => {
    assert.deepEqual(commandOf(key('Enter'), 'rest'), {
      kind: 'move',
      step: 'down',
      extend: false,
    });
    assert.deepInclude(commandOf(key('Enter', { shiftKey: true }), 'replace'), { step: 'up' });
    assert.deepInclude(commandOf(key('Tab', { shiftKey: true }), 'change'), { step: 'previous' });
    assert.deepInclude(commandOf(key('ArrowDown', { shiftKey: true }), 'rest'), { extend: true });
    assert.deepInclude(commandOf(key('ArrowRight', { ctrlKey: true }), 'rest'), { step: 'rowEnd' });
    assert.deepInclude(commandOf(key('Home', { ctrlKey: true }), 'rest'), { step: 'first' });
    assert.deepEqual(commandOf(key('d', { ctrlKey: true }), 'rest'), { kind: 'fill', to: 'down' });
    assert.deepEqual(commandOf(key('F6', { shiftKey: true }), 'rest'), {
      kind: 'leave',
      back: true,
    });
    assert.deepEqual(commandOf(key('Delete'), 'rest'), { kind: 'clear' });
    assert.deepEqual(commandOf(key('ArrowLeft', { altKey: true }), 'rest'), {
      kind: 'fold',
      open: false,
    });
    assert.deepEqual(commandOf(key('Enter', { ctrlKey: true }), 'replace'), { kind: 'commitAll' });
  });

  it('belongs to the field while what is there is changed, and to the room where it is a letter', () => {
    for (const name of ['ArrowLeft', 'Home', 'Delete', '7'])
      assert.isUndefined(commandOf(key(name), 'change'));
    assert.deepInclude(commandOf(key('ArrowLeft'), 'replace'), { step: 'left' });
    assert.isUndefined(commandOf(key('Delete'), 'replace'));
    assert.deepEqual(commandOf(key(' '), 'rest'), { kind: 'explain' });
    assert.deepEqual(commandOf(key(' ', { shiftKey: true }), 'rest'), { kind: 'selectRow' });
    for (const name of ['g', 'p', '?', '[']) assert.isUndefined(commandOf(key(name), 'rest'));
    assert.isUndefined(commandOf(key('z', { ctrlKey: true }), 'rest'));
    assert.sameMembers([...'0+-\u2212.,=xgp ?k'].filter(opensCell), [
      '0',
      '+',
      '-',
      '\u2212',
      '.',
      ',',
      '=',
      'x',
    ]);
  });
});

describe('what is in sight', () => {
  it('is the rows and columns that show, and few around them', () => {
    assert.deepEqual(rowsInSight(0, 280, 28, 2000, 2), { from: 0, to: 12 });
    assert.deepEqual(rowsInSight(2800, 280, 28, 2000, 2), { from: 98, to: 112 });
    assert.deepEqual(rowsInSight(9999, 280, 28, 5, 2), { from: 5, to: 5 });
    const starts = beginnings([50, 60, 70, 80]);
    assert.deepEqual(starts, [0, 50, 110, 180, 260]);
    assert.deepEqual(columnsInSight(starts, 55, 100), { from: 1, to: 3 });
    assert.deepEqual(columnsInSight(starts, 0, 1000), { from: 0, to: 4 });
    assert.deepEqual(columnsInSight([0], 0, 100), { from: 0, to: 0 });
  });

  it('uses the room there is, within reason', () => {
    assert.deepEqual(widened([50, 50], 120), [60, 60]);
    assert.deepEqual(widened([50, 50], 1000), [75, 75]);
    assert.deepEqual(widened([50, 50], 80), [50, 50]);
  });
});
