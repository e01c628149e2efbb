import { readFileSync } from 'node:fs';
import type { ImportBatch, ImportPreview, WorkspacePlan } from '@dravex/contract';
import { FAULTY_FILE } from '@dravex/sample';
import { assert } from 'chai';
import { SAMPLE, withSample, type Answer } from '../testing/serve.ts';
import { summaryDifferences } from './read-lines.ts';

const HEADER =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number,customer,seller';
let documents = 0;
const good = (
  changes: Partial<Record<'date' | 'quantity' | 'amount' | 'document', string>> = {},
): string =>
  [
    changes.date ?? '2026-09-15',
    'web,carafe-brook,households,north',
    changes.quantity ?? '2',
    changes.amount ?? '72.60',
    '31.94',
    changes.document ?? `T-${++documents}`,
    '1,,',
  ].join();

describe('imports of sales lines', () => {
  const sample = withSample();

  const upload = (text: string, name = 'test.csv'): Promise<Answer<ImportPreview>> =>
    sample.planner.send('POST', `${SAMPLE}/imports?fileName=${name}`, text, {
      'content-type': 'text/csv',
    });
  const revenue = async (): Promise<number> => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    return body.plan.actuals.revenue.reduce((sum, cents) => sum + cents, 0);
  };

  const refusals: [string, string, string][] = [
    ['an empty file', '', 'empty'],
    ['a file of blanks', ' \n \n', 'empty'],
    ['a header only', `${HEADER}\n`, 'no rows'],
    ['no header', `${good()}\n${good()}\n`, 'no header of sales lines'],
    ['a missing column', `${HEADER.replace(',quantity', '')}\n`, 'lacks "quantity"'],
    ['a column twice', `${HEADER},date\n`, '"date" twice'],
    ['NUL characters', `${HEADER}\n${good()}\0\n`, 'NUL'],
    ['an open quotation mark', `${HEADER}\n"${good()}\n`, 'cannot be read'],
  ];
  for (const [what, text, message] of refusals) {
    it(`refuse ${what}, saying what and where, and take in nothing`, async () => {
      const { status, problem } = await upload(text);
      assert.equal(status, 400);
      assert.include(problem?.detail, message);
      const waiting = await sample.planner.send<ImportBatch[]>('GET', `${SAMPLE}/imports`);
      assert.isTrue(waiting.body.every(({ state }) => state === 'applied'));
    });
  }

  it('name a customer that is not assigned, and read its rows again once it is', async () => {
    const assign = (customer: string) =>
      sample.planner.send('PUT', `${SAMPLE}/dimensions/group/assignments`, {
        assignments: [{ customer, from: '2023-04-01', member: 'offices' }],
      });
    await assign('K-1');
    const row = (customer: string, date: string, quantity: number): string =>
      `${date},web,carafe-brook,north,${quantity},${quantity * 30},${quantity * 12},A-${++documents},1,${customer}`;
    const rows = [
      row('K-1', '2026-09-15', 2),
      row('K-2', '2026-09-16', -3),
      row('K-2', '2026-10-02', 4),
      row('', '2026-09-17', 5),
    ];
    const text = `date,channel,product,region,quantity,net amount,cost,document,line number,customer\n${rows.join('\n')}\n`;
    const { body: preview } = await upload(text);
    assert.deepEqual(
      preview.groups.map(({ code, field, value, rows: count }) => [code, field, value, count]),
      [
        ['unassigned-customer', 'group', 'K-2', 2],
        ['missing-value', 'group', '', 1],
      ],
    );
    assert.include(preview.groups[0]?.message, 'customer "K-2" is not assigned');
    const again = { again: [{ field: 'group', from: 'K-2' }] };
    const path = `${SAMPLE}/imports/${preview.id}/repair`;
    const early = await sample.planner.send<ImportPreview>('POST', path, again);
    assert.equal(early.body.good, 1, 'it is not assigned yet');
    await assign('K-2');
    const { body: repaired } = await sample.planner.send<ImportPreview>('POST', path, again);
    assert.deepEqual([repaired.good, repaired.faulty], [3, 1]);
    await sample.planner.send('DELETE', `${SAMPLE}/imports/${preview.id}`);
    const { body: fresh } = await upload(text);
    assert.deepEqual(
      repaired.notes,
      fresh.notes,
      'the notes are those of the rows as they are now',
    );
    assert.deepInclude(fresh.notes, { closed: 2, negative: 1, negativeQuantities: 1, amounts: 3 });
    await sample.planner.send('DELETE', `${SAMPLE}/imports/${fresh.id}`);
  });

  it('refuse bytes that are no text', async () => {
    const response = await fetch(`${sample.served.origin}/api${SAMPLE}/imports`, {
      method: 'POST',
      headers: { cookie: sample.planner.cookie, 'x-csrf-token': sample.planner.csrfToken },
      body: Buffer.from([0x64, 0x00, 0xfe, 0xe9]),
    });
    assert.equal(response.status, 400);
    assert.include(await response.text(), 'NUL');
  });

  it('list every faulty row of the sample file with its reason, and apply the good ones as one unit', async () => {
    const before = await revenue();
    const { status, body: preview } = await upload(readFileSync(FAULTY_FILE, 'utf8'));
    assert.equal(status, 201);
    assert.deepEqual([preview.rows, preview.good, preview.faulty], [17, 9, 8]);
    assert.sameMembers(
      preview.problems.map(({ code }) => code),
      [
        'unknown-code',
        'impossible-date',
        'missing-value',
        'repeated-line',
        'other-currency',
        'not-a-leaf',
        'unknown-code',
        'outside-calendar',
      ],
    );
    assert.equal(preview.problems[0]?.row, 3);
    assert.equal(await revenue(), before, 'a preview changes nothing');

    const applied = await sample.planner.send<ImportBatch>(
      'POST',
      `${SAMPLE}/imports/${preview.id}/apply`,
    );
    assert.equal(applied.body.state, 'applied');
    const added = preview.months.reduce((sum, month) => sum + month.revenue, 0);
    assert.equal(await revenue(), before + added);
    assert.equal(await summaryDifferences(sample.served.connections.db, 1), 0);

    const again = await sample.planner.send('POST', `${SAMPLE}/imports/${preview.id}/apply`);
    assert.equal(again.status, 409);
    assert.equal(await revenue(), before + added);

    const twice = await upload(readFileSync(FAULTY_FILE, 'utf8'));
    assert.equal(twice.body.good, 0);
    assert.equal(twice.body.problemCounts['already-there'], 9);
    assert.equal(
      (await sample.planner.send('POST', `${SAMPLE}/imports/${twice.body.id}/apply`)).status,
      400,
    );
    assert.equal(
      (await sample.planner.send('DELETE', `${SAMPLE}/imports/${twice.body.id}`)).status,
      204,
    );
  });

  it('name every mistake of a row', async () => {
    const rows = [
      good({ date: '2025-02-29', quantity: 'two', amount: '1e400' }),
      good({ date: '1990-01-01' }),
      good({ amount: '99999999999999999' }),
      good({ amount: '1.005' }),
      `${good()},extra`,
    ];
    const { body } = await upload([HEADER, ...rows].join('\n'));
    assert.equal(body.good, 0);
    assert.deepEqual(
      body.problems.map(({ row, code }) => `${row} ${code}`),
      [
        '2 impossible-date',
        '2 not-a-number',
        '2 not-a-number',
        '3 outside-calendar',
        '4 too-large',
        '5 not-a-number',
        '6 wrong-columns',
      ],
    );
  });

  it('read semicolons with decimal commas, any order of columns, and CR LF', async () => {
    const header = HEADER.split(',').reverse().join(';');
    const row = [
      '',
      '',
      '1',
      'SC-1',
      '31,94',
      '72,6',
      '2,5',
      'north',
      'households',
      'carafe-brook',
      'web',
      '2026-09-15',
    ];
    const { body } = await upload(`\uFEFF${header}\r\n${row.join(';')}\r\n`);
    assert.equal(body.good, 1);
    assert.deepInclude(body.months[0], { month: '2026-09', units: 2.5, revenue: 7260, lines: 1 });
  });

  it('let only one of two imports of the same lines through', async () => {
    const text = [HEADER, good({ document: 'RACE-1' })].join('\n');
    const [one, two] = [await upload(text), await upload(text)];
    const applied = await Promise.all(
      [one, two].map(({ body }) =>
        sample.planner.send('POST', `${SAMPLE}/imports/${body.id}/apply`),
      ),
    );
    assert.sameMembers(
      applied.map(({ status }) => status),
      [200, 409],
    );
    assert.equal(await summaryDifferences(sample.served.connections.db, 1), 0);
  });

  it('are read one after the other when many come at once, and none waits for ever', async () => {
    const files = Array.from({ length: 14 }, () => `${HEADER}\n${good()}\n`);
    const answers = await Promise.all(files.map((text) => upload(text)));
    assert.deepEqual(
      answers.map(({ status, body }) => [status, body.good]),
      files.map(() => [201, 1]),
    );
    await Promise.all(
      answers.map(({ body }) => sample.planner.send('DELETE', `${SAMPLE}/imports/${body.id}`)),
    );
  });

  it('make the combination that nobody sold before', async () => {
    const row = '2026-09-15,office,carafe-brook,cafes,lakes,1,30.00,10.00,NEW-1,1,,';
    const { body } = await upload([HEADER, row].join('\n'));
    await sample.planner.send('POST', `${SAMPLE}/imports/${body.id}/apply`);
    const { body: after } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const { plan } = after;
    const newest = plan.combinations.at(-1);
    assert.equal(plan.actuals.revenue[plan.actuals.combination.indexOf(newest?.id ?? 0)], 3000);
    assert.isFalse(plan.streams.some(({ combination }) => combination === newest?.id));
  });

  it('keep the summary equal to a full recount of the sample', async () => {
    const { rows } = await sample.served.connections.pool.query<{ lines: string; summed: string }>(
      `select count(*) as lines, (select sum(lines) from sales_month) as summed
       from sales_line l join import_batch b on b.id = l.batch_id and b.state = 'applied'`,
    );
    assert.isAtLeast(Number(rows[0]?.lines), 60_000);
    assert.equal(rows[0]?.lines, rows[0]?.summed);
    assert.equal(await summaryDifferences(sample.served.connections.db, 1), 0);
  });
});
