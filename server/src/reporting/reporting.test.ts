import type { MadeToken, Report, Summary, Version, WorkspacePlan } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('what reporting tools read', () => {
  const sample = withSample();
  let token = '';
  before(async () => {
    const made = await sample.planner.send<MadeToken>('POST', `${SAMPLE}/tokens`, {
      name: 'the tool',
    });
    assert.equal(made.status, 201, made.text);
    token = made.body.token;
  });

  const ask = (path: string, secret = token): Promise<Response> =>
    fetch(`${sample.served.origin}/api/reporting/${path}`, {
      headers: { authorization: `Bearer ${secret}` },
    });
  const table = async (path: string): Promise<Report> => {
    const response = await ask(path);
    const text = await response.text();
    assert.equal(response.status, 200, text);
    return JSON.parse(text) as Report;
  };
  const column = ({ columns, rows }: Report, name: string) =>
    rows.map((row) => row[columns.indexOf(name)]);
  const sum = (values: readonly unknown[]): number =>
    values.reduce((total: number, value) => total + Number(value), 0);

  it('actuals, page by page, are the plan’s', async () => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const { month, revenue } = body.plan.actuals;
    const expected = revenue.filter((_, at) => (month[at] ?? '') >= '2026-04');
    const rows: Report['rows'] = [];
    let after = 0;
    for (let page = 0; page < 20; page += 1) {
      const report = await table(`actuals?from=2026-04&limit=200&after=${after}`);
      rows.push(...report.rows);
      if (report.next === null) {
        assert.equal(rows.length, report.total);
        const all = { ...report, rows };
        assert.closeTo(sum(column(all, 'revenue')), sum(expected) / 100, 1e-4);
        return;
      }
      assert.equal(report.rows.length, 200);
      after = report.next;
    }
    assert.fail('the pages do not end');
  });

  it('are cut by members and window, also as CSV', async () => {
    const web = await table('forecast?from=2026-11&to=2026-11&members=channel:web');
    assert.deepEqual([...new Set(column(web, 'channel'))], ['web']);
    assert.deepEqual([...new Set(column(web, 'month'))], ['2026-11']);
    const csv = await ask(
      'forecast?from=2026-11&to=2026-11&members=channel:web&format=csv&limit=3',
    );
    const text = await csv.text();
    assert.match(text, /^\uFEFF?month,channel,product,group,region,units,revenue,cost\r\n/);
    assert.equal(csv.headers.get('x-next-after'), '3');
  });

  it('plan cells, comparison, targets, sales lines and supply', async () => {
    const { body: versions } = await sample.planner.send<Version[]>('GET', `${SAMPLE}/versions`);
    const version = versions[0]?.id ?? 0;
    const cells = await table(`plan-cells?version=${version}&limit=5000`);
    assert.isAbove(cells.total, 500);
    const comparison = await table(
      `comparison?version=${version}&from=2026-04&to=2026-09&limit=5000`,
    );
    const revenue = comparison.rows.filter(([measure]) => measure === 'revenue');
    for (const [, , , , , actual, plan, variance] of revenue.slice(0, 20)) {
      assert.closeTo(Number(variance), Number(actual) - Number(plan), 1e-6);
    }
    const years = await table(
      'comparison?of=forecast&against=lastYear&from=2026-04&to=2027-03&limit=5000',
    );
    const room = await sample.planner.send<{ total: { plan: { value: number } } }>(
      'GET',
      `${SAMPLE}/comparison?rows=channel&of=forecast&against=lastYear&from=2026-04&to=2027-03`,
    );
    const before = years.rows.filter(([measure]) => measure === 'revenue').map((row) => row[6]);
    assert.closeTo(sum(before), room.body.total.plan.value, 0.5);
    const targets = await table('targets?fiscalYear=2027');
    assert.include(column(targets, 'kind'), 'company');
    const lines = await table('sales-lines?from=2026-10&to=2026-10&limit=10');
    assert.equal(lines.rows.length, 10);
    assert.equal(lines.next, 10);
    const supply = await table('supply?from=2026-11&to=2027-01&grain=week&limit=5000');
    assert.isTrue(column(supply, 'units').every((units) => Number.isInteger(units)));
    const months = await table('supply?from=2026-11&to=2027-01&grain=month&limit=5000');
    assert.equal(sum(column(supply, 'units')), sum(column(months, 'units')));
  });

  it('refuse what a table does not know, by name', async () => {
    for (const [path, message] of [
      ['actuals?version=1', 'does not know "version"'],
      ['actuals?members=channel:nowhere', 'has no member "nowhere"'],
      ['plan-cells', 'Say which version'],
      ['actuals?from=2026-09&to=2026-08', 'ends before it starts'],
      ['actuals?limit=100000', 'limit'],
    ] as const) {
      const response = await ask(path);
      assert.equal(response.status, 400, path);
      const { detail } = (await response.json()) as { detail: string };
      assert.include(detail, message, path);
    }
    assert.equal((await ask('everything')).status, 404);
  });

  it('are read with a token, which only reads, and which can be withdrawn', async () => {
    for (const secret of ['drx_guessed_guessed_guessed', '', 'x'.repeat(300)]) {
      assert.equal((await ask('actuals', secret)).status, 401);
    }
    const { rows } = await sample.served.connections.pool.query<{ hash: string }>(
      'select hash from access_token',
    );
    assert.isFalse(
      rows.some(({ hash }) => hash.includes(token.slice(4))),
      'only a hash is kept',
    );
    const write = await fetch(`${sample.served.origin}/api${SAMPLE}/undo`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}` },
    });
    assert.equal(write.status, 401);
    const { body } = await sample.planner.send<{ id: number }[]>('GET', `${SAMPLE}/tokens`);
    const colleague = await sample.served.colleague();
    const path = `${SAMPLE}/tokens/${body[0]?.id ?? 0}`;
    assert.equal((await colleague.send('DELETE', path)).status, 404, 'not somebody else’s');
    assert.equal((await sample.planner.send('DELETE', path)).status, 204);
    assert.equal((await ask('actuals')).status, 401);
  });

  it('views stand in any page, without a script, until they are withdrawn', async () => {
    const query = {
      of: 'forecast',
      kind: 'chart',
      measure: 'revenue',
      rows: ['channel'],
      members: ['channel:web'],
      grain: 'month',
      window: 'this year',
    };
    const made = await sample.planner.send<MadeToken>('POST', `${SAMPLE}/views`, {
      name: 'Web <shop> & "more"',
      query,
    });
    assert.equal(made.status, 201, made.text);
    const embed = (secret: string): Promise<Response> =>
      fetch(`${sample.served.origin}/embed?token=${secret}`);
    const page = await embed(made.body.token);
    const html = await page.text();
    assert.equal(page.status, 200);
    assert.include(page.headers.get('content-security-policy') ?? '', 'frame-ancestors *');
    assert.isNull(page.headers.get('x-frame-options'));
    assert.notInclude(html, '<script');
    assert.notInclude(html, '<shop>');
    assert.include(html, '<svg');
    const tableView = await sample.planner.send<MadeToken>('POST', `${SAMPLE}/views`, {
      name: 'By channel',
      query: { ...query, kind: 'table', members: [] },
    });
    assert.include(await (await embed(tableView.body.token)).text(), 'Web shop');
    await sample.planner.send('DELETE', `${SAMPLE}/views/${made.body.id}`);
    assert.equal((await embed(made.body.token)).status, 404);
    assert.equal((await embed('view_nothing')).status, 404);
    const wrong = await sample.planner.send('POST', `${SAMPLE}/views`, {
      name: 'x',
      query: { ...query, rows: ['nothing'] },
    });
    assert.equal(wrong.status, 400);
  });

  it('a view holds the numbers of its room: forecast, summary, comparison', async () => {
    const window = { from: '2026-04', to: '2026-06' };
    const common = { kind: 'table', rows: ['channel'], members: [], window };
    const htmlOf = async (query: object): Promise<string> => {
      const made = await sample.planner.send<MadeToken>('POST', `${SAMPLE}/views`, {
        name: 'v',
        query,
      });
      assert.equal(made.status, 201, made.text);
      return (await fetch(`${sample.served.origin}/embed?token=${made.body.token}`)).text();
    };
    const thousands = (value: number): string =>
      new Intl.NumberFormat('en-IE', { maximumFractionDigits: 0 }).format(value / 1000);
    const summary = await sample.planner.send<Summary>(
      'GET',
      `${SAMPLE}/summary?rows=channel&columns=quarter&from=2026-04&to=2026-06&origin=books`,
    );
    const { cost, revenue } = summary.body.total.total;
    const sales = await htmlOf({
      of: 'sales',
      ...common,
      measure: 'margin',
      columns: 'quarter',
      origin: 'books',
      assigned: 'then',
    });
    assert.include(sales, `<td>${thousands(revenue - cost)}</td>`);
    assert.include(sales, 'only what is in the books');
    const forecast = await htmlOf({
      of: 'forecast',
      ...common,
      rows: ['channel', 'product'],
      measure: 'revenue',
      grain: 'quarter',
    });
    assert.include(forecast, `<td>${thousands(revenue)}</td>`);
    assert.include(forecast, '<th scope="row" class="l2">Brook carafe</th>');
    const versions = await sample.planner.send<{ id: number; name: string }[]>(
      'GET',
      `${SAMPLE}/versions`,
    );
    const version = versions.body[0];
    const comparison = { of: 'comparison', ...common, measure: 'revenue', version: version?.id };
    const compared = await htmlOf(comparison);
    assert.include(compared, `<td>${thousands(revenue)}</td>`);
    assert.include(compared, `actual less ${version?.name ?? 'no version'}`);
    assert.match(compared, /<td>\u2212?[\d.]+%<\/td>/);
    const years = { ...comparison, version: undefined, held: 'forecast', against: 'lastYear' };
    assert.include(await htmlOf(years), 'forecast less Last year');
    // What is entered by hand counts, unless the view is of the books only.
    await sample.planner.send('POST', `${SAMPLE}/hand-lines`, {
      date: '2026-05-20',
      members: { channel: 'web', product: 'tap-duo', group: 'households', region: 'north' },
      quantity: 10,
      netAmount: 500_000_000,
      why: 'sold at the fair',
    });
    const measured = { of: 'forecast', ...common, measure: 'revenue', grain: 'quarter' };
    for (const one of [measured, comparison]) {
      const [all, books] = [await htmlOf(one), await htmlOf({ ...one, origin: 'books' })];
      assert.include(all, `<td>${thousands(revenue + 5_000_000)}</td>`);
      assert.include(books, `<td>${thousands(revenue)}</td>`);
      assert.include(books, 'only what is in the books');
    }
    for (const wrong of [
      { ...comparison, version: 999 },
      { ...comparison, version: undefined },
      { ...comparison, held: 'target' },
      { ...comparison, window: { from: '2026-06', to: '2026-04' } },
      { ...comparison, members: ['channel:nowhere'] },
      { ...comparison, of: 'dreams' },
    ]) {
      const refused = await sample.planner.send('POST', `${SAMPLE}/views`, {
        name: 'v',
        query: wrong,
      });
      assert.include([400, 404], refused.status, JSON.stringify(wrong));
    }
  });

  it('demand for supply planning comes as a file of whole units', async () => {
    const { text, status } = await sample.planner.send(
      'GET',
      `${SAMPLE}/supply.csv?from=2026-11&to=2026-12&grain=week`,
    );
    assert.equal(status, 200);
    assert.match(text, /^\uFEFF?item,name,period,"units, forecast",check\r\n/);
    assert.match(text, /carafe-brook,Brook carafe,2026-W45,\d+,ok\r\n/);
  });
});
