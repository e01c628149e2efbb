import type { Close, Closing, ImportPreview, Version, WorkspacePlan } from '@dravex/contract';
import type { AccuracyTable, KeptMonths, Table } from '@dravex/core';
import { assert } from 'chai';
import { closeWhenDue, followTheDay } from './by-itself.ts';
import { Plans } from '../plan/plans.ts';
import { SAMPLE, withSample } from '../testing/serve.ts';

const ALL = 'rows=channel,product&from=2026-04&to=2029-03';
const HEADER =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number';

describe('closing a month', () => {
  const sample = withSample();
  const path = `${SAMPLE}/closing`;

  const look = async () => (await sample.planner.send<Closing>('GET', path)).body;
  const calendar = async () =>
    (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body.plan.calendar;
  const table = async (more = '') =>
    (await sample.planner.send<Table>('GET', `${SAMPLE}/table?${ALL}${more}`)).body;
  const close = (month: string, sure = false) =>
    sample.planner.send<Close>('POST', `${path}/close`, { month, sure });
  const reopen = (month: string, why = 'the order book was late', sure = true) =>
    sample.planner.send('POST', `${path}/reopen`, { month, why, sure });
  const cellOf = (answer: Table, place: number) => answer.total.cells[place]?.value ?? Number.NaN;

  /** Brings sales lines in, one for each day. */
  async function bring(...days: string[]): Promise<ImportPreview> {
    const rows = days.map(
      (day, place) =>
        `${day},web,carafe-dew,households,north,100,3000.00,1200.00,C-${day},${place + 1}`,
    );
    const { body, text } = await sample.planner.send<ImportPreview>(
      'POST',
      `${SAMPLE}/imports?fileName=later.csv`,
      `${HEADER}\n${rows.join('\n')}\n`,
      { 'content-type': 'text/csv' },
    );
    assert.equal(body.good, days.length, text);
    return body;
  }
  const apply = (id: number) => sample.planner.send('POST', `${SAMPLE}/imports/${id}/apply`);

  it('is refused out of order, and asked about while the month is not over', async () => {
    assert.deepInclude(await look(), { month: '2026-10', over: false, due: null, asOfBy: 'hand' });
    for (const [month, said] of [
      ['2026-09', 'September 2026 is closed already'],
      ['2026-12', 'October 2026 comes before December 2026'],
    ] as const) {
      const { status, problem } = await close(month, true);
      assert.equal(status, 409);
      assert.include(problem?.detail, said);
    }
    const early = await close('2026-10');
    assert.equal(early.status, 409);
    assert.equal(early.problem?.errors?.[0]?.path, 'sure');
    assert.include(early.problem?.detail, 'is not over');
    assert.equal((await calendar()).closedThrough, '2026-09');
  });

  it('comes after files whose days are later than the as-of date, which they move', async () => {
    const preview = await bring('2026-10-31', '2026-11-04');
    assert.equal(preview.asOf, '2026-11-04');
    assert.equal((await calendar()).asOf, '2026-10-12', 'nothing moves before it is applied');
    await apply(preview.id);
    assert.equal((await calendar()).asOf, '2026-11-04');
    const beyond = await sample.planner.send<ImportPreview>(
      'POST',
      `${SAMPLE}/imports?fileName=far.csv`,
      `${HEADER}\n2062-10-31,web,carafe-dew,households,north,1,3.00,1.00,FAR,1\n`,
      { 'content-type': 'text/csv' },
    );
    assert.equal(beyond.body.faulty, 1);
    assert.include(beyond.body.problems[0]?.message, 'after the last month, 2029-03');
    await sample.planner.send('DELETE', `${SAMPLE}/imports/${beyond.body.id}`);
    const seen = await look();
    assert.isTrue(seen.over);
    assert.deepInclude(
      seen.sources.find(({ name }) => name === 'later.csv'),
      { source: 'file', lines: 1, revenue: 300_000 },
    );
  });

  it('keeps the forecast as the room showed it, and shows actuals in its place', async () => {
    const before = await table();
    const { status, body, text } = await close('2026-10');
    assert.equal(status, 201, text);
    assert.deepInclude(body, { month: '2026-10', by: 'Mara Ellingsen', byItself: false });
    const kept = await table(`&version=${body.version}`);
    for (let place = 6; place < 36; place += 1) {
      assert.closeTo(cellOf(kept, place), cellOf(before, place), 3, `month ${place}`);
    }
    const after = await table();
    const sold = (await look()).closes[0];
    assert.deepInclude(sold, { id: body.id });
    const { rows } = await sample.served.connections.pool.query<{ revenue: number }>(
      `select sum(net_amount)::float8 as revenue from sales_line l join import_batch b
         on b.workspace_id = l.workspace_id and b.id = l.batch_id and b.state = 'applied'
       where l.workspace_id = 1 and date between '2026-10-01' and '2026-10-31'`,
    );
    assert.closeTo(cellOf(after, 6), (rows[0]?.revenue ?? 0) / 100, 1e-6);
    assert.notEqual(cellOf(after, 6), cellOf(before, 6));
    const versions = (await sample.planner.send<Version[]>('GET', `${SAMPLE}/versions`)).body;
    assert.notInclude(
      versions.map(({ id }) => id),
      body.version,
      'it is no budget to choose from',
    );
    const dropped = await sample.planner.send('DELETE', `${SAMPLE}/versions/${body.version}`);
    assert.equal(dropped.status, 409);
    assert.include(dropped.problem?.detail, 'open the month again instead');
  });

  it('leaves every number as it was when the month is opened again', async () => {
    const closed = await table();
    assert.include(
      (await reopen('2026-09')).problem?.detail,
      'October 2026 was closed after September 2026',
    );
    assert.equal((await reopen('2026-10', ' ')).status, 400);
    const [budget] = (await sample.planner.send<Version[]>('GET', `${SAMPLE}/versions`)).body;
    await sample.planner.send('POST', `${SAMPLE}/versions/${budget?.id ?? 0}/seal`);
    const locked = await reopen('2026-10', 'the order book was late', false);
    assert.equal(locked.problem?.errors?.[0]?.path, 'sure');
    assert.include(
      locked.problem?.detail,
      'Budget FY 2027 is locked and reaches over October 2026',
    );
    assert.equal((await reopen('2026-10')).status, 204);
    const open = await table();
    assert.notDeepEqual(open, closed);
    assert.equal((await calendar()).closedThrough, '2026-09');
    assert.equal((await close('2026-10')).status, 201);
    assert.deepEqual(await table(), closed);
    // The same by undo and redo.
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.deepEqual(await table(), open);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/redo`)).status, 200);
    assert.deepEqual(await table(), closed);
    await reopen('2026-10');
  });

  it('is done once, however many ask at the same time', async () => {
    const answers = await Promise.all([1, 2, 3].map(() => close('2026-10')));
    assert.deepEqual(answers.map(({ status }) => status).sort(), [201, 409, 409]);
    assert.equal((await look()).closes.filter(({ month }) => month === '2026-10').length, 1);
  });

  it('is done or not begun, whenever its connection to the database dies', async () => {
    const { pool } = sample.served.connections;
    await reopen('2026-10');
    for (const wait of [2, 8, 20, 40, 70, 110]) {
      const asked = close('2026-10');
      await new Promise((resolve) => setTimeout(resolve, wait));
      await pool
        .query(
          `select pg_terminate_backend(pid) from pg_stat_activity
           where datname = current_database() and pid <> pg_backend_pid() and state <> 'idle'`,
        )
        .catch(() => undefined);
      const { status } = await asked.catch(() => ({ status: 0 }));
      const closed = (await calendar()).closedThrough === '2026-10';
      const { rows } = await pool.query<{ closes: number; cells: number }>(
        `select count(distinct c.id)::int as closes, count(v.month)::int as cells
         from close c left join version_cell v
           on v.workspace_id = c.workspace_id and v.version_id = c.version_id
         where c.workspace_id = 1 and c.month = '2026-10-01' and not c.reopened`,
      );
      assert.equal(rows[0]?.closes, closed ? 1 : 0, `after ${wait} ms, answered ${status}`);
      assert.equal((rows[0]?.cells ?? 0) > 1000, closed, 'with the forecast, or without a trace');
      if (status === 201) assert.isTrue(closed, 'what was answered is done');
      if (closed) await reopen('2026-10');
    }
    assert.equal((await close('2026-10')).status, 201);
  }).timeout(60_000);

  it('keeps forecasts of closed months readable in their place, until they are opened', async () => {
    const kept = async () => (await sample.planner.send<KeptMonths>('GET', `${path}/kept`)).body;
    const { months, cells } = await kept();
    assert.lengthOf(months, 13, 'those of the sample, and October');
    assert.sameMembers([...new Set(cells.month)], [...months]);
    const sums = cells.revenue.reduce((all, value, row) => {
      const month = cells.month[row] ?? '';
      return all.set(month, (all.get(month) ?? 0) + value);
    }, new Map<string, number>());
    const [actual, shown] = [await table('&grain=month'), await table('&grain=month&closed=kept')];
    const placeOf = (month: string): number => shown.columns.findIndex(({ key }) => key === month);
    for (const month of ['2026-04', '2026-10']) {
      const at = cellOf(shown, placeOf(month));
      assert.closeTo(at, (sums.get(month) ?? 0) / 100, 1e-4);
      assert.notEqual(at, cellOf(actual, placeOf(month)));
    }
    const open = placeOf('2026-11');
    assert.equal(cellOf(shown, open), cellOf(actual, open));
    const weeks = await table('&grain=week&closed=kept');
    assert.closeTo(weeks.total.total.value ?? NaN, shown.total.total.value ?? NaN, 1e-3);
    // What a workspace shows of closed months is one of its rules.
    const rules = { rule: { by: 'hand', day: 3 }, holidays: [], roll: 0 };
    const set = (body: object) => sample.planner.send('PUT', `${path}/rules`, body);
    assert.equal((await set({ ...rules, closed: 'instead' })).status, 204);
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    assert.equal(body.closedMonths, 'instead');
    assert.equal((await set({ ...rules, closed: 'both' })).status, 400);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    await reopen('2026-10');
    assert.notInclude((await kept()).months, '2026-10');
    assert.equal((await close('2026-10')).status, 201);
  });

  it('lists lines that come late', async () => {
    const counted = await look();
    assert.isFalse(counted.late.some(({ month }) => month === '2026-10'));
    const { id } = await bring('2026-10-30');
    await apply(id);
    assert.deepInclude((await look()).late, { month: '2026-10', lines: 1, revenue: 300_000 });
  });

  it('lets the horizon grow by the rule, and asks before it is cut', async () => {
    const rules = { rule: { by: 'workingDay', day: 3 }, holidays: ['2026-12-01'], roll: 3 };
    assert.equal((await sample.planner.send('PUT', `${path}/rules`, rules)).status, 204);
    assert.deepInclude(await look(), { month: '2026-11', due: '2026-12-04' });
    assert.equal((await close('2026-11', true)).status, 201);
    assert.equal((await calendar()).last, '2029-06');
    await reopen('2026-11');
    assert.equal((await calendar()).last, '2029-03', 'nothing was planned there');
    const change = (body: object) => sample.planner.send('PATCH', `${path}/calendar`, body);
    const cut = await change({ last: '2026-12' });
    assert.equal(cut.status, 409);
    assert.equal(cut.problem?.errors?.[0]?.path, 'sure');
    assert.match(cut.problem?.detail ?? '', /^Months of \d+ inputs and months of Budget FY 2027/);
    assert.equal((await change({ last: '2026-09' })).status, 400);
    assert.equal((await change({ last: '2040-01' })).status, 400);
    assert.include(
      (await change({ asOf: '2026-10-01' })).problem?.detail,
      'reach to 4 November 2026',
    );
    assert.equal((await change({ last: '2027-03', sure: true })).status, 204);
    // What lies beyond rests: the plan computes, and travels.
    assert.equal((await sample.planner.send('GET', `${SAMPLE}/table?${ALL}`)).status, 200);
    const { body: file } = await sample.planner.send<object>('GET', `${SAMPLE}/plan-file`);
    const journey = await sample.planner.send('POST', '/workspaces/plan-file', file);
    assert.equal(journey.status, 201, journey.text);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.equal((await calendar()).last, '2029-03');
  });

  it('happens on its day by itself, unless something waits', async () => {
    const { connections } = sample.served;
    const plans = new Plans(connections);
    const person = 1;
    await sample.planner.send('PATCH', `${path}/calendar`, { asOf: '2026-12-03' });
    await closeWhenDue(connections, plans, 1, person);
    assert.equal((await look()).month, '2026-11', 'its day is the 4th');
    await sample.planner.send('PATCH', `${path}/calendar`, { asOf: '2026-12-04' });
    const { id } = await bring('2026-11-20');
    await closeWhenDue(connections, plans, 1, person);
    assert.equal((await look()).month, '2026-11', 'a file waits');
    await apply(id);
    await closeWhenDue(connections, plans, 1, person);
    await closeWhenDue(connections, plans, 1, person);
    const { month, closes } = await look();
    assert.equal(month, '2026-12');
    assert.deepInclude(closes[0], { month: '2026-11', byItself: true });
  });

  it('follows the real day where it is told to', async () => {
    assert.equal((await calendar()).asOf, '2026-12-04');
    await followTheDay(sample.served.connections);
    assert.equal((await calendar()).asOf, '2026-12-04', 'it stands where somebody set it');
    await sample.served.connections.pool.query(
      `update workspace set as_of_by = 'day', as_of = '2026-12-05', last_month = '2090-01-01'`,
    );
    await sample.served.connections.pool.query(`update workspace set as_of = '2020-01-01'`);
    await followTheDay(sample.served.connections);
    const { rows } = await sample.served.connections.pool.query<{ today: boolean }>(
      `select as_of = current_date as today from workspace where id = 1`,
    );
    assert.isTrue(rows[0]?.today);
  });

  it('says how good earlier forecasts were, and refuses readers and nonsense', async () => {
    const ask = (query: string) =>
      sample.planner.send<AccuracyTable>('GET', `${path}/accuracy?${query}`);
    const { status, body, text } = await ask(
      'rows=channel&from=2026-10&to=2026-11&leads=1,2&measure=revenue',
    );
    assert.equal(status, 200, text);
    const [one, two] = body.total.leads;
    assert.deepEqual([one?.lead, one?.months, two?.months], [1, 2, 2]);
    assert.isAbove(one?.wape ?? 0, 0);
    assert.equal((await ask('rows=colour&from=2026-10&to=2026-11')).status, 400);
    assert.equal((await ask('rows=channel&from=2026-10&to=2026-11&leads=x')).status, 400);
    const reader = await sample.served.reader();
    for (const [method, to, sent] of [
      ['POST', 'close', { month: '2026-12' }],
      ['POST', 'reopen', { month: '2026-11', why: 'x' }],
      ['PUT', 'rules', { rule: { by: 'hand', day: 1 }, holidays: [], roll: 0 }],
      ['PATCH', 'calendar', { asOf: '2026-12-30' }],
    ] as const) {
      assert.equal((await reader.send(method, `${path}/${to}`, sent)).status, 403, to);
    }
    const odd = { rule: { by: 'workingDay', day: 3 }, holidays: ['yesterday'], roll: 2 };
    const refused = await sample.planner.send('PUT', `${path}/rules`, odd);
    assert.equal(refused.status, 400);
    assert.include(JSON.stringify(refused.problem?.errors), 'holidays.0');
  });
});
