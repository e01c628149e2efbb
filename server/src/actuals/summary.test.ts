import type { SalesLines, Summary, WorkspacePlan } from '@dravex/contract';
import { actualFigures, MemberTree, monthFrom, rollUp, yearBefore } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';
import { summaryDifferences } from './read-lines.ts';

describe('summaries of sales lines', () => {
  const sample = withSample();

  const summary = async (query: string): Promise<Summary> => {
    const { status, body, text } = await sample.planner.send<Summary>(
      'GET',
      `${SAMPLE}/summary?${query}`,
    );
    assert.equal(status, 200, text);
    return body;
  };

  it('have the numbers of the core, at every level, by month, quarter and year', async () => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const { plan } = body;
    const tree = new MemberTree(plan.dimensions);
    const span = { from: monthFrom('2025-02'), to: monthFrom('2026-09') };
    for (const grain of ['month', 'quarter', 'year'] as const) {
      const answer = await summary(`rows=channel,product&columns=${grain}&from=2025-02&to=2026-09`);
      for (const measure of ['units', 'revenue', 'cost'] as const) {
        const query = {
          measure,
          rows: ['channel', 'product'],
          columns: 'time',
          scope: [],
          span,
          grain,
        };
        const table = rollUp(actualFigures(plan), tree, query, plan.calendar.fiscalStart);
        assert.deepEqual(
          answer.columns.map(({ key }) => key),
          table.columns.map(({ key }) => key),
        );
        const rows = new Map(answer.rows.map((row) => [row.key, row]));
        for (const row of [...table.rows, table.total]) {
          const rowOfSum = row.key === 'total' ? answer.total : rows.get(row.key);
          row.cells.forEach(({ value }, place) =>
            assert.closeTo(
              rowOfSum?.cells[place]?.[measure] ?? Number.NaN,
              value ?? 0,
              1e-6,
              row.label,
            ),
          );
        }
      }
    }
  });

  it('add up the same by day, by week, by month and by a dimension', async () => {
    const frame = 'from=2026-07&to=2026-09&rows=region';
    const totals = await Promise.all(
      ['day', 'week', 'month', 'none', 'channel'].map(async (columns) => {
        const { total, rows } = await summary(`${frame}&columns=${columns}`);
        assert.closeTo(
          rows.reduce((sum, row) => sum + row.total.revenue, 0),
          total.total.revenue,
          1e-6,
        );
        return [total.total.lines, Math.round(total.total.revenue * 100)];
      }),
    );
    for (const total of totals) assert.deepEqual(total, totals[0]);
    const weeks = await summary(`${frame}&columns=week`);
    assert.equal(weeks.columns[0]?.key, '2026-W27');
    assert.isTrue(weeks.columns[0]?.partial, 'July 2026 begins on a Wednesday');
    assert.equal(weeks.columns.length, 14);
  });

  it('stand beside the same days a year before, also in a month that is not over', async () => {
    const answer = await summary('columns=month&from=2026-09&to=2026-10&compare=yearBefore');
    assert.deepEqual([answer.from, answer.to], ['2026-09-01', '2026-10-12']);
    assert.deepEqual(answer.before, { from: '2025-09-01', to: yearBefore('2026-10-12') });
    assert.equal(answer.warning, '');
    const { rows } = await sample.served.connections.pool.query<{ revenue: string }>(
      `select sum(net_amount) as revenue from sales_line
       where date between '2025-10-01' and '2025-10-12'`,
    );
    assert.equal(
      Math.round((answer.total.cellsBefore[1]?.revenue ?? 0) * 100),
      Number(rows[0]?.revenue),
    );
    const early = await summary('columns=month&from=2023-10&to=2024-06&compare=yearBefore');
    assert.include(early.warning, 'unlike length');
    const leap = await summary('columns=none&from=2024-02&to=2024-02&compare=yearBefore');
    assert.include(leap.warning, 'no sales lines a year before');
  });

  it('refuse what is no summary', async () => {
    for (const [query, path] of [
      ['rows=nothing&from=2026-01&to=2026-02', 'rows'],
      ['rows=channel&columns=channel&from=2026-01&to=2026-02', 'columns'],
      ['columns=day&from=2023-04&to=2026-09', 'columns'],
      ['from=2026-03&to=2026-02', 'to'],
      ['scope=999999&from=2026-01&to=2026-02', 'scope'],
    ] as const) {
      const { status, problem } = await sample.planner.send('GET', `${SAMPLE}/summary?${query}`);
      assert.equal(status, 400, query);
      assert.equal(problem?.errors?.[0]?.path, path, query);
    }
  });

  it('come as a file, several measures side by side', async () => {
    const { text } = await sample.planner.send(
      'GET',
      `${SAMPLE}/summary.csv?rows=channel&columns=quarter&from=2026-04&to=2026-09&measures=revenue,margin`,
    );
    const [header = '', first = ''] = text.replace('\uFEFF', '').split('\r\n');
    assert.include(
      header,
      '"Revenue, EUR, actual, FY2027-Q1","Gross margin, EUR, actual, FY2027-Q1"',
    );
    assert.match(header, /^Channel,/);
    assert.include(header, '"Gross margin, EUR, actual, total 2026-04 to 2026-09"');
    assert.match(first, /^Web shop,\d+\.?\d*,/);
  });

  it('take in sales that are not in the books, in or out by one switch', async () => {
    const frame = 'columns=none&from=2026-10&to=2026-10';
    const before = await summary(frame);
    const line = {
      date: '2026-10-03',
      members: { channel: 'web', product: 'carafe-brook', group: 'households', region: 'north' },
      quantity: 2.5,
      netAmount: 12_345,
      why: 'sold at the fair, cash',
    };
    const made = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/hand-lines`, line);
    assert.equal(made.status, 201, made.text);
    const all = await summary(frame);
    assert.closeTo(all.total.total.revenue - before.total.total.revenue, 123.45, 1e-9);
    const books = await summary(`${frame}&origin=books`);
    assert.deepEqual(books.total, before.total);
    const hand = await summary(`${frame}&origin=hand`);
    assert.equal(hand.total.total.lines, 1);
    assert.equal(hand.total.total.byHand, 1);
    // By days it is counted from the lines, by months from their sums.
    const daily = await summary('columns=day&from=2026-10&to=2026-10');
    assert.deepEqual([all.total.total.byHand, daily.total.total.byHand], [1, 1]);
    assert.equal(books.total.total.byHand, 0);
    const lines = await sample.planner.send<SalesLines>(
      'GET',
      `${SAMPLE}/sales-lines?from=2026-10&to=2026-10&origin=hand`,
    );
    assert.deepInclude(lines.body.lines[0], { note: line.why, origin: 'hand' });
    assert.equal(await summaryDifferences(sample.served.connections.db, 1), 0);

    const undone = await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal(undone.status, 200, undone.text);
    assert.deepEqual((await summary(frame)).total, before.total);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/redo`)).status, 200);
    assert.equal(
      (await sample.planner.send('DELETE', `${SAMPLE}/hand-lines/${made.body.id}`)).status,
      204,
    );
    assert.deepEqual((await summary(frame)).total, before.total);

    for (const [change, path] of [
      [{ why: '' }, 'why'],
      [{ date: '2027-01-01' }, 'date'],
      [{ members: { ...line.members, channel: 'nowhere' } }, 'members.channel'],
    ] as const) {
      const refused = await sample.planner.send('POST', `${SAMPLE}/hand-lines`, {
        ...line,
        ...change,
      });
      assert.equal(refused.status, 400);
      assert.equal(refused.problem?.errors?.[0]?.path, path);
    }
  });
});
