import type { FilledSheet, SheetLine } from '@dravex/contract';
import { expect } from 'chai';
import { M } from '../../../core/src/testing/small-plan.ts';
import { desk } from '../../testing/desk.ts';
import { refusal, type Asked } from '../../testing/server.ts';
import { useSheet } from './use-sheet.ts';

const line = (key: string, scope: number[], plan: number, part: object = {}): SheetLine => ({
  ...{ key, name: key, level: 1, parent: false, scope, comment: '', basis: 'standing' },
  ...{ locked: false, lastYear: plan, lastTwelve: plan, forecast: null, target: null, plan },
  ...part,
});
const filled = (): FilledSheet => ({
  sheet: {
    ...{ id: 's', title: 'North', version: 1, versionName: 'Budget', person: 1, personName: 'M' },
    ...{ scope: [], rows: ['channel'], measure: 'revenue', due: null, state: 'handedOut' },
    ...{ steps: [], from: '2026-01', to: '2026-12', open: true },
  },
  lines: [
    line('all', [], 300_000, { level: 0, parent: true }),
    line('web', [M.web], 100_000),
    line('stores', [M.stores], 200_000),
  ],
  ...{ closedThrough: '2025-12', minorDigits: 2 },
});
const opened = (write: () => { status?: number; body?: unknown }) =>
  desk(() => useSheet(() => 's'), {
    at: 'unit=1',
    reply: ({ method, path }: Asked) =>
      method === 'POST' && path.endsWith('/entries')
        ? write()
        : path.endsWith('/sheets/s')
          ? { body: filled() }
          : {},
  });
const saved = () => ({ body: { cells: 12, lastEntry: 1, revision: 1, journal: 1 } });
const edit = (row: string, text: string) => [{ row, column: 'plan', text }];
const reads = (asked: readonly Asked[]): number =>
  asked.filter(({ method, path }) => method === 'GET' && path.endsWith('/sheets/s')).length;

describe('filling in a sheet', () => {
  it('sends numbers in minor units with what they saw, one after the other', async () => {
    const { used, sent, done, end } = await opened(saved);
    used.typed.edit(edit('web', '1200'));
    used.typed.edit(edit('stores', '+10%'));
    await done();
    const typed = sent().map(({ body }) => (body as { typed: object[] }).typed[0]);
    expect(typed).to.deep.equal([
      { scope: [M.web], total: 120_000, saw: 100_000 },
      { scope: [M.stores], total: 220_000, saw: 200_000 },
    ]);
    expect(used.typed.waiting.value.size).to.equal(0);
    end();
  });

  it('is read again once where lines do not meet, and before a line that lies above another', async () => {
    const { used, asked, server, done, end } = await opened(() => {
      server.revision += 1;
      return saved();
    });
    const before = reads(asked);
    used.typed.edit(edit('web', '1200'));
    used.typed.edit(edit('stores', '2200'));
    await done();
    expect(reads(asked) - before).to.equal(1);
    used.typed.edit(edit('web', '1300'));
    used.typed.edit(edit('all', '4000'));
    await done();
    expect(reads(asked) - before).to.equal(3);
    end();
  });

  it('refuses at the line, keeps the old value, and shows what somebody else typed', async () => {
    const conflicts = [{ path: 'typed.0.total', saw: 1, now: 150_000, by: 'Ilse', at: 'now' }];
    const { used, plan, sent, done, end } = await opened(() =>
      refusal(409, 'Changed', { conflicts }),
    );
    used.typed.edit(edit('web', ''));
    await done();
    expect([sent().length, used.typed.refused.value.get('web plan')]).to.deep.equal([
      0,
      'web: A planned number is not emptied; type 0 to plan nothing',
    ]);
    used.typed.edit(edit('web', '1200'));
    await done();
    expect(plan.clash?.rows[0]).to.include({ theirs: '1,500.00', mine: '1,200.00', by: 'Ilse' });
    end();
  });

  it('says why it cannot be shown', async () => {
    const { used, end } = await desk(() => useSheet(() => 'gone'), {
      reply: () => refusal(404, 'There is no such sheet'),
    });
    expect([used.failure.value, used.filled.value]).to.deep.equal([
      'There is no such sheet',
      undefined,
    ]);
    end();
  });
});
