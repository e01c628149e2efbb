import type { WorkspacePlan } from '@dravex/contract';
import {
  compile,
  evaluate,
  forecastFigures,
  marketOf,
  measuredTable,
  monthFrom,
  proposeStreams,
  rollUp,
  type MeasuredQuery,
  type MeasuredTable,
  type Table,
} from '@dravex/core';
import { assert } from 'chai';
import { inTransaction } from '../platform/database.ts';
import { SAMPLE, until, withSample } from '../testing/serve.ts';

describe('forecast', () => {
  const sample = withSample();

  const table = (address: string) =>
    sample.planner.send<Table>('GET', `${SAMPLE}/table?${address}`);

  it('has the numbers that the core computes from the plan it hands out', async () => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const model = evaluate(compile(body.plan));
    for (const measure of ['revenue', 'units', 'averagePrice'] as const) {
      const query = {
        measure,
        rows: ['channel', 'product'],
        columns: 'time',
        scope: [],
        span: { from: monthFrom('2026-04'), to: monthFrom('2028-03') },
        grain: 'quarter',
      } as const;
      const expected = rollUp(forecastFigures(model), model.tree, query, 4);
      const answer = await table(
        `measure=${measure}&rows=channel,product&from=2026-04&to=2028-03&grain=quarter`,
      );
      assert.deepEqual(answer.body, JSON.parse(JSON.stringify(expected)));
    }
  });

  it('is read by ISO week: what was sold by the days of its lines, the rest by days of the month', async () => {
    const asked = 'measure=revenue&rows=channel&from=2026-08&to=2026-11';
    const { body: weeks } = await table(`${asked}&grain=week`);
    const { body: months } = await table(`${asked}&grain=month`);
    assert.equal(weeks.columns[0]?.key, '2026-W31');
    for (const [place, row] of [...weeks.rows, weeks.total].entries()) {
      const other = [...months.rows, months.total][place];
      const sum = row.cells.reduce((all, { value }) => all + (value ?? 0), 0);
      assert.closeTo(sum, other?.total.value ?? 0, 1e-4, row.label);
      assert.deepEqual(row.total, other?.total);
    }
    const sold = async (fromDay: string, toDay: string): Promise<number> => {
      const days = `from=${fromDay.slice(0, 7)}&to=${toDay.slice(0, 7)}&fromDay=${fromDay}&toDay=${toDay}`;
      const lines = await sample.planner.send<{ revenue: number }>(
        'GET',
        `${SAMPLE}/sales-lines?${days}&scope=&limit=1`,
      );
      return lines.body.revenue / 100;
    };
    const week = (key: string): number =>
      weeks.total.cells[weeks.columns.findIndex((column) => column.key === key)]?.value ?? NaN;
    assert.closeTo(week('2026-W36'), await sold('2026-08-31', '2026-09-06'), 1e-4);
    assert.closeTo(week('2026-W31'), await sold('2026-08-01', '2026-08-02'), 1e-4);
    const november = months.total.cells.at(-1)?.value ?? NaN;
    assert.closeTo(week('2026-W46'), (november * 7) / 30, 1e-4);
    const october = months.total.cells.at(-2)?.value ?? NaN;
    const september = await sold('2026-09-28', '2026-09-30');
    assert.closeTo(week('2026-W40'), september + (october * 4) / 31, 1e-4);
    const { body: grown } = await sample.planner.send<MeasuredTable>(
      'GET',
      `${SAMPLE}/table/measured?measures=revenue,revenueOnLastYear&rows=channel&from=2026-08&to=2026-11&grain=week`,
    );
    const at = grown.columns.findIndex(({ key }) => key === '2026-W36');
    const before = await sold('2025-08-31', '2025-09-06');
    assert.closeTo(
      grown.totals[1]?.cells[at]?.value ?? NaN,
      (week('2026-W36') - before) / before,
      1e-9,
    );
    const { body: kept } = await sample.planner.send<{ weeks: { month: string[] } }>(
      'GET',
      `${SAMPLE}/sales-weeks?from=2026-08&to=2026-11`,
    );
    assert.equal(kept.weeks.month.toSorted().at(-1), '2026-09', 'open months are not told');
    const { text } = await sample.planner.send('GET', `${SAMPLE}/table.csv?${asked}&grain=week`);
    assert.include(text.split('\r\n')[0], '2026-W36');
    const wrong = await sample.planner.send('GET', `${SAMPLE}/sales-weeks?from=2026-08&to=2026-07`);
    assert.equal(wrong.status, 400);
  });

  it('has several measures in one table, as the core makes it, and as a file', async () => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const model = evaluate(compile(body.plan));
    const measures = ['units', 'shareOfMarket', 'revenueOnLastYear'] as const;
    const query: MeasuredQuery = {
      measures,
      rows: ['product', 'region'],
      columns: 'time',
      scope: [],
      span: { from: monthFrom('2026-04'), to: monthFrom('2027-03') },
      grain: 'quarter',
      empty: false,
      order: { column: 'total', descending: true },
    };
    const figures = forecastFigures(model);
    const expected = measuredTable(figures, marketOf(model), model.tree, query, 4);
    const address = `measures=${measures.join(',')}&rows=product,region&from=2026-04&to=2027-03&grain=quarter&order=total:down`;
    const path = `${SAMPLE}/table/measured`;
    const answer = await sample.planner.send('GET', `${path}?${address}`);
    assert.deepEqual(answer.body, JSON.parse(JSON.stringify(expected)));
    const { text } = await sample.planner.send('GET', `${path}.csv?${address}`);
    const lines = text.replace('\uFEFF', '').trim().split('\r\n');
    assert.lengthOf(lines, 1 + expected.rows.length + measures.length);
    assert.equal(
      Number(lines.at(-2)?.split(',').at(-1)),
      // In full, but for what sums of doubles leave in the last places.
      Number(expected.totals[1]?.total.value?.toPrecision(15)),
      'the share of market of everything',
    );
    for (const [wrong, message] of [
      ['measures=units,nothing', 'Invalid option'],
      ['measures=units&order=units', 'up or down'],
      ['rows=channel', 'name a measure'],
      ['measures=units&columns=nothing', 'There is no dimension'],
    ] as const) {
      const refused = await sample.planner.send(
        'GET',
        `${path}?from=2026-04&to=2027-03&rows=product&${wrong}`.replace(
          '&rows=product&rows',
          '&rows',
        ),
      );
      assert.equal(refused.status, 400, wrong);
      assert.include(refused.problem?.detail, message, wrong);
    }
  });

  it('makes streams of those that are chosen of what was sold', async () => {
    const dew = await sample.planner.send<Table>(
      'GET',
      `${SAMPLE}/table?rows=product&from=2026-04&to=2026-09`,
    );
    assert.isTrue(dew.body.rows.some(({ label }) => label === 'Dew carafe'));
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const wanted = proposeStreams(body.plan).slice(0, 3);
    const combinations = wanted.map(({ combination }) => combination);
    const path = `${SAMPLE}/streams/from-sales`;
    const made = await sample.planner.send<{ streams: number }>('POST', path, { combinations });
    assert.deepEqual([made.status, made.body.streams], [201, 3]);
    const again = await sample.planner.send('POST', path, { combinations });
    assert.equal(again.status, 400, 'they are forecast by now');
    const after = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    assert.equal(after.body.plan.streams.length, body.plan.streams.length + 3);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
  });

  it('tells whoever makes many lines how far that is, and nobody else', async () => {
    const colleague = await sample.served.colleague();
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const all = body.plan.streams.map(({ id }) => id);
    await sample.planner.send('POST', `${SAMPLE}/streams/delete`, { streams: all });
    const [own, others] = [await sample.planner.follow(SAMPLE), await colleague.follow(SAMPLE)];
    const key = 'many-lines-at-once';
    // It has to wait in the middle of its work: what takes long is told, however fast the machine is.
    let making: ReturnType<typeof sample.planner.send> | undefined;
    await inTransaction(sample.served.connections, async (tx) => {
      await tx.execute('lock table stream in exclusive mode');
      const keyed = { 'idempotency-key': key };
      making = sample.planner.send('POST', `${SAMPLE}/streams/from-sales`, {}, keyed);
      await new Promise((resolve) => setTimeout(resolve, 500));
    });
    const made = await (making ?? assert.fail('nothing was sent'));
    assert.equal(made.status, 201, made.text);
    await until(() => own.heard.length > 0 && others.heard.length > 0, 'the notice of the write');
    const shares = own.progress.map(({ share }) => share);
    assert.isNotEmpty(shares);
    assert.deepEqual(
      shares,
      shares.toSorted((a, b) => a - b),
    );
    assert.isTrue(own.progress.every((one) => one.key === key));
    assert.isEmpty(others.progress);
    own.stop();
    others.stop();
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
  });

  it('adds a product like another one, with its lines, season and prices, and takes it back', async () => {
    const wish = { dimension: 'product', like: 'carafe-brook', name: 'Fen carafe', code: 'fen' };
    const add = (more: object) =>
      sample.planner.send<{ member: number; streams: number }>('POST', `${SAMPLE}/streams/like`, {
        ...wish,
        ...more,
      });
    for (const [more, status, message] of [
      [{ like: 'nothing' }, 400, 'no member with the code nothing'],
      [{ dimension: 'colour' }, 404, ''],
      [{ code: 'carafe-brook' }, 409, 'already'],
      [{ from: '2026-09' }, 400, 'no open month'],
      [{ scale: -1 }, 400, 'at least 0'],
      [{ name: '' }, 400, ''],
    ] as const) {
      const refused = await add(more);
      assert.equal(refused.status, status, refused.text);
      assert.include(refused.text, message);
    }
    const { status, body, text } = await add({ scale: 0.5, from: '2027-01' });
    assert.equal(status, 201, text);
    assert.isAbove(body.streams, 1);
    const { body: loaded } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const product = loaded.plan.dimensions[1]?.members ?? [];
    const other = product.find(({ code }) => code === 'carafe-brook');
    assert.equal(product.find(({ id }) => id === body.member)?.parent, other?.parent);
    const revenue = async (scope: number, months: string): Promise<number> =>
      (await table(`measure=revenue&rows=channel&scope=${scope}&${months}`)).body.total.total
        .value ?? Number.NaN;
    const first = 'from=2027-01&to=2027-12';
    const [made, like] = [await revenue(body.member, first), await revenue(other?.id ?? 0, first)];
    assert.approximately(made, like / 2, like * 0.01);
    assert.equal(await revenue(body.member, 'from=2026-10&to=2026-12'), 0);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    const after = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    assert.equal(after.body.plan.streams.length, loaded.plan.streams.length - body.streams);
    assert.isFalse(after.body.plan.dimensions[1]?.members.some(({ code }) => code === 'fen'));
  });

  it('has closed months that equal a bare sum of the sales lines', async () => {
    const { rows } = await sample.served.connections.pool.query<{
      name: string;
      month: string;
      revenue: string;
      units: string;
    }>(`
      select m.name, to_char(l.date, 'YYYY-MM') as month, sum(l.net_amount) / 100.0 as revenue,
        sum(l.quantity) as units
      from sales_line l
      join combination c on c.workspace_id = l.workspace_id and c.id = l.combination_id
      join member m on m.workspace_id = l.workspace_id and m.id = c.members[1]
      where l.date between '2025-04-01' and '2026-09-30' group by 1, 2`);
    for (const measure of ['revenue', 'units'] as const) {
      const { body } = await table(`measure=${measure}&rows=channel&from=2025-04&to=2026-09`);
      let compared = 0;
      for (const row of rows) {
        const line = body.rows.find(({ label }) => label === row.name);
        const column = body.columns.findIndex(({ key }) => key === row.month);
        assert.closeTo(line?.cells[column]?.value ?? 0, Number(row[measure]), 1e-6);
        compared += 1;
      }
      assert.equal(compared, 4 * 18);
    }
  });

  it('follows an edit at once', async () => {
    const address = 'rows=channel&from=2026-12&to=2026-12';
    const before = (await table(address)).body.total.total.value ?? 0;
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const office = body.plan.dimensions[0]?.members.find(({ code }) => code === 'office')?.id;
    await sample.planner.send('PUT', `${SAMPLE}/drivers/discount/values`, {
      values: [{ scope: [office], month: '2026-12', value: 0.5 }],
    });
    const after = (await table(address)).body.total.total.value ?? 0;
    assert.isBelow(after, before);
  });

  it('goes out as CSV that holds the same numbers', async () => {
    const address = 'rows=channel,product&from=2026-10&to=2026-12';
    const { body } = await table(address);
    const { text, status } = await sample.planner.send('GET', `${SAMPLE}/table.csv?${address}`);
    assert.equal(status, 200);
    const lines = text.replace('\uFEFF', '').trim().split('\r\n');
    const heads = ['2026-10', '2026-11', '2026-12', 'total 2026-10 to 2026-12'];
    const named = heads.map((head) => `"Revenue, EUR, Forecast, ${head}"`);
    assert.equal(lines[0], ['Channel', 'Product', ...named].join());
    assert.lengthOf(lines, body.rows.length + 2);
    const total = lines.at(-1)?.split(',').at(-1) ?? '';
    assert.match(total, /^\d+\.\d\d$/, 'money has its currency’s digits');
    assert.closeTo(Number(total), body.total.total.value ?? 0, 0.005);
  });

  it('says what is wrong with an address', async () => {
    const wrong: [string, string][] = [
      ['rows=weather&from=2026-04&to=2026-05', 'There is no dimension "weather"'],
      ['rows=channel&columns=channe&from=2026-04&to=2026-05', 'There is no dimension "channe"'],
      ['rows=channel&scope=99999&from=2026-04&to=2026-05', 'There is no member 99999'],
      ['rows=channel&from=2026-06&to=2026-05', 'ends before it starts'],
      ['rows=channel&from=soon&to=2026-05', 'write a month as 2026-04'],
      ['rows=&from=2026-04&to=2026-05', 'name a dimension'],
      ['rows=channel&from=2026-04&to=2026-05&surprise=1', 'surprise'],
    ];
    for (const [address, message] of wrong) {
      const { status, problem } = await table(address);
      assert.equal(status, 400, address);
      assert.include(problem?.detail, message, address);
    }
    const missing = await table('rows=channel&from=2026-04&to=2026-05&version=99');
    assert.equal(missing.status, 404);
  });

  it('refuses streams that overlap or name what is not there', async () => {
    const stream = (members: object) => ({ streams: [{ members, method: 'volumePrice' }] });
    const there = { channel: 'web', product: 'carafe-brook', group: 'households', region: 'north' };
    assert.equal(
      (await sample.planner.send('POST', `${SAMPLE}/streams`, stream(there))).status,
      409,
    );
    const family = await sample.planner.send(
      'POST',
      `${SAMPLE}/streams`,
      stream({ ...there, product: 'carafes' }),
    );
    assert.equal(family.problem?.errors?.[0]?.path, 'streams.0.members.product');
    const fresh = { ...there, channel: 'office', group: 'cafes' };
    assert.equal(
      (await sample.planner.send('POST', `${SAMPLE}/streams`, stream(fresh))).status,
      201,
    );
  });
});
