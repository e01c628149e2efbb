import type { ImportPreview, TableLook } from '@dravex/contract';
import { expect } from 'chai';
import { desk, type DeskParts } from '../../testing/desk.ts';
import { refusal } from '../../testing/server.ts';
import { useImport } from './use-import.ts';
import { useSummary } from './use-summary.ts';

const file = () => new File(['date;channel;net'], 'till.csv');
const look = (part: object = {}): TableLook =>
  ({
    reading: {
      ...{ header: ['date', 'net'], columns: { day: 0, revenue: 1 }, shape: 'long', constants: {} },
      ...{ values: [], turn: [] },
    },
    fields: [{ key: 'revenue', label: 'Net amount', need: 'amount', content: 'number' }],
    ...{ sheets: [], detected: [], missing: [], rows: [], mapping: null, ...part },
  }) as never;
const preview = (part: object = {}): ImportPreview =>
  ({ id: 7, fileName: 'till.csv', good: 9, faulty: 2, state: 'previewed', ...part }) as never;
type Reply = NonNullable<DeskParts['reply']>;
/** A server that reads files: what is not said here is an empty list. */
const opened = (reply: Reply) => desk(useImport, { reply: (asked) => reply(asked) });

describe('a file on its way in', () => {
  it('is checked at once where it is understood, and imported with what was left out', async () => {
    let applied = 0;
    const { used, asked, end } = await opened(({ method, path }) => {
      if (path.endsWith('/mappings')) return { body: [] };
      if (path.includes('/look')) return { body: look() };
      if (path.includes('/apply')) {
        return { body: preview({ job: { state: 'running', step: 1, steps: 2 } }) };
      }
      if (method === 'GET' && path.includes('/imports/7')) {
        applied += 1;
        return { body: preview({ state: 'applied', job: { state: 'done' } }) };
      }
      return { body: preview() };
    });
    await used.upload(file(), 'sales');
    expect([used.preview?.good, used.look, used.listed]).to.deep.equal([9, undefined, 1]);
    await used.apply();
    expect(used.done).to.equal('9 rows of till.csv are imported; 2 rows were excluded.');
    expect([applied, used.preview, used.busy]).to.deep.equal([1, undefined, '']);
    expect(asked.filter(({ path }) => path.endsWith('/plan')).length, 'numbers follow').to.equal(2);
    end();
  });

  it('shows how it would be read where something is missing, and keeps the mapping by its name', async () => {
    const { used, sent, end } = await opened(({ path, method }) => {
      if (path.endsWith('/mappings')) return { body: method === 'GET' ? [] : {} };
      if (path.includes('/look')) return { body: look({ missing: ['day'] }) };
      return { body: preview() };
    });
    await used.upload(file(), 'sales');
    expect([used.preview, used.look?.missing]).to.deep.equal([undefined, ['day']]);
    await used.settle('Till');
    const kept = sent().find(({ path }) => path.endsWith('/mappings'))?.body;
    expect(kept).to.deep.include({ name: 'Till', kind: 'sales', header: ['date', 'net'] });
    expect(used.preview?.id).to.equal(7);
    end();
  });

  it('is read by the mapping that was kept of one that looks alike', async () => {
    const mapping = { id: 4, name: 'Till', kind: 'sales', reading: { decimal: ',' } };
    const { used, asked, end } = await opened(({ path }) => {
      if (path.endsWith('/mappings')) return { body: [mapping] };
      if (path.includes('/look')) return { body: look({ mapping: { id: 4, name: 'Till' } }) };
      return { body: preview() };
    });
    await used.upload(file(), 'sales');
    const last = new URLSearchParams(asked.at(-1)?.path.split('?')[1]);
    expect(last.get('reading')).to.equal('{"decimal":","}');
    end();
  });

  it('says what is wrong with it, and stays where it was', async () => {
    const { used, end } = await opened(({ path }) =>
      path.endsWith('/mappings') ? { body: [] } : refusal(422, 'The file is empty'),
    );
    await used.upload(file(), 'sales');
    expect([used.failure, used.busy, used.preview]).to.deep.equal([
      'The file is empty',
      '',
      undefined,
    ]);
    end();
  });

  it('takes a code as a new member, or a customer as one of a group, and reads its rows anew', async () => {
    const { used, sent, end } = await opened(() => ({ body: preview() }));
    await used.show(7);
    await used.createMember('product', 'Café crème');
    await used.assignCustomer('group', 'C-17', 'hotels');
    const bodies = sent().map(({ body }) => body);
    expect(bodies).to.deep.equal([
      { code: 'café-crème', name: 'Café crème', parent: null },
      { replace: [{ field: 'product', from: 'Café crème', to: 'café-crème' }] },
      { assignments: [{ customer: 'C-17', member: 'hotels', from: '2025-01-01' }] },
      { again: [{ field: 'group', from: 'C-17' }] },
    ]);
    await used.discard();
    expect(used.preview).to.equal(undefined);
    await used.takeBack(preview());
    expect(used.done).to.contain('no longer count');
    end();
  });
});

describe('the summary of sales', () => {
  const sums = (revenue: number) => ({ units: 1, revenue, cost: null, lines: 1 });
  const row = (key: string, revenue: number) => ({
    ...{ key, label: key, level: key.split('/').length - 1, scope: [], parent: false },
    ...{ cells: [sums(revenue)], total: sums(revenue) },
  });
  const summary = { rows: [row('web', 5), row('web/tap', 5), row('stores', 9)], columns: [] };
  const shown = (at: string) => desk(useSummary, { at, reply: () => ({ body: summary }) });

  it('is cut, sorted and found by what the address says', async () => {
    const { used, asked, query, end } = await shown('rows=channel,product&by=product&origin=hand');
    expect(used.rows.value, 'what stands in columns stands on no row').to.deep.equal(['channel']);
    const last = new URLSearchParams(asked.at(-1)?.path.split('?')[1]);
    expect([last.get('columns'), last.get('origin')]).to.deep.equal(['product', 'hand']);
    const keys = () => used.shown.value.map(({ key }) => key);
    used.sortBy('total', 'revenue');
    await new Promise((resolve) => setTimeout(resolve, 10));
    expect(keys()).to.deep.equal(['stores', 'web', 'web/tap']);
    used.sortBy('total', 'revenue');
    await new Promise((resolve) => setTimeout(resolve, 10));
    expect(query()['sort']).to.equal('-total.revenue');
    expect(keys()).to.deep.equal(['web', 'web/tap', 'stores']);
    end();
  });

  it('finds a row with those it lies below, and says shares and growth', async () => {
    const { used, end } = await shown('find=TAP&beside=year-before');
    expect(used.shown.value.map(({ key }) => key)).to.deep.equal(['web', 'web/tap']);
    const figure = used.figureOf(sums(5) as never, sums(4) as never, sums(20) as never, 'revenue');
    expect(figure).to.deep.equal({ value: 5, share: 0.25, before: 4, growth: 0.25 });
    expect(used.fileAs('csv')).to.contain('/summary.csv?');
    end();
  });
});
