import { mount } from '@vue/test-utils';
import { expect } from 'chai';
import { defineComponent, h, ref } from 'vue';
import { dressed, settle } from '../../testing/mounting.ts';
import Choice from './Choice.vue';
import FilePick from './FilePick.vue';
import FormDialog from './FormDialog.vue';
import SheetTable from './SheetTable.vue';

const dialog = (): HTMLElement | null => document.querySelector('[role="dialog"]');
const buttons = (): HTMLButtonElement[] => [...(dialog()?.querySelectorAll('button') ?? [])];

/** A page with a button that opens a form. */
function opened(props: { failure?: string; disabled?: boolean; busy?: boolean } = {}) {
  const shown = ref(false);
  const sent: number[] = [];
  const page = defineComponent({
    setup: () => () =>
      h('div', [
        h('button', { id: 'opener', onClick: () => (shown.value = true) }, 'Open'),
        h(
          FormDialog,
          {
            modelValue: shown.value,
            'onUpdate:modelValue': (open: boolean) => (shown.value = open),
            title: 'Copy the budget',
            action: 'Copy',
            ...props,
            onSubmit: () => sent.push(1),
          },
          () => h('input', { id: 'name' }),
        ),
      ]),
  });
  const wrapper = mount(page, dressed());
  return { wrapper, shown, sent };
}

describe('a form in a dialog', () => {
  it('has a name, and the focus in its first field', async () => {
    const { wrapper, shown } = opened();
    document.getElementById('opener')?.focus();
    shown.value = true;
    await settle();
    const labelled = dialog()?.getAttribute('aria-labelledby') ?? '';
    expect(document.getElementById(labelled)?.textContent).to.equal('Copy the budget');
    expect(document.activeElement?.id).to.equal('name');
    wrapper.unmount();
  });

  it('is sent once by its form, and left by Cancel', async () => {
    const { wrapper, shown, sent } = opened();
    shown.value = true;
    await settle();
    dialog()
      ?.querySelector('form')
      ?.dispatchEvent(new Event('submit', { cancelable: true }));
    expect(sent).to.deep.equal([1]);
    buttons()
      .find((button) => button.textContent === 'Cancel')
      ?.click();
    await settle();
    expect(shown.value).to.equal(false);
    wrapper.unmount();
  });

  it('says a refusal as an alert, and cannot be sent while it is under way or not complete', async () => {
    const { wrapper, shown } = opened({ failure: 'The name is taken', disabled: true });
    shown.value = true;
    await settle();
    expect(dialog()?.querySelector('[role="alert"]')?.textContent).to.equal('The name is taken');
    expect(buttons().find(({ type }) => type === 'submit')?.disabled).to.equal(true);
    wrapper.unmount();
  });
});

describe('a choice', () => {
  it('names what is in force and what it is about, and gives the value that is chosen', async () => {
    const options = [
      { value: 'month', name: 'Months' },
      { value: 'year', name: 'Years' },
    ];
    const wrapper = mount(Choice, {
      props: { label: 'Months', about: 'Columns', options, chosen: 'month' },
      ...dressed(),
    });
    const button = wrapper.get('button');
    expect(button.attributes('aria-label')).to.equal('Columns: Months');
    await button.trigger('click');
    await settle();
    const items = [...document.querySelectorAll<HTMLElement>('[role="menuitemradio"]')];
    expect(items.map((item) => item.getAttribute('aria-checked'))).to.deep.equal(['true', 'false']);
    items[1]?.click();
    expect(wrapper.emitted('choose')).to.deep.equal([['year']]);
    wrapper.unmount();
  });
});

describe('a file to pick', () => {
  it('is handed on, and the same one can be picked again', async () => {
    const wrapper = mount(FilePick, {
      props: { label: 'Import file', about: 'File to import', accept: '.csv' },
      ...dressed(),
    });
    const field = wrapper.get('input');
    expect(field.attributes('aria-label')).to.equal('File to import');
    const file = new File(['a'], 'a.csv');
    for (let time = 0; time < 2; time += 1) {
      Object.defineProperty(field.element, 'files', { configurable: true, value: [file] });
      await field.trigger('change');
    }
    expect(wrapper.emitted('pick')).to.deep.equal([[file], [file]]);
    wrapper.unmount();
  });
});

describe('a table that is read', () => {
  it('has a name for those who cannot see the place', () => {
    const wrapper = mount(SheetTable, {
      props: { about: 'Imports' },
      slots: { default: '<tbody><tr><td>1</td></tr></tbody>' },
      ...dressed(),
    });
    expect(wrapper.get('table caption').text()).to.equal('Imports');
    wrapper.unmount();
  });
});
