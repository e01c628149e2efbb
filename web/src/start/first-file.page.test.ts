import type { FirstFileLook, WorkspaceProposal } from '@dravex/contract';
import { expect } from 'chai';
import { dressed } from '../../testing/mounting.ts';
import { answering, refusal, type Asked } from '../../testing/server.ts';
import { DIMENSION, useFirstFile } from './use-first-file.ts';

const file = () => new File(['day;shop;net'], 'till.2026.csv');
const field = (key: string, need: string) => ({ key, label: key, need, content: 'number' });
const look = (part: object = {}): FirstFileLook =>
  ({
    reading: {
      ...{ header: ['Day', 'Shop', ''], columns: { day: 0, revenue: 2, shop: 1 }, turn: [] },
      ...{ decimal: '.', constants: {}, shape: 'long', values: [] },
    },
    fields: [field('day', 'always'), field('revenue', 'amount')],
    rows: [1, 2, 3].map((row) => ({ row, cells: ['2026-01-01', 'A', row === 3 ? 5 : '-10'] })),
    dimensions: [{ code: 'shop', name: 'Shop', column: 1, value: null }],
    ...{ sheets: [], detected: [], missing: [], mapping: null, ...part },
  }) as never;
const proposal: WorkspaceProposal = {
  ...{ rows: 3, totals: 0, faulty: 0, reading: {}, months: [] },
  calendar: {
    ...{ first: '2026-01', last: '2026-01', closedThrough: '2026-01', asOf: '2020-02-01' },
    fiscalStart: 1,
  },
  dimensions: [],
} as never;
const company = { name: 'Till', currency: 'EUR', fiscalStart: 4, locale: 'en-IE', years: 2 };

function opened(reply: (asked: Asked) => { status?: number; body?: unknown }) {
  dressed();
  const server = answering(reply);
  const reading = (): Record<string, unknown> => {
    const query = new URLSearchParams(server.asked.at(-1)?.path.split('?')[1]);
    return JSON.parse(query.get('reading') ?? '{}') as Record<string, unknown>;
  };
  return { used: useFirstFile(), ...server, reading };
}
const reads = ({ path, method }: Asked) => {
  if (path.includes('/first-file')) return { body: look() };
  if (path.includes('/proposal')) return { body: proposal };
  if (method === 'POST' && path.endsWith('/workspaces')) return { status: 201, body: { id: 5 } };
  if (path.includes('/imports')) return { body: { id: 7, good: 3, faulty: 0 } };
  return { body: { workspaces: [], preferences: {} } };
};

describe('a first file', () => {
  it('is looked at, a column is given another meaning, and its sign is turned', async () => {
    const { used, reading, end } = opened(reads);
    await used.choose(file());
    expect([used.step.value, used.lacking.value]).to.deep.equal(['columns', []]);
    expect(
      used.negative.value.map(({ key }) => key),
      'as ledgers have it',
    ).to.deep.equal(['revenue']);
    await used.turn('revenue');
    expect(reading()['turn']).to.deep.equal(['revenue']);
    await used.assign(2, DIMENSION);
    expect(reading()).to.deep.include({
      columns: { day: 0, revenue: null },
      dimensions: [
        { name: 'Shop', column: 1 },
        { name: 'Column 3', column: 2 },
      ],
    });
    await used.fixDimensions([{ name: 'Country', value: 'IE' }]);
    expect(reading()['dimensions']).to.deep.equal([
      { name: 'Shop', column: 1 },
      { name: 'Country', value: 'IE' },
    ]);
    end();
  });

  it('says what it lacks, and why it cannot be read, by line', async () => {
    const { used, end } = opened(({ path }) =>
      path.includes('/first-file')
        ? { body: look({ missing: ['day', 'revenue'], dimensions: [] }) }
        : refusal(422, 'Nothing can be read', {
            errors: [{ path: 'line 2', message: 'has no day' }],
          }),
    );
    await used.choose(file());
    expect(used.lacking.value).to.deep.equal([
      ...['day', 'quantity or net amount', 'at least one dimension'],
    ]);
    await used.propose();
    expect([used.failure.value, used.faults.value, used.step.value]).to.deep.equal([
      ...['Nothing can be read', ['line 2: has no day'], 'columns'],
    ]);
    end();
  });

  it('becomes a workspace whose next file is read as this one, and its sales lines', async () => {
    const { used, asked, end } = opened(reads);
    await used.choose(file());
    await used.propose();
    expect(used.step.value).to.equal('workspace');
    await used.make(company, () => Promise.resolve());
    expect([used.failure.value, used.step.value, used.workspaceId.value]).to.deep.equal([
      ...['', 'check', 5],
    ]);
    const made = asked.find(({ method, path }) => method === 'POST' && path === '/workspaces');
    expect(made?.body).to.deep.include({ name: 'Till', asOfBy: 'hand' });
    expect((made?.body as { calendar: object }).calendar).to.include({
      ...{ last: '2028-01', fiscalStart: 4 },
    });
    const kept = asked.find(({ path }) => path.endsWith('/mappings'))?.body;
    expect(kept).to.deep.include({ name: 'till.2026', kind: 'sales' });
    // Trying again does not make a second one.
    await used.make(company, () => Promise.resolve());
    const posts = asked.filter(({ method, path }) => method === 'POST' && path === '/workspaces');
    expect(posts.length).to.equal(1);
    await used.apply();
    expect(used.step.value).to.equal('streams');
    end();
  });

  it('is not needed: dimensions are written down, with a code of its own for each member', async () => {
    const { used, asked, end } = opened(reads);
    used.begin([{ name: 'Shop', members: ['North side', 'North-side', 'South'] }]);
    const codes = used.proposal.value?.dimensions[0]?.members.map(({ code }) => code);
    expect(codes).to.deep.equal(['north-side', 'north-side-2', 'south']);
    let done = 0;
    await used.make(company, () => Promise.resolve((done += 1)));
    expect([done, asked.some(({ path }) => path.includes('/imports'))]).to.deep.equal([1, false]);
    end();
  });
});
