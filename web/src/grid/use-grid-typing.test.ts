import { assert } from 'chai';
import fc from 'fast-check';
import { nextTick, shallowRef } from 'vue';
import type { GridKey } from './keys.ts';
import type { GridColumn, GridEdit, GridRow } from './plan-grid.ts';
import { useGridTyping } from './use-grid-typing.ts';

const WIDE = 4;
const columns: GridColumn[] = [
  { key: 'total', heading: 'Total', total: true },
  ...['a', 'b', 'c'].map((key) => ({ key, heading: key })),
];
const rowOf = (
  key: string,
  texts: readonly string[] = [],
  part: Partial<GridRow> = {},
): GridRow => ({
  key,
  label: `Row ${key}`,
  level: 0,
  parent: false,
  folded: false,
  strong: false,
  cells: Array.from({ length: WIDE }, (_, at) => {
    const text = texts[at] ?? `${key}${at}`;
    return { text, typed: text, dress: 'plain' as const };
  }),
  ...part,
});

/** A grid of some rows with a field that takes figures as the browser's does. */
function gridOf(rows: GridRow[] = ['1', '2', '3', '4', '5'].map((key) => rowOf(key))) {
  const shown = shallowRef(rows);
  const edits: GridEdit[] = [];
  const log: string[] = [];
  const field = { value: '', toEnd: () => undefined };
  const typing = useGridTyping({
    rows: () => shown.value,
    columns: () => columns,
    field: () => field,
    page: () => 2,
    editable: (column) => column.total !== true,
    edit: (more) => edits.push(...more),
    visit: ({ row, column }) => log.push(`at ${row}${column}`),
    fold: (row, open) => log.push(`${open ? 'open' : 'fold'} ${row.key}`),
    find: () => log.push('find'),
    explain: ({ row, column }) => log.push(`why ${row}${column}`),
    leave: (back) => log.push(back ? 'back' : 'leave'),
    say: (text) => log.push(text),
  });
  const press = (name: string, held: Partial<GridKey> = {}): void => {
    const key = { key: name, shiftKey: false, ctrlKey: false, metaKey: false, altKey: false };
    if (!typing.press({ ...key, ...held }) && name.length === 1) field.value += name;
  };
  const type = (text: string): void => [...text].forEach((one) => press(one));
  const where = (): string => {
    const { active } = typing.selected.value ?? {};
    return active ? `${shown.value[active.row]?.key}${columns[active.column]?.key}` : '';
  };
  return { typing, shown, edits, log, field, press, type, where };
}
const said = (edits: readonly GridEdit[]): string[] =>
  edits.map(({ row, column, text }) => `${row}${column}=${text}`);

