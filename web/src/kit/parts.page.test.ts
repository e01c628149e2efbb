import { mount } from '@vue/test-utils';
import { expect } from 'chai';
import { defineComponent, h, nextTick, ref, shallowRef } from 'vue';
import { desk } from '../../testing/desk.ts';
import { dressed, settle, within } from '../../testing/mounting.ts';
import { useLayout } from '../people/use-layout.ts';
import Drawer from './Drawer.vue';
import GroupedTable from './GroupedTable.vue';
import SearchList from './SearchList.vue';
import SeveralChoice from './SeveralChoice.vue';
import Term from './Term.vue';
import { useFirstFocus } from './use-first-focus.ts';
import WordsDialog, { type AskedWords } from './WordsDialog.vue';
import WorkShare from './WorkShare.vue';

const onPage = (selector: string): HTMLElement[] => [
  ...document.querySelectorAll<HTMLElement>(selector),
];

describe('a choice of several', () => {
  it('turns each of them on and off, and stays open', async () => {
    const options = [
      { value: 'units', name: 'Units' },
      { value: 'revenue', name: 'Revenue' },
    ];
    const wrapper = mount(SeveralChoice, {
      props: { label: 'Units', about: 'Measures', options, chosen: ['units'] },
      ...dressed(),
    });
    await wrapper.get('button').trigger('click');
    await settle();
    const items = onPage('[role="menuitemcheckbox"]');
    expect(items.map((item) => item.getAttribute('aria-checked'))).to.deep.equal(['true', 'false']);
    items[0]?.click();
    items[1]?.click();
    expect(wrapper.emitted('turn')).to.deep.equal([['units'], ['revenue']]);
    expect(onPage('[role="menuitemcheckbox"]').length).to.equal(2);
    wrapper.unmount();
  });
});

describe('a list that is searched', () => {
  it('is walked by arrows, round its ends, and gives what Enter or a click is on', async () => {
    const text = ref('');
    const entered: unknown[] = [];
    const found = shallowRef(['Drivers', 'Budget', 'Closing']);
    const wrapper = mount(
      defineComponent({
        setup: () => () =>
          h(
            SearchList as never,
            {
              modelValue: text.value,
              'onUpdate:modelValue': (next: string) => (text.value = next),
              ...{ label: 'Go to', placeholder: 'Room', found: found.value },
              onEnter: (one: unknown) => entered.push(one),
            } as never,
            { default: ({ one }: { one: string }) => one },
          ),
      }),
      dressed(),
    );
    const field = wrapper.get('input');
    const chosen = () => wrapper.get('[aria-selected="true"]').text();
    expect([field.attributes('role'), chosen()]).to.deep.equal(['combobox', 'Drivers']);
    await field.trigger('keydown.up');
    expect(chosen()).to.equal('Closing');
    expect(field.attributes('aria-activedescendant')).to.equal('search-2');
    await field.trigger('keydown.down');
    await field.trigger('keydown.down');
    await field.trigger('keydown.enter');
    await wrapper.findAll('li')[2]?.trigger('click');
    await field.setValue('x');
    expect(chosen(), 'what is typed begins at the first').to.equal('Drivers');
    found.value = [];
    await nextTick();
    await field.trigger('keydown.down');
    await field.trigger('keydown.enter');
    expect(entered).to.deep.equal(['Budget', 'Closing', undefined]);
    wrapper.unmount();
  });
});

describe('words that are asked for', () => {
  it('begin with what is there, are given once, and not empty unless that is an answer', async () => {
    const asked = shallowRef<AskedWords>();
    const given: string[] = [];
    const wrapper = mount(
      defineComponent({
        setup: () => () =>
          h(WordsDialog, {
            modelValue: asked.value,
            'onUpdate:modelValue': (next: AskedWords | undefined) => (asked.value = next),
          }),
      }),
      dressed(),
    );
    const ask = async (part: Partial<AskedWords>): Promise<void> => {
      const words = { title: 'Question', label: 'Question', action: 'Save' };
      asked.value = { ...words, done: (said) => given.push(said), ...part };
      await settle();
    };
    const submit = () => onPage('[role="dialog"] form')[0]?.dispatchEvent(new Event('submit'));
    await ask({ begins: ' Half of it? ' });
    submit();
    expect(given).to.deep.equal(['Half of it?']);
    expect(asked.value).to.equal(undefined);
    await settle();
    await ask({});
    submit();
    expect(given.length, 'nothing is no answer').to.equal(1);
    await ask({ empties: true });
    submit();
    expect(given).to.deep.equal(['Half of it?', '']);
    wrapper.unmount();
  });
});

