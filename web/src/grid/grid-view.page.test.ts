import { expect } from 'chai';
import { ref } from 'vue';
import { desk } from '../../testing/desk.ts';
import type { GridColumn, GridRow } from './plan-grid.ts';
import type { Selected, Spot } from './spots.ts';
import { useColumnWidths } from './use-column-widths.ts';
import { useGridPointer } from './use-grid-pointer.ts';
import { byRow, useLineSelection } from './use-line-selection.ts';
import { ROW, useGridView } from './use-grid-view.ts';

const rows = (count: number, name = 'r'): GridRow[] =>
  Array.from({ length: count }, (_, place) => ({
    ...{ key: `${name}${place}`, label: `${name}${place}`, level: 0, parent: false },
    ...{ folded: false, strong: false },
    cells: [{ text: '1', typed: '1', dress: 'plain' as const }],
  }));
const columns: GridColumn[] = ['a', 'b', 'c'].map((key) => ({ key, heading: key, size: 100 }));
const at = (row: number, column: number): Spot => ({ row, column });
const block = (active: Spot, corner: Spot = active): Selected => ({ active, corner });

describe('what of a grid is in sight', () => {
  it('brings a row into sight, and lays the field over its cell', async () => {
    const box = document.createElement('div');
    // Nothing is laid out here: sizes and places are what they are told to be.
    const before = globalThis.getComputedStyle;
    const bare = ['Left', 'Right', 'Top', 'Bottom'].flatMap((side) => [
      [`padding${side}`, '0'],
      [`border${side}Width`, '0'],
    ]);
    Object.assign(globalThis, { getComputedStyle: () => Object.fromEntries(bare) as object });
    for (const [name, value] of [
      ['offsetWidth', 800],
      ['offsetHeight', 15 * ROW],
      ['scrollTop', 0],
    ] as const) {
      Object.defineProperty(box, name, { value, writable: true });
    }
    const scroller = ref<HTMLElement>(box);
    const { used, end } = await desk(() =>
      useGridView(scroller, {
        ...{ label: () => 'T', columns: () => columns, nameWidth: () => 100 },
        ...{ above: () => rows(1, 'up'), rows: () => rows(500), below: () => rows(2, 'low') },
      }),
    );
    Object.assign(globalThis, { getComputedStyle: before });
    used.reveal(at(101, 1));
    // Eleven rows have room between the heading and the rows that stay: it is the last of them.
    expect(box.scrollTop).to.equal((101 - 11) * ROW);
    used.onScroll();
    expect(used.drawnRows.value.some(({ place }) => place === 100)).to.equal(true);
    expect(used.drawnRows.value.length).to.be.below(40);
    used.reveal(at(0, 1));
    expect(box.scrollTop, 'what stays in sight moves nothing').to.be.above(0);
    used.reveal(at(1, 0));
    expect(box.scrollTop).to.equal(0);
    const own = used.widths.drawn.value[0]?.width ?? 0;
    expect(used.fieldOver(at(1, 0), '').width).to.equal(`${own}px`);
    expect(Number.parseInt(used.fieldOver(at(1, 0), '1'.repeat(30)).width ?? '', 10)).to.be.above(
      200,
    );
    end();
  });

  it('remembers a width that was dragged, for the person, until it is as its numbers are', async () => {
    const { used, sent, end } = await desk(() =>
      useColumnWidths(
        () => 'T',
        () => columns,
        () => ({ pinned: [], others: rows(3) }),
        () => 100,
        () => 400,
      ),
    );
    const widths = () => used.drawn.value.map(({ width }) => width);
    const before = widths();
    used.drag('b', 140.4);
    used.drag('b', 12);
    expect(widths()[1], 'never too narrow to be dragged back').to.equal(40);
    used.drag('b', 180);
    expect(widths()).to.deep.equal([before[0], 180, before[2]]);
    await new Promise((resolve) => setTimeout(resolve, 450));
    expect(sent().map(({ body }) => (body as { widths: object }).widths)).to.deep.equal([
      { 'T b': 180 },
    ]);
    expect(used.isSet('b')).to.equal(true);
    used.widen('b', 24);
    used.widen('nowhere', 24);
    expect(widths(), 'by the menu of a cell').to.deep.equal([before[0], 204, before[2]]);
    used.forget('b');
    expect(used.isSet('b')).to.equal(false);
    expect(widths()).to.deep.equal(before);
    end();
  });

  it('tells rows what of them is selected, and those of which nothing is another the same', () => {
    const selected = ref<Selected | undefined>(block(at(1, 0), at(2, 1)));
    const lines = useLineSelection(
      () => selected.value,
      () => true,
    );
    const before = lines.value;
    expect(before.get(1)).to.deep.equal({ from: 0, to: 1, active: 0, end: -1 });
    expect(before.get(2)).to.deep.equal({ from: 0, to: 1, active: -1, end: 1 });
    selected.value = block(at(1, 0), at(3, 1));
    expect(lines.value.get(1)).to.equal(before.get(1));
    expect(lines.value.get(2)?.end).to.equal(-1);
    selected.value = undefined;
    expect(lines.value.size).to.equal(0);
    const cells = byRow(
      new Map([
        ['1#2 2026-01', 'x'],
        ['1#2 total', 'y'],
      ]),
    );
    expect([...(cells.get('1#2') ?? [])]).to.deep.equal([
      ['2026-01', 'x'],
      ['total', 'y'],
    ]);
  });
});

