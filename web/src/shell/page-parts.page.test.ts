import { mount } from '@vue/test-utils';
import { expect } from 'chai';
import { defineComponent, h, ref } from 'vue';
import { desk } from '../../testing/desk.ts';
import { dressed, settle } from '../../testing/mounting.ts';
import { useHistory } from '../journal/use-history.ts';
import { useWaiting } from '../standing/use-standing.ts';
import { useTrace } from '../trace/use-trace.ts';
import { useHeadingFocus } from './page-focus.ts';
import SidePanel from './SidePanel.vue';

describe('what waits for somebody', () => {
  it('is named with the room in which it is mended', async () => {
    const node = { id: 4, name: 'North', unassigned: 120_000, overAssigned: 0 };
    const { used, end } = await desk(useWaiting, {
      reply: ({ path }) =>
        path.endsWith('/imports')
          ? { body: [{ id: 1, fileName: 'till.csv', state: 'previewed', good: 9 }] }
          : { body: { objective: { measure: 'revenue' }, nodes: [node] } },
    });
    await settle();
    const waits = used.data.value?.map(({ text, room }) => [room, text]) ?? [];
    expect(waits).to.deep.include(['actuals', 'till.csv is not imported yet: 9 rows']);
    expect(waits).to.deep.include([
      ...['targets', '1.2 thousand of the target of North unassigned'],
    ] as never);
    // Nothing is set for any line of the small plan: its drivers are missing.
    expect(waits.some(([room]) => room === 'drivers')).to.equal(true);
    end();
  });
});

describe('the heading of a page', () => {
  /** A page that takes the place of another one, while something has the focus or nothing has. */
  const page = () =>
    mount(
      defineComponent({
        setup() {
          const title = ref<HTMLElement>();
          useHeadingFocus(title);
          return () => h('h1', { ref: title, tabindex: -1 }, 'Found');
        },
      }),
      { attachTo: document.body },
    );

  it('takes the focus where what had it is gone with the page before', () => {
    (document.activeElement as HTMLElement | null)?.blur();
    const first = page();
    const focused = () => document.activeElement;
    // Other tests may have shown pages: of two in a row, the second one is never the first.
    first.unmount();
    const second = page();
    expect(focused()).to.equal(second.element);
    const button = document.body.appendChild(document.createElement('button'));
    button.focus();
    const third = page();
    expect(focused(), 'what has the focus keeps it').to.equal(button);
    for (const shown of [second, third]) shown.unmount();
    button.remove();
  });
});

describe('a panel beside the table', () => {
  it('steps back while the trace is open, with what was typed into it, and closes it when it opens', async () => {
    const options = dressed();
    const [trace, history] = [useTrace(), useHistory()];
    history.toggle();
    const wrapper = mount(SidePanel, {
      props: { heading: 'Forecast methods' },
      slots: { default: '<input id="typed">' },
      ...options,
    });
    expect(history.open, 'one at a time').to.equal(false);
    const panel = wrapper.get('aside');
    const typed = wrapper.get('input').element as HTMLInputElement;
    typed.value = '7';
    trace.ask({ kind: 'node', node: {} as never, about: '' });
    await settle();
    expect(panel.element.style.display).to.equal('none');
    trace.close();
    await settle();
    expect([panel.element.style.display, typed.value]).to.deep.equal(['', '7']);
    await panel.trigger('keydown.esc');
    expect(wrapper.emitted('close')?.length).to.equal(1);
    wrapper.unmount();
  });
});