describe('a drawer', () => {
  it('has its heading as its name, is closed by Esc, and gives the focus back', async () => {
    const opener = document.createElement('button');
    document.body.append(opener);
    opener.focus();
    const shown = ref(true);
    let closed = 0;
    const wrapper = mount(
      defineComponent({
        setup: () => () =>
          shown.value &&
          h(Drawer, { heading: 'Trace', entered: true, onClose: () => (closed += 1) }),
      }),
      dressed(),
    );
    const drawer = wrapper.get('aside');
    const name = document.getElementById(drawer.attributes('aria-labelledby') ?? '');
    expect([name?.textContent, document.activeElement]).to.deep.equal(['Trace', drawer.element]);
    await drawer.trigger('keydown.esc');
    await wrapper.get('button').trigger('click');
    expect(closed).to.equal(2);
    shown.value = false;
    await nextTick();
    expect(document.activeElement).to.equal(opener);
    wrapper.unmount();
    opener.remove();
  });
});

describe('small parts', () => {
  it('lines under headings of their own, with their totals before the periods', () => {
    const wrapper = mount(GroupedTable, {
      props: {
        ...{ about: 'Subscriptions', headings: ['Oct', 'Nov'] },
        groups: [
          {
            name: 'Subscribers',
            lines: [
              { key: 'new', name: 'New', total: '30', cells: ['10', '20'] },
              { key: 'by', name: 'by the web shop', total: '5', cells: ['2', '3'], below: true },
            ],
          },
        ],
      },
      ...dressed(),
    });
    expect(wrapper.findAll('thead th').map((one) => one.text())).to.deep.equal([
      ...['', 'Total', 'Oct', 'Nov'],
    ]);
    expect(wrapper.get('th[scope="colgroup"]').attributes('colspan')).to.equal('4');
    const lines = wrapper.findAll('tbody tr').slice(1);
    expect(lines.map((line) => line.findAll('td').map((one) => one.text()))).to.deep.equal([
      ['30', '10', '20'],
      ['5', '2', '3'],
    ]);
    wrapper.unmount();
  });

  it('a term says what it means to who comes to it and who cannot see it', async () => {
    const wrapper = mount(Term, { props: { of: 'bias' }, ...dressed() });
    const term = wrapper.get('.term');
    expect(term.attributes('aria-description')).to.match(/\w+ \w+/);
    await term.trigger('focus');
    await settle();
    expect(onPage('.v-tooltip').length).to.equal(1);
    await term.trigger('blur');
    wrapper.unmount();
  });

  it('a share of something long is a bar with a name, and a figure', () => {
    const wrapper = mount(WorkShare, { props: { name: 'Import', share: 0.256 }, ...dressed() });
    expect(wrapper.get('[role="progressbar"]').attributes('aria-label')).to.equal('Import');
    expect(wrapper.text()).to.contain('26 %');
    wrapper.unmount();
  });

  it('the first field of a page has the focus when it opens', () => {
    const wrapper = mount(
      defineComponent({
        setup() {
          useFirstFocus('field');
          return () => h('input', { ref: 'field', id: 'first' });
        },
      }),
      dressed(),
    );
    expect(document.activeElement?.id).to.equal('first');
    wrapper.unmount();
  });
});

describe('how somebody has laid out tables', () => {
  it('is remembered for them, sent once for what comes together, and others stay as they were', async () => {
    const { used, sent, end } = await desk(useLayout);
    used.setWidth('T a', 120);
    used.setTurned('forecast', ['1', '1/2']);
    used.setTurned('forecast', ['1']);
    used.setTurned('targets', ['7']);
    expect([used.widthOf('T a'), used.turnedIn('forecast')]).to.deep.equal([120, ['1']]);
    expect(used.turnedIn('budget')).to.deep.equal([]);
    await new Promise((resolve) => setTimeout(resolve, 450));
    expect(sent().map(({ body }) => body)).to.deep.equal([
      { widths: { 'T a': 120 }, folded: { forecast: ['1'], targets: ['7'] } },
    ]);
    used.setWidth('T a', undefined);
    expect(used.widthOf('T a')).to.equal(undefined);
    end();
  });

  it('is nobody’s before they have signed in', () => {
    const { used, end } = within(useLayout);
    used.setWidth('T a', 120);
    expect(used.widthOf('T a')).to.equal(undefined);
    end();
  });
});
