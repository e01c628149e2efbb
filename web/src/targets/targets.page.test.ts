import type { TargetNode, TargetTree } from '@dravex/contract';
import { expect } from 'chai';
import { desk } from '../../testing/desk.ts';
import { refusal, type Asked } from '../../testing/server.ts';
import { useTargets } from './use-targets.ts';

function node(id: number, parent: number | null, amount: number, part: object = {}): TargetNode {
  return {
    ...{ id, parent, level: parent === null ? 0 : 1, name: `N${id}`, kind: 'area', scope: [] },
    ...{ seller: null, account: null, manager: null, from: null, until: null, ramp: [] },
    ...{ full: null, cushion: 0, locked: false, state: 'draft', comment: null, deals: null },
    ...{ known: true, assignable: amount, cushionUsed: 0, capacity: null, best: 0, months: null },
    ...{ monthsTyped: false, counts: null, others: null, due: 0.5, toDate: 1, pace: 1 },
    ...{ part: { kind: 'amount', amount }, typed: null, amount, share: 0.5 },
    ...{ unassigned: null, overAssigned: null, percentsBelow: 0, lastYear: 0, actual: 0 },
    ...{ ahead: 0, aheadShare: 1, outlook: 0, attained: 0, ...part },
  } as TargetNode;
}
const objective = { id: 1, name: 'Revenue', measure: 'revenue', amount: 1_000_000 };
const tree = (nodes: readonly TargetNode[], part: object = {}): TargetTree =>
  ({
    ...{ fiscalYear: 2026, objectives: [objective], objective, wholes: 100, due: 0.5 },
    ...{ nodes, ...part },
  }) as never;
const NODES = [node(1, null, 1_000_000), node(2, 1, 400_000), node(3, 1, 600_000)];
const opened = (write: (asked: Asked) => { status?: number; body?: unknown }, at = '') =>
  desk(() => useTargets(), {
    at: `from=2026-01&to=2026-12&unit=1${at}`,
    reply: (asked) => {
      if (asked.method !== 'GET') return write(asked);
      if (asked.path.includes('objective=9')) return refusal(404, 'No such objective');
      return { body: tree(NODES) };
    },
  });
const typed = (row: string, text: string) => [{ row, column: 'target', text }];

describe('typing targets', () => {
  it('shows at once what follows, sends parts with what they saw, and takes the answer', async () => {
    const answer = tree([node(1, null, 1_000_000), node(2, 1, 450_000), node(3, 1, 600_000)]);
    const { used, sent, done, end } = await opened(() => ({ body: answer }));
    used.typed.edit(typed('2', '4500'));
    await done();
    expect(sent().at(-1)?.body).to.deep.equal({
      parts: [
        {
          node: 2,
          part: { kind: 'amount', amount: 450_000 },
          saw: { kind: 'amount', amount: 400_000 },
        },
      ],
    });
    end();
  });

  it('offers to pass down what was typed over a team whose parts are amounts', async () => {
    const parts = [node(1, null, 1_000_000), node(2, 1, 450_000), node(4, 2, 400_000)];
    const { used, sent, done, end } = await desk(() => useTargets(), {
      at: 'from=2026-01&to=2026-12&unit=1',
      reply: ({ method, path }) => ({
        body:
          method === 'GET'
            ? tree([node(1, null, 1_000_000), node(2, 1, 400_000), node(4, 2, 400_000)])
            : path.endsWith('/parts')
              ? tree(parts)
              : {},
      }),
    });
    used.typed.edit(typed('2', '4500'));
    await done();
    expect(used.offer.value).to.deep.include({ was: 400_000, becomes: 450_000 });
    await used.passDown();
    expect(sent().at(-1)?.body).to.deep.equal({
      division: { kind: 'passDown', amount: 450_000, was: 400_000 },
    });
    expect(used.offer.value).to.equal(undefined);
    end();
  });

  it('asks for a reason where something agreed is changed, and sends it along', async () => {
    const errors = [{ path: 'reason', message: 'N2 is agreed' }];
    const { used, sent, done, end } = await opened(({ body }) =>
      (body as { reason?: string }).reason === undefined
        ? refusal(422, 'Say why', { errors })
        : { body: tree(NODES) },
    );
    used.typed.edit(typed('2', '4500'));
    await done();
    expect(used.reasonFor.value?.why).to.equal('N2 is agreed');
    expect(used.tree.value?.nodes[1]?.amount, 'not shown as if it were so').to.equal(400_000);
    await used.reasonFor.value?.again('A new market');
    expect(sent().at(-1)?.body).to.include({ reason: 'A new market' });
    end();
  });

  it('names both values where somebody else was faster', async () => {
    const conflicts = [{ path: 'parts.0.part', saw: null, now: null, by: 'Ilse', at: 'now' }];
    const { used, plan, done, end } = await opened(() => refusal(409, 'Changed', { conflicts }));
    used.typed.edit(typed('3', '50%'));
    await done();
    expect(plan.clash?.rows[0]).to.deep.include({
      ...{ label: 'Target of N3, FY 2026', by: 'Ilse' },
      ...{ theirs: '6,000.00', mine: '50.0%' },
    });
    end();
  });

  it('falls back to the first objective where an address names one that is gone', async () => {
    const { used, asked, end } = await opened(() => ({}), '&objective=9');
    expect(used.tree.value?.objective?.id).to.equal(1);
    expect(asked.filter(({ path }) => path.includes('/targets/')).length).to.equal(2);
    end();
  });
});