describe('typing into a grid', () => {
  it('keeps a number by Enter, Tab, arrows, a click elsewhere, and leaves it by Esc', () => {
    const { typing, edits, press, type, where } = gridOf();
    typing.select({ row: 0, column: 1 });
    type('41');
    press('Enter');
    type('42');
    press('Tab');
    type('43');
    press('ArrowDown');
    type('44');
    press('Enter', { shiftKey: true });
    assert.equal(where(), '2b');
    type('45');
    typing.commit();
    type('46');
    press('Escape');
    assert.equal(typing.mode.value, 'rest');
    assert.deepEqual(said(edits), ['1a=41', '2a=42', '2b=43', '3b=44', '2b=45']);
  });

  it('keeps every number whatever keys are pressed, each where it was typed', () => {
    const step = fc.constantFrom('Enter', 'Tab', 'ArrowRight', 'ArrowUp', 'ArrowLeft', 'PageDown');
    const pair = fc.record({ value: fc.integer({ min: 0, max: 99_999 }), step });
    fc.assert(
      fc.property(fc.array(pair, { maxLength: 40 }), (pairs) => {
        const { typing, edits, press, type, where, shown } = gridOf();
        typing.select({ row: 0, column: 1 });
        const expected: string[] = [];
        for (const { value, step: key } of pairs) {
          const place = where();
          type(String(value));
          if (!place.endsWith('total')) {
            // What stands there already is no edit.
            const [row = '', column = ''] = [place.slice(0, 1), place.slice(1)];
            const at = columns.findIndex((one) => one.key === column);
            const now = shown.value.find((one) => one.key === row)?.cells.at(at)?.typed;
            if (now !== String(value)) expected.push(`${place}=${value}`);
          }
          press(key);
        }
        assert.deepEqual(said(edits), expected);
      }),
    );
  });

  it('stays where one is when rows come and go, and when numbers change', async () => {
    const { typing, edits, shown, type, press, where } = gridOf();
    typing.select({ row: 2, column: 2 });
    type('7');
    shown.value = ['0', '1', '3', '9'].map((key) => rowOf(key));
    await nextTick();
    type('8');
    press('Enter');
    assert.deepEqual(said(edits), ['3b=78']);
    assert.equal(where(), '9b');
    shown.value = [rowOf('x')];
    await nextTick();
    assert.equal(where(), 'xb', 'the nearest there is');
    shown.value = [];
    await nextTick();
    press('Enter');
    type('5');
    assert.deepEqual(said(edits), ['3b=78']);
  });

  it('changes what is there by F2, and everything that is selected by what changes it', () => {
    const { typing, edits, field, press, type } = gridOf();
    typing.select({ row: 1, column: 1 });
    press('F2');
    assert.equal(field.value, '21');
    press('Enter');
    assert.isEmpty(edits, 'nothing was changed');
    typing.select({ row: 0, column: 1 }, { row: 1, column: 2 });
    type('+8%');
    press('Enter');
    assert.deepEqual(said(edits), ['1a=+8%', '1b=+8%', '2a=+8%', '2b=+8%']);
    edits.length = 0;
    typing.select({ row: 0, column: 1 }, { row: 1, column: 1 });
    type('9');
    press('Enter');
    typing.select({ row: 0, column: 1 }, { row: 1, column: 1 });
    type('7');
    press('Enter', { ctrlKey: true });
    assert.deepEqual(said(edits), ['1a=9', '1a=7', '2a=7']);
  });

  it('copies, pastes, clears and fills blocks, but never what is not typed into', () => {
    const { typing, edits, log, press } = gridOf();
    typing.select({ row: 0, column: 0 }, { row: 1, column: 1 });
    assert.equal(typing.copied(), '10\t11\n20\t21');
    press('Delete');
    assert.deepEqual(said(edits), ['1a=', '2a=']);
    edits.length = 0;
    typing.select({ row: 3, column: 3 });
    assert.isTrue(typing.paste('1\t2\n3\t4\n5\t6'));
    assert.deepEqual(said(edits), ['4c=1', '5c=3']);
    assert.include(log.at(-1), '1 row and 1 column');
    edits.length = 0;
    typing.select({ row: 0, column: 1 }, { row: 2, column: 1 });
    press('d', { ctrlKey: true });
    assert.deepEqual(said(edits), ['2a=11', '3a=11']);
    edits.length = 0;
    typing.select({ row: 0, column: 1 });
    typing.fillTo({ row: 0, column: 3 });
    assert.deepEqual(said(edits), ['1b=11', '1c=11']);
    press('F2');
    assert.isUndefined(typing.copied(), 'the field copies itself');
    assert.isFalse(typing.paste('1'));
  });

  it('says why nothing opens or is pasted where numbers follow from others', () => {
    const fixed = (row: GridRow, at: number): GridRow => ({
      ...row,
      cells: Array.from({ length: WIDE }, (_, place) => ({
        ...(row.cells.at(place) ?? { text: '', typed: '', dress: 'plain' as const }),
        ...(place === at ? { fixed: 'it follows' } : {}),
      })),
    });
    const { typing, edits, log, press } = gridOf([fixed(rowOf('1'), 2), rowOf('2')]);
    typing.select({ row: 0, column: 2 });
    press('7');
    press('F2');
    assert.equal(typing.mode.value, 'rest');
    assert.deepEqual(
      log.filter((text) => text === 'it follows'),
      ['it follows', 'it follows'],
    );
    typing.select({ row: 0, column: 1 });
    log.length = 0;
    typing.paste('5\t6\n7\t8');
    assert.deepEqual(said(edits), ['1a=5', '2a=7', '2b=8']);
    assert.include(log, 'it follows', 'what was left out is said');
    log.length = 0;
    typing.select({ row: 0, column: 1 });
    typing.paste('5\t6\t7\t8');
    assert.deepEqual(
      log.filter((text) => text.includes('follows')),
      ['Left out beyond the edge of the table: 1 column. it follows'],
    );
  });

  it('selects rows, columns and all, finds, folds, explains and leaves', () => {
    const rows = [rowOf('1', [], { parent: true }), rowOf('2'), rowOf('3')];
    const { typing, log, press } = gridOf(rows);
    press('a', { ctrlKey: true });
    assert.deepEqual(typing.selected.value?.corner, { row: 2, column: 3 });
    press(' ', { shiftKey: true });
    assert.deepEqual(typing.selected.value, {
      active: { row: 0, column: 0 },
      corner: { row: 0, column: 3 },
    });
    log.length = 0;
    press('ArrowLeft', { altKey: true });
    press('ArrowRight', { altKey: true });
    press(' ');
    press('f', { ctrlKey: true });
    typing.goToRow('3');
    typing.goToRow('nobody');
    press('Escape');
    press('F6', { shiftKey: true });
    assert.deepEqual(log, ['fold 1', 'why 1total', 'find', 'at 3total', 'leave', 'back']);
  });
});
