import type { TypingResult, WorkspacePlan } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, serveSample, type Served, type Visitor } from '../testing/serve.ts';

describe('drivers', () => {
  let served: Served;
  let planner: Visitor;
  let plan: WorkspacePlan['plan'];
  const id = (code: string): number => {
    const memberFound = plan.dimensions
      .flatMap(({ members }) => members)
      .find((m) => m.code === code);
    if (!memberFound) throw new Error(`no member ${code}`);
    return memberFound.id;
  };
  before(async () => {
    served = await serveSample();
    planner = await served.planner();
    plan = (await planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body.plan;
  });
  after(() => served.close());

  const put = (driver: string, body: object | string) =>
    planner.send<TypingResult>('PUT', `${SAMPLE}/drivers/${driver}/values`, body);
  const value = (scope: number[], month: string, typed: unknown) => ({
    values: [{ scope, month, value: typed }],
  });

  it('keep what is typed, exactly as it was typed', async () => {
    const { status, body } = await put('listPrice', value([id('web')], '2026-11', 0.1));
    assert.equal(status, 200);
    assert.deepEqual(body.put[0]?.profile, { kind: 'months', values: { '2026-11': 0.1 } });
    assert.equal(body.put[0]?.by, 'Mara Ellingsen');
    const { rows } = await served.connections.pool.query<{ kept: string }>(
      `select profile->'values'->>'2026-11' as kept from assumption where id = $1`,
      [body.put[0]?.id],
    );
    assert.equal(rows[0]?.kept, '0.1');
    const back = await put('listPrice', value([id('web')], '2026-11', null));
    assert.deepEqual(back.body.drop, [body.put[0]?.id ?? 0]);
  });

  it('refuse values outside their bounds and keep the old one', async () => {
    for (const [driver, typed, message] of [
      ['listPrice', -5, 'below the minimum of 0'],
      ['discount', 1.01, 'above the maximum of 100 %'],
      ['listPrice', 'abc', 'not a number'],
    ] as const) {
      const { status, problem } = await put(driver, value([id('web')], '2026-11', typed));
      assert.equal(status, 400);
      assert.include(problem?.errors?.[0]?.message, message);
      assert.include(problem?.errors?.[0]?.path, 'values.0');
    }
    const huge = await put(
      'listPrice',
      `{"values":[{"scope":[],"month":"2026-11","value":1e400}]}`,
    );
    assert.equal(huge.status, 400);
    const { body } = await planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    assert.deepEqual(body.plan.assumptions, plan.assumptions);
  });

  it('refuse members that are not there and months outside the horizon, with the path', async () => {
    const stranger = await put('discount', value([999_999], '2026-11', 0.1));
    assert.equal(stranger.status, 400);
    assert.deepEqual(stranger.problem?.errors, [
      { path: 'values.0.scope.0', message: 'There is no member 999999' },
    ]);
    const late = await put('discount', value([], '2031-01', 0.1));
    assert.equal(late.problem?.errors?.[0]?.path, 'values.0.month');
    assert.include(late.problem?.detail, 'outside the horizon, 2023-04 to 2029-03');
    const closed = await put('discount', value([], '2026-09', 0.1));
    assert.include(closed.problem?.detail, 'closed');
    assert.equal((await put('weather', value([], '2026-11', 1))).status, 404);
    assert.equal((await put('discount', { values: [], surprise: 1 })).status, 400);
    assert.equal((await put('discount', '{"values":[')).status, 400);
  });

  it('take all or nothing', async () => {
    const { status } = await put('discount', {
      values: [
        { scope: [id('web')], month: '2026-11', value: 0.5 },
        { scope: [id('web')], month: '2026-12', value: 5 },
      ],
    });
    assert.equal(status, 400);
    const { body } = await planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    assert.deepEqual(body.plan.assumptions, plan.assumptions);
  });

  it('spread a typed total over the streams below, to the unit', async () => {
    const totals = [{ scope: [id('stores')], month: '2026-12', total: 30_001 }];
    const { status, body } = await put('grossUnits', { totals });
    assert.equal(status, 200);
    assert.lengthOf(body.put, 4, 'the streams whose units are typed');
    const sum = body.put.reduce((all, { profile }) => {
      const typed = profile.kind === 'months' ? profile.values['2026-12'] : undefined;
      return all + (typed ?? 0);
    }, 0);
    assert.equal(sum, 30_001);
    const refused = await put('discount', { totals });
    assert.include(refused.problem?.detail, 'cannot be spread');
  });

  it('bring in assumptions by code, or say which code is not there', async () => {
    const assumption = (scope: Record<string, string>) => ({
      assumptions: [{ driver: 'discount', scope, profile: { kind: 'value', value: 0.05 } }],
    });
    const created = await planner.send(
      'POST',
      `${SAMPLE}/assumptions`,
      assumption({ channel: 'web', region: 'lakes' }),
    );
    assert.equal(created.status, 201);
    const wrong = await planner.send(
      'POST',
      `${SAMPLE}/assumptions`,
      assumption({ channel: 'fax' }),
    );
    assert.deepEqual(wrong.problem?.errors?.[0], {
      path: 'assumptions.0.scope.channel',
      message: 'There is no member "fax" in "channel"',
    });
  });
});
