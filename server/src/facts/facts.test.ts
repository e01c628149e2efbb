import type {
  Facts,
  ImportPreview,
  Ledger,
  SubscriberCohorts,
  Subscribers,
} from '@dravex/contract';
import type { Dimension, MeasuredTable } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('what was measured besides sales', () => {
  const sample = withSample();

  const bring = async (kind: string, text: string, apply = true): Promise<ImportPreview> => {
    const {
      body,
      status,
      text: said,
    } = await sample.planner.send<ImportPreview>(
      'POST',
      `${SAMPLE}/imports?kind=${kind}&fileName=${kind}.csv`,
      text,
    );
    assert.equal(status, 201, said);
    if (apply) {
      const applied = await sample.planner.send('POST', `${SAMPLE}/imports/${body.id}/apply`);
      assert.equal(applied.status, 200, applied.text);
    }
    return body;
  };
  const window = 'from=2026-07&to=2026-09';

  it('market size by channel and month, corrected by a later file, and taken back', async () => {
    const first = await bring(
      'facts',
      [
        'month;measure;channel;value',
        '07/2026;Market size;web;1.000.000',
        '08/2026;Market size;web;1.100.000,5',
        '07/2026;Market size;;9.000.000',
        '08/2026;Satisfaction score;;4,2',
        '09/2026;Satisfaction score;;4,4',
        '09/2026;Market size;nowhere;1',
      ].join('\n'),
    );
    assert.deepEqual([first.good, first.faulty], [5, 1]);
    assert.equal(first.groups[0]?.code, 'unknown-code');
    const read = async (): Promise<Facts> =>
      (await sample.planner.send<Facts>('GET', `${SAMPLE}/facts?${window}`)).body;
    const web = (facts: Facts) =>
      facts.rows.find(({ measure, members }) => measure === 'Market size' && members.length === 1);
    const facts = await read();
    assert.deepEqual(web(facts)?.values, [1_000_000, 1_100_000.5, null]);
    assert.equal(web(facts)?.total, 2_100_000.5);
    const score = facts.rows.find(({ measure }) => measure === 'Satisfaction score');
    assert.deepEqual(score?.values, [null, 4.2, 4.4]);
    assert.isNull(score?.total, 'a level is never rolled up');

    const second = await bring(
      'facts',
      'month,measure,channel,value\n2026-07,Market size,web,1234\n',
    );
    assert.equal(web(await read())?.values[0], 1234);
    await sample.planner.send('POST', `${SAMPLE}/imports/${second.id}/take-back`);
    assert.equal(web(await read())?.values[0], 1_000_000);

    const changed = await sample.planner.send('PATCH', `${SAMPLE}/facts/Market size`, {
      nature: 'stock',
    });
    assert.equal(changed.status, 204, changed.text);
    assert.equal(web(await read())?.total, 1_100_000.5);
  });

  it('a wide table of facts', async () => {
    const preview = await bring(
      'facts',
      'Web visits\nMeasure,Channel,Jul 2026,Aug 2026,Sep 2026\nVisits,web,1200,1300,1250\n',
    );
    assert.equal(preview.reading?.shape, 'wide');
    const { body } = await sample.planner.send<Facts>('GET', `${SAMPLE}/facts?${window}`);
    const visits = body.rows.find(({ measure }) => measure === 'Visits');
    assert.deepEqual([visits?.values, visits?.total], [[1200, 1300, 1250], 3750]);
  });

  it('leave totals of a ledger out: they are no account', async () => {
    const { body } = await sample.planner.send<ImportPreview>(
      'POST',
      `${SAMPLE}/imports?kind=ledger&fileName=totals.csv`,
      'month,account,amount\n2026-07,4000,-100\n2026-07,Total,-100\n',
    );
    assert.deepEqual([body.good, body.faulty], [1, 1]);
    assert.equal(body.problems[0]?.code, 'totals-row');
    await sample.planner.send('DELETE', `${SAMPLE}/imports/${body.id}`);
  });

  it('ledger history with each account’s share of revenue', async () => {
    await bring(
      'ledger',
      [
        'month,account,account name,amount',
        '2026-07,4000,Sales,-80000.00',
        '2026-08,4000,Sales,-20000.00',
        '2026-07,5000,Goods,40000.00',
        '2026-07,5000,Goods,5000.00',
      ].join('\n'),
    );
    const read = async (): Promise<Ledger> =>
      (await sample.planner.send<Ledger>('GET', `${SAMPLE}/ledger?${window}`)).body;
    const [sales, goods] = (await read()).accounts;
    assert.deepInclude(sales, {
      code: '4000',
      name: 'Sales',
      kind: 'revenue',
      total: 10_000_000,
      share: 1,
    });
    assert.deepEqual(sales?.values, [8_000_000, 2_000_000, 0]);
    assert.deepInclude(goods, { kind: 'expense', total: 4_500_000, share: 0.45 });
    await sample.planner.send('PATCH', `${SAMPLE}/ledger/5000`, { behaviour: 'variable' });
    assert.equal((await read()).accounts[1]?.behaviour, 'variable');
    assert.equal(
      (await sample.planner.send('PATCH', `${SAMPLE}/ledger/9999`, { name: 'x' })).status,
      404,
    );
  });

  const subscribers = async (more = ''): Promise<Subscribers> =>
    (await sample.planner.send<Subscribers>('GET', `${SAMPLE}/subscribers?${window}${more}`)).body;

  it('subscribers with start and end, corrected by a repair', async () => {
    const before = await subscribers();
    const preview = await bring(
      'subscribers',
      [
        'subscriber,product,start,end',
        'S-1,plan-month,2026-05-03,',
        'S-2,plan-month,2026-07-10,2026-08-15',
        'S-3,plan-yer,2026-08-01,',
        'S-4,plan-care,2026-08-05,2026-07-01',
        // Whoever has left may come back; whoever has not may not.
        'S-2,plan-month,2026-07-20,',
        'S-2,plan-month,2026-08-15,2026-09-02',
      ].join('\n'),
      false,
    );
    assert.deepEqual([preview.good, preview.faulty], [3, 3]);
    const overlaps = preview.groups.find(({ code }) => code === 'overlapping');
    assert.equal(overlaps?.rows, 1);
    assert.include(
      preview.problems.map(({ message }) => message).join(),
      'S-2 subscribes in row 3 already, and has not left by 2026-07-20',
    );
    const repaired = await sample.planner.send<ImportPreview>(
      'POST',
      `${SAMPLE}/imports/${preview.id}/repair`,
      { replace: [{ field: 'product', from: 'plan-yer', to: 'plan-year', remember: true }] },
    );
    assert.deepEqual([repaired.body.good, repaired.body.faulty], [4, 2]);
    await sample.planner.send('POST', `${SAMPLE}/imports/${preview.id}/apply`);
    const body = await subscribers();
    assert.deepEqual([body.known - before.known, body.active - before.active], [4, 2]);
    const numbers = ({ months }: Subscribers): number[][] =>
      months.map(({ opening, added, lost, closing }) => [opening, added, lost, closing]);
    assert.deepEqual(
      numbers(body).map((row, at) =>
        row.map((value, place) => value - (numbers(before)[at]?.[place] ?? NaN)),
      ),
      [
        [1, 1, 0, 2],
        [2, 2, 1, 3],
        [3, 0, 1, 2],
      ],
    );
  });

  it('subscribers by cohort, in a scope, with the one that does worse than its elders', async () => {
    const dimensions = (
      await sample.planner.send<{ plan: { dimensions: Dimension[] } }>('GET', `${SAMPLE}/plan`)
    ).body.plan.dimensions;
    const idOf = (code: string): number =>
      dimensions.flatMap(({ members }) => members).find((one) => one.code === code)?.id ?? 0;
    const cohorts = async (more: string): Promise<SubscriberCohorts> =>
      (
        await sample.planner.send<SubscriberCohorts>(
          'GET',
          `${SAMPLE}/subscribers/cohorts?scope=${idOf('plan-month')},${idOf('north')}${more}`,
        )
      ).body;
    const body = await cohorts('');
    const scope = `&scope=${idOf('plan-month')},${idOf('north')}`;
    const now = body.cohorts.reduce((sum, { active }) => sum + (active.at(-1) ?? 0), 0);
    assert.equal(now, (await subscribers(scope)).months.at(-1)?.closing);
    const bad = body.cohorts.filter(({ worse }) => worse !== null);
    assert.deepEqual(
      bad.map(({ start }) => start),
      ['2026-03'],
      'those whom the trial offer brought',
    );
    assert.isAbove(bad[0]?.worse?.lost ?? 0, 3 * (bad[0]?.worse?.expected ?? NaN));
    // Without them one rate explains what is left.
    const { fitted, cohorts: rest } = await cohorts('&without=2026-03');
    assert.equal(fitted?.churn.kind, 'constant');
    assert.closeTo(fitted?.churn.kind === 'constant' ? fitted.churn.rate : 0, 0.031, 0.002);
    assert.isTrue(rest.find(({ start }) => start === '2026-03')?.without);
    // The forecast's table has the same new ones and the same churn in closed months.
    const { body: table } = await sample.planner.send<MeasuredTable>(
      'GET',
      `${SAMPLE}/table/measured?measures=newSubscribers,subscriberChurn&rows=region&from=2026-09&to=2026-09${scope}`,
    );
    const september = (await subscribers(scope)).months.find(({ month }) => month === '2026-09');
    assert.equal(table.totals[0]?.total.value, september?.added);
    assert.closeTo(
      table.totals[1]?.total.value ?? NaN,
      (september?.lost ?? NaN) / (september?.opening ?? NaN),
      1e-12,
    );
    const nobody = await sample.planner.send('GET', `${SAMPLE}/subscribers/cohorts?scope=99999`);
    assert.equal(nobody.status, 400);
    assert.include(nobody.problem?.detail, 'There is no member 99999');
  });

  it('refuse what is no such table, and say what is missing', async () => {
    const refused = await sample.planner.send(
      'POST',
      `${SAMPLE}/imports?kind=ledger&fileName=x.csv`,
      'month,amount\n2026-07,5\n',
    );
    assert.equal(refused.status, 400);
    assert.include(refused.problem?.detail, 'lacks "account"');
    const backwards = await sample.planner.send('GET', `${SAMPLE}/facts?from=2026-09&to=2026-07`);
    assert.equal(backwards.status, 400);
  });
});
