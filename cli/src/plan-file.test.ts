import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { planFileJsonSchema, planFileSchema, type PlanFile } from '@dravex/contract';
import { FORECAST, type AccuracyTable, type Table } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, serveSample, type Served, type Visitor } from '../../server/src/testing/serve.ts';
import { startComputation } from '../../web/src/computation/computation.ts';
import { computeRows } from './compute.ts';
import { called } from './testing/terminal.ts';

const TOOL = fileURLToPath(new URL('../dravex.mjs', import.meta.url));
const SCHEMA = fileURLToPath(new URL('../../docs/plan-file.schema.json', import.meta.url));

describe('plan file', () => {
  let served: Served;
  let planner: Visitor;
  let file: PlanFile;
  const folder = mkdtempSync(join(tmpdir(), 'dravex-'));
  const path = join(folder, 'ondwell.dravex.json');
  before(async () => {
    served = await serveSample();
    planner = await served.planner();
    const { body, text } = await planner.send<PlanFile>('GET', `${SAMPLE}/plan-file`);
    file = body;
    writeFileSync(path, text);
  });
  after(async () => {
    rmSync(folder, { recursive: true });
    await served.close();
  });

  it('holds to the published schema, which is not behind', () => {
    planFileSchema.parse(file);
    const published = JSON.parse(readFileSync(SCHEMA, 'utf8')) as unknown;
    assert.deepEqual(published, JSON.parse(JSON.stringify(planFileJsonSchema())));
  });

  it('computes to the numbers of the screen, cell by cell', async () => {
    const { calendar, dimensions } = file.plan;
    const codes = dimensions.map(({ code }) => code);
    const out = join(folder, 'out.csv');
    assert.equal((await called(['compute', path, '--out', out])).status, 0);
    const [header = '', ...lines] = readFileSync(out, 'utf8').trim().split('\r\n');
    assert.deepEqual(header.split(','), ['month', ...codes, 'state', 'units', 'revenue', 'cost']);
    const computed = new Map(
      lines.map((line) => {
        const cells = line.split(',');
        const where = cells.slice(0, codes.length + 1).join();
        return [where, { units: Number(cells.at(-3)), revenue: Number(cells.at(-2)) }];
      }),
    );

    // What the browser's worker shows, and what the server says, for every combination and month.
    const worker = startComputation();
    worker.load({
      plan: {
        ...file.plan,
        assumptions: file.plan.assumptions.map((a) => ({ ...a, by: '', at: '' })),
        adjustments: file.plan.adjustments.map((a) => ({ ...a, by: '', at: '' })),
      },
    });
    const memberCodes = new Map(dimensions.flatMap((d) => d.members.map((m) => [m.id, m.code])));
    const span = { from: 0, to: 0 };
    const months = (text: string): number =>
      Number(text.slice(0, 4)) * 12 + Number(text.slice(5)) - 1;
    span.from = months(calendar.first);
    span.to = months(calendar.last);
    let seen = 0;
    for (const measure of ['units', 'revenue'] as const) {
      const query = `measure=${measure}&rows=${codes.join()}&from=${calendar.first}&to=${calendar.last}`;
      const { body: table } = await planner.send<Table>('GET', `${SAMPLE}/table?${query}`);
      const shown = worker.table(FORECAST, {
        measure,
        rows: codes,
        columns: 'time',
        scope: [],
        span,
        grain: 'month',
      });
      assert.deepEqual(JSON.parse(JSON.stringify(shown)), table);
      for (const row of table.rows) {
        if (row.scope.length < codes.length || row.parent) continue;
        row.cells.forEach(({ value }, index) => {
          const where = [
            table.columns[index]?.key,
            ...row.scope.map((id) => memberCodes.get(id)),
          ].join();
          assert.equal(computed.get(where)?.[measure] ?? 0, value ?? 0, `${measure} ${where}`);
          if (value) seen += 1;
        });
      }
    }
    assert.isAbove(seen, 5000);
  }).timeout(30_000);

  it('comes in as a workspace that computes to the same numbers', async () => {
    const key = { 'idempotency-key': 'plan-file-once' };
    const made = await planner.send<{ id: number }>('POST', '/workspaces/plan-file', file, key);
    assert.equal(made.status, 201, made.text);
    const again = await planner.send<{ id: number }>('POST', '/workspaces/plan-file', file, key);
    assert.deepEqual(again.body, made.body);
    const copy = (await planner.send<PlanFile>('GET', `/workspaces/${made.body.id}/plan-file`))
      .body;
    const told = (plan: PlanFile): string[] =>
      computeRows(plan)
        .map((row) => JSON.stringify(row))
        .sort();
    assert.deepEqual(told(copy), told(file));
    assert.deepEqual(
      copy.versions.map(({ name, state, cells }) => ({ name, state, cells: cells.revenue.length })),
      file.versions.map(({ name, state, cells }) => ({ name, state, cells: cells.revenue.length })),
    );
    assert.equal(copy.targets.length, file.targets.length);
  }).timeout(30_000);

  it('is refused with everything that is wrong, and nothing stays', async () => {
    const count = async (): Promise<unknown> =>
      (await served.connections.pool.query('select count(*) from workspace')).rows;
    const before = await count();
    const [first] = file.plan.streams;
    const wrong: [unknown, string][] = [
      [{ ...file, dravex: 2 }, 'format 1'],
      [{ ...file, surprise: 1 }, 'surprise'],
      [{ ...file, plan: { ...file.plan, streams: [first, first] } }, 'there can be only one'],
      [{ ...file, plan: { ...file.plan, combinations: [{ id: 1, members: [1] }] } }, 'dimensions'],
      [
        {
          ...file,
          versions: [{ ...file.versions[0], cells: { ...file.versions[0]?.cells, revenue: [] } }],
        },
        'unequal',
      ],
    ];
    for (const [body, words] of wrong) {
      const answer = await planner.send('POST', '/workspaces/plan-file', body as object);
      assert.equal(answer.status, 400, words);
      assert.include(answer.text, words);
    }
    assert.deepEqual(await count(), before);
  });

  it('is closed month by month, and says how good its forecasts were', async () => {
    const closed = join(folder, 'closed.dravex.json');
    const early = await called(['close', path, '--month', '2026-10', '--out', closed]);
    assert.equal(early.status, 1);
    assert.include(early.err, 'October 2026 is not over');
    assert.include(early.err, '--sure');
    const sure = ['close', path, '--month', '2026-10', '--out', closed, '--sure'];
    const { status, out } = await called(sure);
    assert.equal(status, 0);
    assert.include(out, '2026-10 is closed');
    const before = computeRows(file).filter(({ month }) => month === '2026-10');
    const { plan, closes } = planFileSchema.parse(JSON.parse(readFileSync(closed, 'utf8')));
    assert.equal(plan.calendar.closedThrough, '2026-10');
    const [kept] = closes;
    assert.equal(closes.length, file.closes.length + 1);
    const cents = kept?.cells.revenue.filter((_, at) => kept.cells.month[at] === '2026-10') ?? [];
    assert.closeTo(
      cents.reduce((sum, value) => sum + value, 0) / 100,
      before.reduce((sum, { revenue }) => sum + (revenue ?? 0), 0),
      0.005 * cents.length,
    );
    assert.equal((await called(['compute', closed])).status, 0);

    // The command line and the server say the same.
    const told = await called(['accuracy', path, '--rows', 'channel', '--ahead', '1,12']);
    const { body } = await planner.send<AccuracyTable>(
      'GET',
      `${SAMPLE}/closing/accuracy?rows=channel&from=2023-04&to=2026-09&leads=1,12`,
    );
    const lines = told.out.trim().split('\n').slice(1);
    const expected = [...body.rows, body.total].flatMap(({ leads }) =>
      leads.map(({ lead, months, wape }) => [lead, months, wape]),
    );
    assert.deepEqual(
      lines.map((line) => {
        const [, lead, months, , , , wape] = line.split(',');
        return [Number(lead), Number(months), Number(wape)];
      }),
      expected,
    );
    for (const [args, wanted, message] of [
      [['close', path, '--month', '2026-12', '--out', closed], 1, 'October 2026 comes before'],
      [['close', path, '--month', 'May', '--out', closed], 2, '--month'],
      [['close', path, '--month', '2026-10'], 2, '--out'],
      [['accuracy', path, '--rows', 'colour'], 1, 'There is no dimension "colour"'],
      [['accuracy', path, '--ahead', '0'], 2, '--ahead'],
      [['accuracy', path, '--measure', 'price'], 2, '--measure is one of'],
    ] as const) {
      const answer = await called([...args]);
      assert.equal(answer.status, wanted, args.join(' '));
      assert.include(answer.err, message);
    }
  });

  it('is checked and explained on the command line', async () => {
    assert.deepInclude(await called(['check', path]), { status: 0, out: 'Nothing is wrong\n' });
    const broken = join(folder, 'broken.dravex.json');
    const [assumption] = file.plan.assumptions;
    const plan = {
      ...file.plan,
      assumptions: [
        { ...assumption, driver: 'discount', profile: { kind: 'value', value: 20 } },
        { ...assumption, id: 99_999, driver: 'luck' },
      ],
    };
    writeFileSync(broken, JSON.stringify({ ...file, plan }));
    const { status, out } = await called(['check', broken]);
    assert.equal(status, 1);
    assert.include(out, 'above the maximum of 100 %');
    assert.include(out, 'There is no driver "luck"');
    const computed = await called(['compute', broken]);
    assert.equal(computed.status, 0, 'the rest computes');
    assert.match(computed.err, /problems: what rests on them has no value/);
    assert.include(computed.out, 'month,channel,product');
    const streams = [...file.plan.streams, { ...file.plan.streams[0], id: 99_999 }];
    writeFileSync(broken, JSON.stringify({ ...file, plan: { ...file.plan, streams } }));
    assert.include((await called(['compute', broken])).err, 'does not hold together');

    const web = 'channel:web,product:tap-duo,region:north';
    const told = await called(['explain', path, '--from', '2026-12', '--scope', web]);
    assert.equal(told.status, 0, told.err);
    for (const words of ['Gross units', 'List price', 'After discount', '(assumption ']) {
      assert.include(told.out, words);
    }
    const recurring = await called([
      ...['explain', path, '--from', '2026-12', '--measure', 'recurringRevenue', '--depth', '2'],
    ]);
    for (const words of [
      'Recurring revenue a month: ',
      'Recurring revenue before: ',
      'Less lost: -',
    ]) {
      assert.include(recurring.out, words);
    }
    assert.include(
      (await called(['explain', path, '--from', '2026-12', '--driver', 'discount'])).out,
      'Web shop',
    );
  });

  it('says on the command line what was called wrongly', async () => {
    const cases: [string[], number, string][] = [
      [['compute'], 2, 'Name the plan file'],
      [['compute', join(folder, 'nowhere.json')], 1, 'is it there?'],
      [['check', SCHEMA], 1, 'not a plan file'],
      [['check', TOOL], 1, 'not JSON'],
      [['explain', path], 2, '--from'],
      [['explain', path, '--from', 'May'], 1, 'not "May"'],
      [['explain', path, '--from', '2026-12', '--scope', 'channel:moon'], 1, 'channel:moon'],
      [['explain', path, '--from', '2026-12', '--measure', 'joy'], 1, '--measure is one of'],
      [['explain', path, '--from', '2026-12', '--source', 'dream'], 1, '"Budget FY 2027"'],
      [['explain', path, '--from', '2026-12', '--driver', 'luck'], 1, 'There is no driver'],
    ];
    for (const [args, status, words] of cases) {
      const ended = await called(args);
      assert.equal(ended.status, status, args.join(' '));
      assert.include(ended.err, words);
      assert.notInclude(ended.err, '    at ');
    }
  }).timeout(30_000);
});
