import type { PlanFile, Version, VersionCells, WorkspacePlan } from '@dravex/contract';
import type { Comparison, MeasuredTable, Table } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

const YEAR = 'rows=channel,product&from=2026-04&to=2027-03';

describe('versions and comparison', () => {
  const sample = withSample();

  const keep = (body: object) =>
    sample.planner.send<{ id: number; missing: number }>('POST', `${SAMPLE}/versions`, body);

  it('keep the forecast to the cent, and never change afterwards', async () => {
    const { status, body } = await keep({
      name: 'Half-year forecast',
      from: '2026-04',
      to: '2027-03',
      note: 'why',
    });
    assert.equal(status, 201);
    assert.equal(body.missing, 0);
    const forecast = (await sample.planner.send<Table>('GET', `${SAMPLE}/table?${YEAR}`)).body;
    const kept = (
      await sample.planner.send<Table>('GET', `${SAMPLE}/table?${YEAR}&version=${body.id}`)
    ).body;
    const cells = (
      await sample.planner.send<VersionCells>('GET', `${SAMPLE}/versions/${body.id}/cells`)
    ).body;
    const half = cells.revenue.length * 0.005;
    assert.closeTo(kept.total.total.value ?? 0, forecast.total.total.value ?? 0, half);
    const cents = cells.revenue.reduce((sum, value) => sum + value, 0);
    assert.closeTo(kept.total.total.value ?? 0, cents / 100, 1e-6);

    await sample.planner.send('PUT', `${SAMPLE}/drivers/discount/values`, {
      values: [{ scope: [], month: '2026-12', value: 0.9 }],
    });
    const later = (
      await sample.planner.send<VersionCells>('GET', `${SAMPLE}/versions/${body.id}/cells`)
    ).body;
    assert.deepEqual(later, cells);
    const list = (await sample.planner.send<Version[]>('GET', `${SAMPLE}/versions`)).body;
    assert.deepInclude(list.at(-1), {
      name: 'Half-year forecast',
      note: 'why',
      createdBy: 'Mara Ellingsen',
      cells: cells.month.length,
    });
  });

  it('are read by week and by day, which a forecast is not', async () => {
    const asked = `${SAMPLE}/table?rows=channel&from=2026-11&to=2026-11`;
    const by = async (grain: string) =>
      (await sample.planner.send<Table>('GET', `${asked}&grain=${grain}&version=1`)).body;
    const [month, weeks, days] = [await by('month'), await by('week'), await by('day')];
    assert.equal(weeks.columns[0]?.key, '2026-W44');
    assert.equal(days.columns.length, 30);
    assert.equal(days.columns[2]?.key, '2026-11-03');
    const [whole, day] = [month.total.cells[0]?.value, days.total.cells[2]?.value];
    assert.closeTo(day ?? 0, (whole ?? NaN) / 30, 1e-6);
    // Sunday the first is all that November has of its week.
    assert.closeTo(weeks.total.cells[0]?.value ?? 0, day ?? NaN, 1e-6);
    const csv = await sample.planner.send(
      'GET',
      `${SAMPLE}/table/measured.csv?measures=revenue&rows=channel&from=2026-11&to=2026-11&grain=day&version=1`,
    );
    assert.include(csv.text.split('\r\n')[0], '2026-11-03');
    const forecast = await sample.planner.send('GET', `${asked}&grain=day`);
    assert.equal(forecast.status, 400);
    assert.include(forecast.text, 'by day a version can be read');
  });

  it('keep subscriptions as they move, which are measures of the version and travel with it', async () => {
    const months = { from: '2026-04', to: '2027-09' };
    const { body } = await keep({ name: 'With subscriptions', ...months });
    const cells = `${SAMPLE}/versions/${body.id}/cells`;
    const kept = (await sample.planner.send<VersionCells>('GET', cells)).body.subscribers;
    // Closed months have no movement.
    assert.equal(kept?.month.toSorted()[0], '2026-10');
    const asked = `${SAMPLE}/table/measured?measures=activeSubscribers,recurringRevenue,newSubscribers&rows=channel,product&from=2026-10&to=2027-09&scope=`;
    const now = (await sample.planner.send<MeasuredTable>('GET', asked)).body;
    const measuresOf = (table: MeasuredTable) =>
      [...table.rows, ...table.totals].map(({ measure, label, total, cells: values }) => [
        ...[measure, label, total.value, values.map(({ value }) => value)],
      ]);
    const ofVersion = async () =>
      (await sample.planner.send<MeasuredTable>('GET', `${asked}&version=${body.id}`)).body;
    assert.deepEqual(measuresOf(await ofVersion()), measuresOf(now));
    await sample.planner.send('PUT', `${SAMPLE}/drivers/churnRate/values`, {
      values: [{ scope: [], month: '2026-11', value: 0.9 }],
    });
    assert.deepEqual(measuresOf(await ofVersion()), measuresOf(now));
    const file = (await sample.planner.send<PlanFile>('GET', `${SAMPLE}/plan-file`)).body;
    const travels = file.versions.find(({ name }) => name === 'With subscriptions');
    assert.deepEqual(travels?.cells.subscribers, kept);
    const broken = structuredClone(file);
    broken.name = 'Broken';
    broken.versions
      .find(({ name }) => name === 'With subscriptions')
      ?.cells.subscribers?.lost.pop();
    const refused = await sample.planner.send('POST', '/workspaces/plan-file', broken);
    assert.equal(refused.status, 400, refused.text);
    assert.include(refused.problem?.detail, 'unequal length');
    await sample.planner.send('POST', `${SAMPLE}/undo`);
  });

  it('refuse a name that is taken, no name, and months outside the horizon', async () => {
    const months = { from: '2026-04', to: '2027-03' };
    const taken = await keep({ name: 'Budget FY 2027', ...months });
    assert.equal(taken.status, 409);
    assert.equal(taken.problem?.errors?.[0]?.path, 'name');
    assert.equal((await keep({ name: '  ', ...months })).status, 400);
    const late = await keep({ name: 'Late', from: '2029-01', to: '2030-01' });
    assert.include(late.problem?.detail, 'outside the horizon');
  });

  it('come in from a file, or not at all', async () => {
    const header = 'month,channel,product,customer group,region,units,revenue,cost';
    const row = '2026-04,web,carafe-brook,households,north,10,363.00,159.70';
    const send = (text: string, name = 'From a file') =>
      sample.planner.send<{ id: number }>(
        'POST',
        `${SAMPLE}/versions/import?name=${encodeURIComponent(name)}`,
        text,
      );
    const faulty = await send(
      [header, row, row, row.replace('web', 'fax').replace('10,363', 'ten,363')].join('\n'),
    );
    assert.equal(faulty.status, 400);
    assert.deepEqual(
      faulty.problem?.errors?.map(({ path }) => path),
      ['row 3, month', 'row 4, channel', 'row 4, units'],
    );
    assert.include((await send('month,units\n2026-04,1')).problem?.detail, 'lacks');
    const good = await send([header, row].join('\n'));
    assert.equal(good.status, 201);
    const cells = (
      await sample.planner.send<VersionCells>('GET', `${SAMPLE}/versions/${good.body.id}/cells`)
    ).body;
    assert.deepEqual([cells.units, cells.revenue, cells.cost], [[10], [36_300], [15_970]]);
  });

  it('are compared with what was sold as SQL compares them', async () => {
    const { rows } = await sample.served.connections.pool.query<{ actual: string; plan: string }>(`
      select
        (select sum(net_amount) from sales_line where date between '2026-04-01' and '2026-09-30') / 100.0 as actual,
        (select sum(revenue) from version_cell where version_id = 1 and month between '2026-04-01' and '2026-09-01') / 100.0 as plan`);
    const { body } = await sample.planner.send<Comparison>(
      'GET',
      `${SAMPLE}/comparison?${YEAR}&version=1`,
    );
    const actual = Number(rows[0]?.actual);
    const plan = Number(rows[0]?.plan);
    assert.isTrue(body.cut);
    assert.closeTo(body.total?.actual.value ?? 0, actual, 1e-6);
    assert.closeTo(body.total?.plan.value ?? 0, plan, 1e-6);
    assert.closeTo(body.total?.variance?.amount ?? 0, actual - plan, 1e-6);
    const web = body.rows.find(({ label }) => label === 'Web shop');
    const office = body.rows.find(({ label }) => label === 'Office sales team');
    assert.deepEqual([web?.variance?.judgement, office?.variance?.judgement], ['bad', 'good']);
  });

  it('go out as CSV, with names that a spreadsheet does not run', async () => {
    const { body: plan } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const web = plan.plan.dimensions[0]?.members.find(({ code }) => code === 'web');
    await sample.served.connections.pool.query(
      `update member set name = '=1+1,"x"' where id = $1`,
      [web?.id],
    );
    await sample.served.connections.pool.query(
      'update workspace set revision = revision + 1, plan_revision = revision + 1',
    );
    const { text } = await sample.planner.send('GET', `${SAMPLE}/comparison.csv?${YEAR}&version=1`);
    const lines = text.replace('\uFEFF', '').trim().split('\r\n');
    assert.equal(
      lines[0],
      'Channel,Product,Period,"Actual, Revenue, EUR","Budget FY 2027, Revenue, EUR","Variance, Revenue, EUR","Variance, fraction",Judgement',
    );
    assert.match(
      lines[1] ?? '',
      /^"'=1\+1,""x""",,2026-04 to 2026-09,\d+\.\d\d,\d+\.\d\d,-\d+\.\d\d,-0\.\d+,bad$/,
    );
    const ahead = await sample.planner.send(
      'GET',
      `${SAMPLE}/comparison.csv?rows=channel&from=2027-01&to=2027-03&version=1`,
    );
    assert.equal(ahead.status, 400);
  });
});
