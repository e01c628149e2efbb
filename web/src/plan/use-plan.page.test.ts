import type { Changes, WorkspacePlan } from '@dravex/contract';
import { monthText } from '@dravex/core';
import { expect } from 'chai';
import { createPinia, setActivePinia } from 'pinia';
import { assume, M, smallPlan } from '../../../core/src/testing/small-plan.ts';
import { answering, refusal, type Asked } from '../../testing/server.ts';
import { workHere } from '../../testing/worker.ts';
import { useSession } from '../people/use-session.ts';
import { ApiProblem } from '../shell/api.ts';
import { usePlan } from './use-plan.ts';

const kept = (value: number) => ({
  ...assume('listPrice', [M.web], value),
  id: 1,
  by: 'Mara',
  at: '2026-01-05T10:00:00Z',
});
const loaded = (value: number, revision: number): Partial<WorkspacePlan> => ({
  name: 'Small',
  locale: 'en-IE',
  revision,
  plan: { ...smallPlan([]), assumptions: [kept(value)], adjustments: [] } as never,
});
const changed = (value: number, revision: number): Partial<Changes> =>
  ({
    revision,
    whole: false,
    put: [kept(value)],
    drop: [],
    adjustments: { put: [], drop: [] },
    overrides: { put: [], drop: [] },
    versions: [],
  }) as never;
const typing = (value: number) => ({
  values: [{ scope: [M.web], month: monthText(24_312), value }],
  totals: [],
  changes: [],
  why: '',
});
const turn = (ms = 30): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** A plan that is open, with a server that keeps one list price. */
async function opened(write: (asked: Asked) => { status?: number; body?: unknown }) {
  setActivePinia(createPinia());
  const there = { value: 10, revision: 1 };
  const server = answering((asked) => {
    if (asked.path.endsWith('/plan')) return { body: loaded(there.value, there.revision) };
    if (asked.path.endsWith('/versions')) return { body: [] };
    if (asked.path.includes('/changes')) return { body: changed(there.value, there.revision) };
    return write(asked);
  });
  const plan = usePlan();
  expect(await plan.open(1), plan.failure).to.equal(true);
  const price = (): unknown => {
    const profile = plan.assumptions.get(1)?.profile;
    return profile?.kind === 'value' ? profile.value : undefined;
  };
  return { plan, server, there, price };
}

describe('the plan in force', () => {
  before(() => workHere());

  it('follows what others change, but not while a cell is open', async () => {
    const { plan, server, there, price } = await opened(() => ({}));
    plan.editing = true;
    Object.assign(there, { value: 12, revision: 2 });
    await plan.hear(2, 'Ilse', 'Drivers');
    expect([price(), plan.revision]).to.deep.equal([10, 1]);
    plan.editing = false;
    await turn();
    expect([price(), plan.revision]).to.deep.equal([12, 2]);
    expect(plan.said?.text).to.equal('Ilse changed Drivers');
    // What is known already is not asked for again.
    const before = server.asked.length;
    await plan.hear(2);
    expect(server.asked.length).to.equal(before);
    // What many type at about the same time is asked for together.
    Object.assign(there, { value: 15, revision: 5 });
    await Promise.all([plan.hear(3), plan.hear(5, 'Ole', 'Drivers'), plan.hear(4)]);
    expect([price(), plan.revision, plan.said?.text]).to.deep.equal([15, 5, 'Ole changed Drivers']);
    expect(server.asked.length).to.equal(before + 1);
    server.end();
  });

  it('shows again what was there when a value cannot be saved, and says so', async () => {
    const { plan, server, price } = await opened(() => refusal(422, 'listPrice is below 0'));
    const failed = await plan.type('listPrice', typing(-5)).catch((error: unknown) => error);
    expect((failed as Error).message).to.equal('listPrice is below 0');
    expect([plan.saving, price()]).to.deep.equal(['failed', 10]);
    server.end();
  });

  it('sends what it saw with each value, and hands on what somebody else changed meanwhile', async () => {
    const conflicts = [{ path: 'values.0', saw: null, now: 14, by: 'Ilse', at: 'now' }];
    const { plan, server } = await opened(() => refusal(409, 'Changed meanwhile', { conflicts }));
    const clash = await plan.type('listPrice', typing(11)).catch((error: unknown) => error);
    expect(clash).to.be.instanceOf(ApiProblem);
    expect((clash as ApiProblem).conflicts).to.deep.equal(conflicts);
    const sent = server.asked.find(({ method }) => method === 'PUT')?.body as ReturnType<
      typeof typing
    >;
    expect(sent.values[0]).to.include({ value: 11, saw: 10 });
    server.end();
  });

  it('waits for its person when the session has ended, and is then kept as it was typed', async () => {
    let signedIn = false;
    const result = {
      put: [{ ...kept(11), id: 2 }],
      drop: [],
      adjustments: { put: [], drop: [] },
      overrides: { put: [], drop: [] },
      revision: 2,
      journal: 5,
    };
    const { plan, server } = await opened(() =>
      signedIn ? { body: result } : refusal(401, 'Not signed in'),
    );
    const session = useSession();
    session.session = { person: { id: 1, name: 'Mara', email: 'm' }, workspaces: [] } as never;
    const typed = plan.type('listPrice', typing(11));
    await turn();
    expect([session.ended, plan.saving]).to.deep.equal([true, 'saving']);
    signedIn = true;
    session.resume(true);
    expect((await typed).journal).to.equal(5);
    expect([plan.saving, plan.revision, plan.assumptions.size]).to.deep.equal(['saved', 2, 2]);
    const keys = server.asked
      .filter(({ method }) => method === 'PUT')
      .map(({ headers }) => headers['idempotency-key']);
    expect(keys.length).to.equal(2);
    expect(new Set(keys).size, 'one write, sent again under its own key').to.equal(1);
    server.end();
  });

  it('asks before it undoes what is out of sight, and goes on when it is told to', async () => {
    const record = { journal: 9, what: 'Typed List price', room: 'drivers', at: 'then' };
    const { plan, server } = await opened((asked) =>
      asked.path.includes('/journal/9/')
        ? { body: { record: { what: 'Undone: Typed List price' }, revision: 1 } }
        : refusal(409, 'Out of sight', { asks: record }),
    );
    await plan.undo('forecast');
    expect(plan.asking).to.deep.equal({ record, which: 'undo' });
    await plan.goOn();
    expect(plan.asking).to.equal(undefined);
    expect(plan.said?.text).to.equal('Undone: Typed List price');
    expect(server.asked.at(-2)?.path).to.equal('/workspaces/1/journal/9/undo');
    server.end();
  });

  it('cannot be opened without its workspace, and says why', async () => {
    setActivePinia(createPinia());
    const server = answering(() => refusal(404, 'There is no such workspace here'));
    const plan = usePlan();
    expect(await plan.open(7)).to.equal(false);
    expect(plan.failure).to.equal('There is no such workspace here');
    server.end();
  });
});
