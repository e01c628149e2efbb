import type { DriverState, KeptAssumption, WorkspacePlan } from '@dravex/contract';
import { compile, evaluate, monthFrom, referenceOf } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, serveSample, type Served, type Visitor } from '../testing/serve.ts';

describe('states of a driver, copies, and its measured history', () => {
  let served: Served;
  let planner: Visitor;
  const members = new Map<string, number>();
  before(async () => {
    served = await serveSample();
    planner = await served.planner();
    for (const { members: membersOfDimension } of (await plan()).dimensions) {
      for (const { code, id } of membersOfDimension) members.set(code, id);
    }
  });
  after(() => served.close());

  const id = (code: string): number => members.get(code) ?? 0;
  const plan = async (): Promise<WorkspacePlan['plan']> =>
    (await planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body.plan;
  /** What is assumed of a driver, without who set it and when. */
  const assumed = async (driver: string): Promise<Omit<KeptAssumption, 'by' | 'at'>[]> =>
    (await plan()).assumptions
      .filter((row) => row.driver === driver)
      .map(({ by: _, at: __, ...row }) => row);
  const states = async (driver: string): Promise<DriverState[]> =>
    (await planner.send<DriverState[]>('GET', `${SAMPLE}/drivers/${driver}/states`)).body;

  it('any state is brought back as it was, and that is taken back too', async () => {
    const path = `${SAMPLE}/drivers/discount`;
    const start = await assumed('discount');
    await planner.send('PUT', `${path}/values`, {
      values: [
        { scope: [id('web')], month: '2026-12', value: 0.3 },
        { scope: [id('web')], month: '2027-01', value: 0.31 },
      ],
    });
    const typed = await assumed('discount');
    const profile = { kind: 'value', value: 0.5 };
    await planner.send('POST', `${path}/assumptions`, { scope: [id('lakes')], profile });
    await planner.send('DELETE', `${path}/assumptions/${start[0]?.id ?? 0}`);
    const end = await assumed('discount');
    const list = await states('discount');
    assert.deepEqual(
      list.map(({ changes }) => changes > 0),
      [true, true, true, true],
    );
    const [, , second, first] = list;
    const back = await planner.send('POST', `${path}/states/${second?.id ?? 0}`);
    assert.equal(back.status, 200, back.text);
    assert.deepEqual(await assumed('discount'), typed);
    await planner.send('POST', `${path}/states/${first?.id ?? 0}`);
    assert.deepEqual(await assumed('discount'), start);
    await planner.send('POST', `${SAMPLE}/undo`);
    await planner.send('POST', `${SAMPLE}/undo`);
    assert.deepEqual(await assumed('discount'), end);
    const strange = await planner.send('POST', `${path}/states/999999`);
    assert.equal(strange.status, 404);
  });

  it('a state that the bounds of now forbid stays where it is', async () => {
    const path = `${SAMPLE}/drivers/returnRate`;
    const [latest] = await states('returnRate');
    const set = (value: number) =>
      planner.send('POST', `${path}/assumptions`, {
        scope: [id('coast')],
        profile: { kind: 'value', value },
      });
    await set(0.6);
    const [high] = await states('returnRate');
    await planner.send('POST', `${path}/states/${latest?.id ?? 0}`);
    const now = await assumed('returnRate');
    assert.equal((await planner.send('PATCH', path, { maximum: 0.4 })).status, 204);
    const refused = await planner.send('POST', `${path}/states/${high?.id ?? 0}`);
    assert.equal(refused.status, 400);
    assert.include(refused.problem?.detail, 'maximum');
    assert.deepEqual(await assumed('returnRate'), now);
  });

  it('a scope’s assumptions are copied to another, in one change', async () => {
    const copy = (body: object) => planner.send('POST', `${SAMPLE}/assumptions/copy`, body);
    const before = await assumed('returnRate');
    const ofWebShop = before.filter(({ scope }) => scope.includes(id('web')));
    const done = await copy({ from: [id('web')], into: [id('trade')], drivers: ['returnRate'] });
    assert.deepEqual(done.body, { copied: ofWebShop.length, replaced: 1 });
    const after = await assumed('returnRate');
    const trade = after.filter(({ scope }) => scope.includes(id('trade')));
    assert.deepEqual(
      trade.map(({ profile }) => profile),
      ofWebShop.map(({ profile }) => profile),
    );
    await planner.send('POST', `${SAMPLE}/undo`);
    assert.deepEqual(await assumed('returnRate'), before);
    const wrong: [object, string][] = [
      [{ from: [], into: [] }, 'same dimensions'],
      [{ from: [id('web')], into: [id('north')] }, 'same dimensions'],
      [{ from: [99_999], into: [id('web')] }, 'no member'],
      [
        { from: [id('cafes'), id('lakes')], into: [id('offices'), id('lakes')] },
        'There are no inputs',
      ],
    ];
    for (const [body, message] of wrong) {
      const refused = await copy(body);
      assert.equal(refused.status, 400, message);
      assert.include(refused.problem?.detail, message);
    }
    assert.equal(
      (await copy({ from: [id('web')], into: [id('trade')], drivers: ['no'] })).status,
      404,
    );
  });

  it('measured facts and returns reach the plan, and say what drivers were', async () => {
    const now = await plan();
    const model = evaluate(compile(now));
    const quiz = referenceOf(model, 'quizRate', []);
    assert.closeTo(quiz?.lastThree ?? 0, 0.15, 0.001);
    assert.closeTo(referenceOf(model, 'subscribeRate', [])?.lastYear ?? 0, 0.35, 0.25);
    assert.closeTo(referenceOf(model, 'returnRate', [id('web')])?.lastYear ?? 0, 0.04, 0.02);
    assert.isAbove(referenceOf(model, 'marketShare', [])?.lastYear ?? 0, 0.1);
    const { rows } = await served.connections.pool.query<{ returned: number }>(`
      select sum(-quantity)::float8 as returned from sales_line
      where quantity < 0 and date < '2026-10-01'`);
    const closed = monthFrom(now.calendar.closedThrough);
    const { returned = [], month } = now.actuals;
    const sum = returned.reduce(
      (all, units, i) => all + (monthFrom(month[i] ?? '') <= closed ? units : 0),
      0,
    );
    assert.equal(sum, rows[0]?.returned, 'the summary holds what the lines say');
    const wrong = await planner.send('PATCH', `${SAMPLE}/drivers/discount`, {
      history: { measure: 'Visits', per: null },
    });
    assert.equal(wrong.status, 400);
    assert.include(wrong.problem?.detail, 'follows from the sales lines');
    const path = `${SAMPLE}/drivers/trialRate`;
    const history = { measure: 'Trials started', per: 'Quizzes taken' };
    assert.equal((await planner.send('PATCH', path, { history })).status, 204);
    assert.deepInclude(
      (await plan()).drivers.find(({ code }) => code === 'trialRate'),
      { history },
    );
    await planner.send('POST', `${SAMPLE}/undo`);
    assert.isNull((await plan()).drivers.find(({ code }) => code === 'trialRate')?.history);
  });
});
