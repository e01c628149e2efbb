import type {
  KeptAccountScope,
  LedgerBudget,
  PlanFile,
  VersionCells,
  WorkspacePlan,
} from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('a budget by ledger account', () => {
  const sample = withSample();
  let member: (code: string) => number;
  before(async () => {
    const { plan } = (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body;
    member = (code) =>
      plan.dimensions.flatMap(({ members }) => members).find((one) => one.code === code)?.id ?? 0;
    const { body, text } = await sample.planner.send<{ id: number }>(
      'POST',
      `${SAMPLE}/imports?kind=ledger&fileName=books.csv`,
      'month,account,account name,amount\n2026-04,4010,Web sales,-500000.10\n2026-05,4010,Web sales,-600000\n2026-04,4900,Other sales,-77.5\n2026-04,6000,Rent,9000\n',
    );
    const applied = await sample.planner.send('POST', `${SAMPLE}/imports/${body.id}/apply`);
    assert.equal(applied.status, 200, text);
  });
  const put = (accounts: readonly KeptAccountScope[]) =>
    sample.planner.send<{ accounts: KeptAccountScope[] }>('PUT', `${SAMPLE}/account-scopes`, {
      accounts,
    });
  const read = async (window = 'from=2026-04&to=2026-06'): Promise<LedgerBudget> => {
    const path = `${SAMPLE}/versions/1/ledger?${window}`;
    const { status, body, text } = await sample.planner.send<LedgerBudget>('GET', path);
    assert.equal(status, 200, text);
    return body;
  };
  const sum = (values: readonly (number | null)[]): number =>
    values.reduce<number>((all, value) => all + (value ?? 0), 0);

  it('adds up to the version, the narrowest scope first, and names how the books differ', async () => {
    const bare = await read();
    assert.isAbove(bare.without.lines, 0);
    assert.deepEqual(bare.booked, [true, true, false]);
    const made = await put([
      { scope: [], account: '4000' },
      { scope: [member('web')], account: '4010' },
    ]);
    assert.equal(made.status, 200, made.text);
    const found = await read();
    assert.equal(found.without.lines, 0);
    const cells = (await sample.planner.send<VersionCells>('GET', `${SAMPLE}/versions/1/cells`))
      .body;
    const planned = cells.revenue.reduce(
      (all, value, at) =>
        ['2026-04', '2026-05', '2026-06'].includes(cells.month[at] ?? '') ? all + value : all,
      0,
    );
    assert.equal(
      found.accounts.reduce((all, { budget }) => all + sum(budget), 0),
      planned,
    );
    const of = (account: string) => found.accounts.find((one) => one.account === account);
    assert.deepEqual(of('4010')?.books, [50_000_010, 60_000_000, null]);
    assert.equal(of('4010')?.name, 'Web sales');
    assert.equal(of('4010')?.difference, 110_000_010 - sum(of('4010')?.budget.slice(0, 2) ?? []));
    assert.equal(of('4000')?.state, 'budgetOnly');
    assert.equal(of('4900')?.state, 'booksOnly');
    assert.isUndefined(of('6000'), 'rent is no revenue');
  });

  it('takes the account that a member has of its own, unless something is said of it', async () => {
    const path = `${SAMPLE}/dimensions/channel/members/${member('office')}`;
    const set = await sample.planner.send('PATCH', path, { account: '4030' });
    assert.equal(set.status, 204, set.text);
    const accountsOf = async () => (await read()).accounts.map(({ account }) => account);
    assert.include(await accountsOf(), '4030');
    const said = [
      { scope: [], account: '4000' },
      { scope: [member('web')], account: '4010' },
    ];
    assert.equal(
      (await put([...said, { scope: [member('office')], account: '4040' }])).status,
      200,
    );
    assert.notInclude(await accountsOf(), '4030');
    assert.equal((await put(said)).status, 200);
    assert.equal((await sample.planner.send('PATCH', path, { account: null })).status, 204);
    const file = (await sample.planner.send<PlanFile>('GET', `${SAMPLE}/plan-file`)).body;
    assert.deepEqual(
      file.accountScopes.map(({ account }) => account),
      ['4000', '4010'],
    );
    const copy = await sample.planner.send<{ id: number }>('POST', '/workspaces/plan-file', {
      ...file,
      name: 'With accounts',
    });
    assert.equal(copy.status, 201, copy.text);
    const taken = await sample.planner.send<{ accounts: KeptAccountScope[] }>(
      'GET',
      `/workspaces/${copy.body.id}/account-scopes`,
    );
    assert.deepEqual(
      taken.body.accounts.map(({ scope, account }) => [scope.length, account]),
      [
        [0, '4000'],
        [1, '4010'],
      ],
    );
  });

  it('goes to finance as a file that holds all of it', async () => {
    const path = `${SAMPLE}/versions/1/ledger.csv?from=2026-04&to=2026-06`;
    const { text } = await sample.planner.send('GET', path);
    const lines = text.replace('\uFEFF', '').trim().split('\r\n');
    assert.include(lines[0], 'Month,Account,Account name');
    const web = lines.find((line) => line.startsWith('2026-04,4010,'));
    assert.match(web ?? '', /^2026-04,4010,Web sales,\d+\.\d\d,500000\.10$/);
    assert.equal(
      (await sample.planner.readFile(path.replace('csv', 'xlsx'))).subarray(0, 2).toString(),
      'PK',
    );
  });

  it('is changed as one act that is taken back, and refuses what is not clear', async () => {
    const before = await read();
    assert.equal((await put([{ scope: [member('web')], account: '4011' }])).status, 200);
    assert.isAbove((await read()).without.lines, 0);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.deepEqual(await read(), before);
    for (const [accounts, said] of [
      [
        [
          { scope: [member('web')], account: '1' },
          { scope: [member('carafe-brook')], account: '2' },
        ],
        'both hold',
      ],
      [
        [
          { scope: [member('web')], account: '1' },
          { scope: [member('web')], account: '2' },
        ],
        'stand here twice',
      ],
      [[{ scope: [], account: ' ' }], 'name an account'],
      [[{ scope: [999_999], account: '1' }], '999999'],
    ] as const) {
      const refused = await put(
        accounts.map(({ scope, account }) => ({ scope: [...scope], account })),
      );
      assert.equal(refused.status, 400, JSON.stringify(accounts));
      assert.include(refused.text, said);
    }
    assert.deepEqual(await read(), before);
    const none = await sample.planner.send(
      'GET',
      `${SAMPLE}/versions/99/ledger?from=2026-04&to=2026-05`,
    );
    assert.equal(none.status, 404);
    assert.lengthOf((await read('from=2028-04&to=2028-05')).accounts, 0);
  });
});
