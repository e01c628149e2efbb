import { mount } from '@vue/test-utils';
import { expect } from 'chai';
import { defineComponent, h, shallowRef } from 'vue';
import { desk } from '../../testing/desk.ts';
import { settle } from '../../testing/mounting.ts';
import { usePlan } from '../plan/use-plan.ts';
import type { GridColumn, GridEdit, GridRow } from './plan-grid.ts';
import PlanGrid from './PlanGrid.vue';

const columns: GridColumn[] = [
  { key: 'total', heading: 'Total', total: true, fixed: 'The total is calculated', ordered: '↓' },
  { key: 'oct', heading: 'Oct 26' },
  { key: 'nov', heading: 'Nov 26' },
];
const row = (key: string, values: readonly number[], part: Partial<GridRow> = {}): GridRow => ({
  ...{ key, label: key, level: 0, parent: false, folded: false, strong: false },
  cells: values.map((value) => ({
    ...{ text: String(value), typed: String(value), value, dress: 'plain' as const },
    unit: 'thousand €',
  })),
  ...part,
});
const ROWS = [
  row('web', [30, 10, 20], { parent: true, pinned: false }),
  row('stores', [50, 20, 30], { tail: 'locked' }),
];

/** A grid on a page, with all that it says. */
async function shown(props: object = {}) {
  const edits: GridEdit[] = [];
  const said: string[] = [];
  const rows = shallowRef<readonly GridRow[]>(ROWS);
  const hear =
    (name: string) =>
    (...words: unknown[]) =>
      void said.push([name, ...words.map((word) => JSON.stringify(word))].join(' '));
  const { end: close, plan, mounting } = await desk(usePlan);
  const wrapper = mount(
    defineComponent({
      setup: () => () =>
        h(PlanGrid, {
          ...{ label: 'Forecast', heading: 'Channel', columns, rows: rows.value, sortable: true },
          ...{ editable: true, onEdit: (more: GridEdit[]) => edits.push(...more) },
          ...{ onToggle: hear('toggle'), onOrder: hear('order'), onPin: hear('pin') },
          onExplain: hear('explain'),
          ...props,
        }),
    }),
    { ...mounting, global: { ...mounting.global, stubs: { PrintedTable: true } } },
  );
  await settle();
  const field = wrapper.get('.field');
  const press = (key: string, part: object = {}) => field.trigger('keydown', { key, ...part });
  /** A figure as the browser has it: the key opens the cell, and the field takes it. */
  const type = async (text: string): Promise<void> => {
    for (const key of text) {
      await press(key);
      const input = field.element as HTMLInputElement;
      input.value += key;
      await field.trigger('input');
    }
  };
  (field.element as HTMLElement).focus();
  await settle();
  return {
    ...{ wrapper, field, press, type, edits, said, rows, plan },
    name: () => field.attributes('aria-label'),
    end(): void {
      wrapper.unmount();
      close();
    },
  };
}

describe('the grid on a page', () => {
  it('is a grid to a screen reader, and its field names row, column, value and unit', async () => {
    const { wrapper, name, press, end } = await shown();
    const grid = wrapper.get('[role="grid"]');
    expect(grid.attributes()).to.include({
      ...{ 'aria-label': 'Forecast', 'aria-rowcount': '3', 'aria-colcount': '4' },
      'aria-readonly': 'false',
    });
    expect(wrapper.get('[aria-sort="descending"]').text()).to.contain('Total');
    expect(name()).to.equal('web, Total, 30 thousand €');
    await press('ArrowDown');
    await press('ArrowRight');
    expect(name()).to.equal('stores, locked, Oct 26, 20 thousand €');
    end();
  });

  it('keeps what is typed by Enter and by going elsewhere, and says why where nothing is typed', async () => {
    const { type, press, field, edits, plan, end } = await shown();
    await type('4');
    expect(plan.said?.text).to.equal('The total is calculated');
    await press('ArrowRight');
    await type('41');
    expect(plan.editing, 'what others change waits').to.equal(true);
    await press('Enter');
    expect(plan.editing).to.equal(false);
    await type('42');
    (field.element as HTMLElement).blur();
    await settle();
    expect(edits).to.deep.equal([
      { row: 'web', column: 'oct', text: '41' },
      { row: 'stores', column: 'oct', text: '42' },
    ]);
    end();
  });

  it('says what is refused and what waits at the cell, and adds up what is selected', async () => {
    const { wrapper, press, name, plan, end } = await shown({
      refused: new Map([
        ['web oct', 'This is not a number'],
        ['web total', 'This neither'],
      ]),
      waiting: new Map([['stores total', '77']]),
    });
    await press('ArrowRight');
    expect(name()).to.contain('This is not a number');
    const cell = (place: string) => wrapper.find(`[data-cell="${place}"]`);
    expect(cell('web total').classes()).to.include('refused');
    expect(cell('web total').attributes('title')).to.equal('This neither');
    expect(cell('stores total').text()).to.equal('77');
    await press('ArrowDown', { shiftKey: true });
    await press('ArrowRight', { shiftKey: true });
    const values = plan.selection.map(({ value }) => value);
    expect(values).to.deep.equal([10, 20, 20, 30]);
    end();
  });

  it('draws a cell anew when anything of it is another', async () => {
    const { wrapper, rows, end } = await shown();
    const cell = () => wrapper.get('[data-cell="stores total"]');
    const [web, stores] = ROWS as [GridRow, GridRow];
    const total = stores.cells.at(0);
    if (!total) throw new Error('There is no total');
    for (const [part, seen] of [
      [{ text: '51' }, () => cell().text().includes('51')],
      [{ dress: 'entries' }, () => cell().classes().includes('dress-entries')],
      [{ judgement: 'bad' }, () => cell().find('.diamond').exists()],
      [{ beside: '+8%' }, () => cell().find('.beside').exists()],
      [{ commented: true }, () => cell().find('.said').exists()],
      [{ title: 'in full' }, () => cell().attributes('title') === 'in full'],
    ] as const) {
      expect(seen(), JSON.stringify(part)).to.equal(false);
      rows.value = [web, { ...stores, cells: [{ ...total, ...part }, total, total] }];
      await settle();
      expect(seen(), JSON.stringify(part)).to.equal(true);
      rows.value = ROWS;
      await settle();
    }
    end();
  });

  it('sorts and pins by the menu of the cell, which gives the focus back', async () => {
    const { field, press, said, end } = await shown({ nameOrdered: '' });
    await press('ArrowRight');
    await field.trigger('contextmenu');
    await settle();
    const items = () => [...document.querySelectorAll<HTMLElement>('[role="menuitem"]')];
    const names = items().map((item) => item.textContent?.trim() ?? '');
    expect(names).to.include.members(['Sort by Oct 26', 'Sort by Channel', 'Pin row']);
    for (const name of ['Sort by Oct 26', 'Pin row']) {
      items()
        .find((item) => item.textContent?.trim() === name)
        ?.click();
    }
    expect(said).to.deep.equal(['order "oct"', 'pin "web"']);
    end();
  });

  it('finds a row, says when none is called so, and stays where one is when rows are others', async () => {
    const { wrapper, press, name, rows, end } = await shown();
    await press('f', { ctrlKey: true });
    const find = wrapper.get('.finding input');
    await find.setValue('stor');
    expect(name()).to.contain('stores');
    await find.setValue('nowhere');
    await settle();
    expect(wrapper.get('.missed').text()).to.equal('No row is called “nowhere”');
    await find.trigger('keydown.esc');
    rows.value = [row('new', [1, 1, 1]), ...ROWS];
    await settle();
    expect(name()).to.contain('stores');
    end();
  });
});
