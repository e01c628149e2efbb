import { expect } from 'chai';
import { desk } from '../../testing/desk.ts';
import { settle } from '../../testing/mounting.ts';
import { useHistory } from '../journal/use-history.ts';
import { useSession } from '../people/use-session.ts';
import { useTrace } from '../trace/use-trace.ts';
import { useKeys } from './use-keys.ts';
import { isDark, themeChoice, useThemeChoice } from './use-theme.ts';

function press(key: string, part: object = {}, target: EventTarget = document.body): boolean {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...part });
  target.dispatchEvent(event);
  return event.defaultPrevented;
}
const opened = () =>
  desk(() => ({ ...useKeys(), trace: useTrace(), history: useHistory() }), {
    at: 'from=2026-01&to=2026-03',
  });
const explained = { kind: 'node', node: {} as never, about: '' } as const;

describe('keys of every room', () => {
  it('go to a room by g and its numeral, soon enough', async () => {
    const { router, end } = await opened();
    expect(press('6'), 'alone it is a figure').to.equal(false);
    press('g');
    expect(press('6')).to.equal(true);
    await settle();
    expect(router.currentRoute.value.path).to.equal('/w/1/targets');
    press('g');
    press('x');
    expect(press('4'), 'something else came between').to.equal(false);
    end();
  });

  it('move the window by its length, and not beyond the calendar', async () => {
    const { query, end } = await opened();
    press(']');
    press(']');
    await settle();
    expect([query()['from'], query()['to']]).to.deep.equal(['2026-07', '2026-09']);
    for (let times = 0; times < 4; times += 1) press(']');
    await settle();
    expect([query()['from'], query()['to']]).to.deep.equal(['2026-10', '2026-12']);
    press('[');
    await settle();
    expect(query()['from']).to.equal('2026-07');
    end();
  });

  it('leave fields, menus and dialogs alone, but for those with Ctrl that work everywhere', async () => {
    const { used, end } = await opened();
    const field = document.createElement('input');
    document.body.append(field);
    expect([press('?', {}, field), press('g', {}, field)]).to.deep.equal([false, false]);
    expect(used.keys.value).to.equal(false);
    expect(press('k', { ctrlKey: true }, field)).to.equal(true);
    expect(used.palette.value).to.equal(true);
    expect(press('z', { ctrlKey: true }, field), 'a field takes its own back').to.equal(false);
    // A grid's field is the room's as long as no cell is open.
    field.dataset['typing'] = 'rest';
    expect(press('?', {}, field)).to.equal(true);
    field.dataset['typing'] = 'replace';
    used.keys.value = false;
    press('?', {}, field);
    expect(used.keys.value).to.equal(false);
    field.remove();
    end();
  });

  it('enter the next table of the page, and the first one after the last', async () => {
    const { end } = await opened();
    const fields = ['a', 'b'].map((id) => {
      const field = document.createElement('input');
      Object.assign(field, { id });
      field.dataset['typing'] = 'rest';
      document.body.append(field);
      return field;
    });
    const where = () => document.activeElement?.id;
    press('F6');
    expect(where()).to.equal('a');
    expect(press('F6', {}, fields[0]), 'in a table it leaves it').to.equal(false);
    fields.forEach((field) => field.remove());
    expect(press('F6')).to.equal(false);
    end();
  });

  it('open and close what explains, which goes back the way it came', async () => {
    const { used, end } = await opened();
    expect(press(' '), 'nothing was asked').to.equal(false);
    used.trace.follow(explained);
    expect(used.trace.open).to.equal(false);
    press(' ');
    used.trace.deeper({ ...explained, about: 'deeper' });
    expect([used.trace.open, used.trace.way.length]).to.deep.equal([true, 2]);
    used.trace.back();
    used.trace.back();
    expect(used.trace.way.length, 'the first one stays').to.equal(1);
    press('Escape');
    expect(used.trace.open).to.equal(false);
    used.trace.unfold();
    used.history.toggle();
    expect([used.trace.open, used.history.open], 'both take the same place').to.deep.equal([
      false,
      true,
    ]);
    used.trace.leave();
    used.trace.unfold();
    expect(used.trace.open).to.equal(false);
    end();
  });

  it('undo and redo what was done in the room in sight', async () => {
    const { sent, done, end } = await opened();
    press('z', { ctrlKey: true });
    press('y', { ctrlKey: true });
    press('Z', { ctrlKey: true, shiftKey: true });
    await done();
    const acts = sent().map(({ path }) => path.split('/').at(-1)?.split('?')[0]);
    expect(acts).to.deep.equal(['undo', 'redo', 'redo']);
    end();
  });
});

describe('the theme', () => {
  it('is what the person prefers, and the device remembers it', async () => {
    const { end } = await desk(useThemeChoice);
    const session = useSession();
    const prefer = async (theme: 'light' | 'dark' | 'system') => {
      if (session.session) session.session.preferences = { theme } as never;
      await settle();
    };
    await prefer('dark');
    expect([isDark(), document.documentElement.dataset['theme']]).to.deep.equal([true, 'dark']);
    expect(localStorage.getItem('dravex theme')).to.equal('dark');
    await prefer('light');
    expect([isDark(), themeChoice.value]).to.deep.equal([false, 'light']);
    end();
  });
});