describe('pointing into a grid', () => {
  /** A grid's elements, as far as they say what they are. */
  function pointed() {
    const box = document.createElement('div');
    const element = (data: Record<string, string>): HTMLElement => {
      const one = document.createElement('div');
      Object.assign(one.dataset, data);
      box.append(one);
      return one;
    };
    document.body.append(box);
    const log: string[] = [];
    const say =
      (name: string) =>
      (...words: unknown[]) =>
        void log.push([name, ...words.map((word) => JSON.stringify(word))].join(' '));
    let selected: Selected | undefined;
    const pointer = useGridPointer({
      scroller: ref(box),
      selected: () => selected,
      begin: say('begin'),
      select(active, corner) {
        selected = block(active, corner);
        say('select')([active.row, active.column], corner && [corner.row, corner.column]);
      },
      ...{ selectRow: say('row'), selectColumn: say('column'), fillTo: say('fill') },
      ...{ widthOf: () => 80, widen: say('widen'), forgetWidth: say('forget') },
      ...{ open: say('open'), fold: say('fold'), pin: say('pin'), order: say('order') },
      ...{ movesRow: (row) => row === 2, moveRow: say('move') },
    });
    const event = (target: HTMLElement, part: object = {}) =>
      ({
        target,
        button: 0,
        buttons: 1,
        clientX: 0,
        preventDefault: () => undefined,
        ...part,
      }) as never;
    return { box, element, log, pointer, event };
  }

  it('selects by pressing and dragging, and more with Shift', () => {
    const { element, log, pointer, event } = pointed();
    const [first, last] = [element({ row: '1', column: '0' }), element({ row: '3', column: '2' })];
    pointer.onPointerDown(event(first));
    pointer.onPointerMove(event(last));
    pointer.onPointerMove(event(last));
    pointer.onPointerUp();
    pointer.onPointerDown(event(last, { shiftKey: true }));
    expect(log).to.deep.equal([
      ...['begin', 'select [1,0] ', 'select [1,0] [3,2]'],
      ...['begin', 'select [1,0] [3,2]'],
    ]);
  });

  it('fills by the handle, widens by the edge, moves a row by its name', () => {
    const { element, log, pointer, event } = pointed();
    const cell = element({ row: '1', column: '1' });
    pointer.onPointerDown(event(cell));
    pointer.onPointerUp();
    pointer.onPointerDown(event(element({ handle: '' })));
    expect(pointer.fills()).to.equal(true);
    pointer.onPointerMove(event(element({ row: '4', column: '1' })));
    pointer.onPointerUp();
    expect(pointer.fills()).to.equal(false);
    pointer.onPointerDown(event(element({ edge: '2' }), { clientX: 100 }));
    pointer.onPointerMove(event(cell, { clientX: 130 }));
    pointer.onPointerUp();
    pointer.onPointerDown(event(element({ name: '2' })));
    pointer.onPointerMove(event(element({ name: '5' })));
    pointer.onPointerUp();
    const after = log.filter((line) => line !== 'begin');
    expect(after).to.deep.equal([
      ...['select [1,1] ', 'fill {"row":4,"column":1}', 'widen 2 110', 'row 5', 'move 2 5'],
    ]);
  });

  it('presses small buttons, headings and names, and opens a cell by two presses', () => {
    const { box, element, log, pointer, event } = pointed();
    pointer.onClick(event(element({ fold: 'web' })));
    pointer.onClick(event(element({ pin: 'web' })));
    pointer.onClick(event(element({ order: 'total' })));
    pointer.onClick(event(element({ heading: '3' })));
    pointer.onClick(event(element({ name: '7' })));
    pointer.onDoubleClick(event(element({ row: '1', column: '2' })));
    pointer.onDoubleClick(event(element({ edge: '3' })));
    // A bar that scrolls is no cell, and another button than the first selects nothing.
    pointer.onPointerDown(event(box));
    pointer.onPointerDown(event(element({ row: '0', column: '0' }), { button: 2 }));
    expect(log).to.deep.equal([
      ...['fold "web"', 'pin "web"', 'order "total"', 'column 3', 'row 7'],
      ...['open {"row":1,"column":2}', 'forget 3'],
    ]);
  });
});
