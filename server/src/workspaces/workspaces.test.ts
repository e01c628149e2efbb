import type {
  FirstFileChoice,
  FirstFileLook,
  ImportPreview,
  NewWorkspace,
  WorkspacePlan,
  WorkspaceProposal,
} from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

const BAKERY: NewWorkspace = {
  name: 'A bakery',
  asOfBy: 'hand',
  locale: 'en-IE',
  currency: { code: 'JPY', minorDigits: 0 },
  calendar: {
    first: '2024-01',
    last: '2026-12',
    closedThrough: '2025-06',
    asOf: '2025-07-04',
    fiscalStart: 1,
  },
  dimensions: [
    {
      code: 'branch',
      name: 'Branch',
      members: [
        { code: 'town', name: 'Town', parent: null },
        { code: 'market', name: 'Market square', parent: 'town' },
      ],
    },
  ],
};

describe('workspaces', () => {
  const sample = withSample();
  const make = (change: object = {}) =>
    sample.planner.send<{ id: number }>('POST', '/workspaces', { ...BAKERY, ...change });

  it('are made whole, with a calendar, a currency and a tree, for whoever makes them', async () => {
    const { status, body, text } = await make();
    assert.equal(status, 201, text);
    const { body: read } = await sample.planner.send<WorkspacePlan>(
      'GET',
      `/workspaces/${body.id}/plan`,
    );
    assert.equal(read.name, 'A bakery');
    assert.deepEqual(read.plan.calendar, BAKERY.calendar);
    assert.deepEqual(read.plan.currency, BAKERY.currency);
    const [branch] = read.plan.dimensions;
    const [town, market] = branch?.members ?? [];
    assert.equal(market?.parent, town?.id);
    assert.isEmpty(read.plan.streams);
    assert.isNotEmpty(read.plan.drivers, 'methods read their drivers from the first day');
    const reader = await sample.served.reader();
    const other = await reader.send('GET', `/workspaces/${body.id}/plan`);
    assert.equal(other.status, 404, 'nobody else is let in by that');
  });

  it('are refused with every mistake at its place, and nothing of them stays', async () => {
    const count = async () =>
      (await sample.served.connections.pool.query('select count(*) from workspace')).rows;
    const before = await count();
    const member = (code: string, parent: string | null) => ({ code, name: code, parent });
    const dimension = (code: string, ...members: object[]) => ({ code, name: code, members });
    const { calendar } = BAKERY;
    const wrong: [object, string][] = [
      [{ name: ' ' }, 'name'],
      [{ locale: 'not a locale' }, 'locale'],
      [{ currency: { code: 'euro', minorDigits: 2 } }, 'currency.code'],
      [{ currency: { code: 'EUR', minorDigits: 9 } }, 'currency.minorDigits'],
      [{ calendar: { ...calendar, closedThrough: '2026-12' } }, 'calendar.closedThrough'],
      [{ calendar: { ...calendar, asOf: '2025-02-30' } }, 'calendar.asOf'],
      [{ calendar: { ...calendar, fiscalStart: 13 } }, 'calendar.fiscalStart'],
      [{ dimensions: [] }, 'dimensions'],
      [
        { dimensions: [dimension('a', member('x', null)), dimension('a', member('y', null))] },
        'dimensions.1.code',
      ],
      [
        { dimensions: [dimension('a', member('x', null), member('x', null))] },
        'dimensions.0.members.1.code',
      ],
      [
        { dimensions: [dimension('a', member('x', 'y'), member('y', null))] },
        'dimensions.0.members.0.parent',
      ],
      [{ surprise: 1 }, ''],
    ];
    for (const [change, path] of wrong) {
      const { status, problem, text } = await make(change);
      assert.equal(status, 400, text);
      assert.equal(problem?.errors?.[0]?.path, path, text);
    }
    assert.deepEqual(await count(), before);
  });

  it('are proposed from a first file, and nothing is kept of it', async () => {
    const csv = [
      'date,channel,product,quantity,net amount,cost,document,line number',
      '2025-01-10,till,rye,2,9.00,4.00,B-1,1',
      '2025-03-11,till,roll,10,5.00,2.00,B-2,1',
      '2025-03-12,van,rye,1,4.50,2.00,B-3,1',
    ].join('\n');
    const { status, body, text } = await sample.planner.send<WorkspaceProposal>(
      'POST',
      '/workspaces/proposal',
      csv,
      { 'content-type': 'text/csv' },
    );
    assert.equal(status, 200, text);
    assert.equal(body.rows, 3);
    assert.isAtMost(body.calendar.first.localeCompare('2025-01'), 0);
    const members = Object.fromEntries(
      body.dimensions.map(({ code, members: membersOfDimension }) => [
        code,
        membersOfDimension.map((one) => one.code),
      ]),
    );
    assert.includeMembers(members['channel'] ?? [], ['till', 'van']);
    assert.includeMembers(members['product'] ?? [], ['rye', 'roll']);
    const made = await make({ calendar: body.calendar, dimensions: body.dimensions });
    assert.equal(made.status, 201, made.text);
    const lines = await sample.served.connections.pool.query(
      'select count(*)::int as n from sales_line where workspace_id = $1',
      [made.body.id],
    );
    assert.deepEqual(lines.rows, [{ n: 0 }]);
    for (const nothing of ['', 'date\n', '\u0000\u0001']) {
      const empty = await sample.planner.send('POST', '/workspaces/proposal', nothing, {
        'content-type': 'text/csv',
      });
      assert.equal(empty.status, 400, empty.text);
      assert.isNotEmpty(empty.problem?.detail);
    }
  });

  /** Sends a first file as it would be read. */
  const first = <T>(text: string | Buffer, reading: FirstFileChoice = {}, to = 'proposal') =>
    sample.planner.send<T>(
      'POST',
      `/workspaces/${to}?reading=${encodeURIComponent(JSON.stringify(reading))}`,
      text,
      { 'content-type': 'application/octet-stream' },
    );
  const codes = ({ dimensions }: Pick<FirstFileLook, 'dimensions'>): string[] =>
    dimensions.map(({ code }) => code);

  it('come from a first file whose headings nobody knows', async () => {
    const rows = Array.from({ length: 30 }, (_, index) =>
      [
        `${String(1 + (index % 28)).padStart(2, '0')}.03.2025`,
        ['Hafen', 'hafen ', 'walk-in'][index % 3],
        2 + (index % 4),
        `${10 + index},50`,
        `T-${index}`,
      ].join(';'),
    );
    const text = ['When;Branch;Pcs;Takings;Slip', ...rows, ';Summe;;999,00;', ''].join('\n');
    const { body: look } = await first<FirstFileLook>(text, {}, 'first-file');
    assert.deepInclude(look.reading.columns, { date: 0, quantity: 2, 'net amount': 3, branch: 1 });
    assert.deepEqual(codes(look), ['branch'], 'slips are all different: they cut nothing');
    assert.deepEqual([look.missing, look.reading.decimal], [[], ',']);
    const { body: found, text: said } = await first<WorkspaceProposal>(text);
    assert.deepInclude(found, { rows: 31, totals: 1, faulty: 0 }, said);
    assert.deepEqual(
      found.dimensions[0]?.members.map(({ name }) => name),
      ['Hafen', 'walk-in'],
      'one member however it is spelled, and names as they are written',
    );
    assert.deepInclude(found.months[0], { month: '2025-03', lines: 30, revenue: 750 });

    // Another column is made a dimension by hand, and the first one is not taken in.
    const chosen = { dimensions: [{ column: 4, name: 'Slip no' }] };
    const { body: other } = await first<WorkspaceProposal>(text, chosen);
    assert.deepEqual(
      other.dimensions.map(({ code, members }) => [code, members.length]),
      [['slip-no', 30]],
    );
  });

  it('have a dimension that no column of the first file holds', async () => {
    const text = 'date,net amount\n2025-01-02,1.50\n2025-02-03,2\n';
    const dimensions = [{ name: 'Sold through', value: 'Own shops' }];
    const { body: look } = await first<FirstFileLook>(text, { dimensions }, 'first-file');
    assert.deepEqual(look.dimensions, [
      { column: null, value: 'Own shops', code: 'sold-through', name: 'Sold through' },
    ]);
    assert.deepEqual(look.missing, []);
    const { body } = await first<WorkspaceProposal>(text, { dimensions });
    assert.deepEqual(body.dimensions[0]?.members, [
      { code: 'own-shops', name: 'Own shops', parent: null },
    ]);
    assert.deepEqual(body.reading.constants, { 'sold-through': 'Own shops' });
    const { status } = await first(text, { dimensions: [{ name: 'x' }] } as FirstFileChoice);
    assert.equal(status, 400);
  });

  it('come from months across and from amounts alone', async () => {
    const wide = [
      'Depot,Article,Jan 2025,Feb 2025,Mar 2025',
      'East,Screws,10,20,30',
      'East,Nails,1,,3',
      'East,Total,11,20,33',
    ].join('\n');
    const { body } = await first<WorkspaceProposal>(wide);
    assert.deepEqual(
      body.months.map(({ month, lines, revenue }) => [month, lines, revenue]),
      [
        ['2025-01', 2, 11],
        ['2025-02', 1, 20],
        ['2025-03', 2, 33],
      ],
    );
    assert.deepInclude(body.calendar, { closedThrough: '2025-03', asOf: '2025-03-31' });
    const ledger = 'Posted;Acct;Movement\n2025-01-31;8400;-12.50\n2025-02-28;8400;-7.50\n';
    const turned = await first<WorkspaceProposal>(ledger, {
      columns: { date: 0, 'net amount': 2 },
      dimensions: [{ column: 1, name: 'Account' }],
      turn: ['net amount'],
    });
    assert.deepEqual(
      turned.body.months.map(({ revenue, units }) => [revenue, units]),
      [
        [12.5, null],
        [7.5, null],
      ],
    );
    // Other ledgers have two columns: one is taken from the other, and a currency cuts nothing.
    const twoColumns = [
      'Booked;Wording;Debit;Credit;Curr',
      '2025-01-28;Goods;;100,50;EUR',
      '2025-01-29;Goods;20,25;;EUR',
      ';Total;20,25;100,50;EUR',
      ';;;;EUR',
    ].join('\n');
    const booked = await first<WorkspaceProposal>(twoColumns);
    assert.deepEqual(
      booked.body.months.map(({ lines, revenue }) => [lines, revenue]),
      [[2, 80.25]],
    );
    assert.deepEqual(
      booked.body.dimensions.map(({ name }) => name),
      ['Wording'],
    );
    // What goes with one text each is the number of something, and not how many of it.
    const numbered = ['When;Nummernkreis;Text;Sum'];
    for (let day = 1; day <= 24; day += 1) {
      const [code, text] = [['4000', 'Home'] as const, ['4010', 'Abroad'] as const][day % 2] ?? [];
      numbered.push(`${day}.01.2025;${code};${text};${day},50`);
    }
    const { body: coded } = await first<FirstFileLook>(numbered.join('\n'), {}, 'first-file');
    assert.deepInclude(coded.reading.columns, { quantity: null, 'net amount': 3 });
    assert.deepEqual(codes(coded), ['text']);
  });

  it('come from rows that say themselves which figure they hold, and so are they imported', async () => {
    const wide = [
      'Kundenart;Artikel;Kennzahl;Jan 25;Feb 25;Mrz 25',
      'Hotels;Tee;Menge;10;20;30',
      'Hotels;Tee;Umsatz;100,50;200;300',
      'Hotels;Tee;Wareneinsatz;40;80;120',
      'Cafés;Tee;Menge;1;2;3',
      'Cafés;Tee;Umsatz;11;22;33',
    ];
    const { body } = await first<WorkspaceProposal>(wide.join('\n'));
    assert.deepEqual(
      body.dimensions.map(({ code }) => code),
      ['kundenart', 'artikel'],
      'which figure it is cuts nothing',
    );
    assert.deepEqual(
      body.months.map(({ units, revenue, cost }) => [units, revenue, cost]),
      [
        [11, 111.5, 40],
        [22, 222, 80],
        [33, 333, 120],
      ],
    );
    const long = [
      'Tag;Laden;Was;Wert',
      '2025-01-02;Nord;Menge;4',
      '2025-01-02;Nord;Umsatz;9,90',
      '2025-02-02;Nord;Menge;5',
      '2025-02-02;Nord;Umsatz;12,50',
    ].join('\n');
    const down = await first<WorkspaceProposal>(long);
    assert.deepEqual(
      down.body.months.map(({ units, revenue, cost }) => [units, revenue, cost]),
      [
        [4, 9.9, null],
        [5, 12.5, null],
      ],
    );

    const made = await sample.planner.send<{ id: number }>('POST', '/workspaces', {
      name: 'Figures in rows',
      locale: 'de-DE',
      currency: { code: 'EUR', minorDigits: 2 },
      calendar: body.calendar,
      dimensions: body.dimensions,
    });
    assert.equal(made.status, 201, made.text);
    const to = `/workspaces/${made.body.id}`;
    const bytes = { 'content-type': 'application/octet-stream' };
    const sent = await sample.planner.send<ImportPreview>(
      'POST',
      `${to}/imports?fileName=figures.csv`,
      [...wide, 'Cafés;Tee;Marge;5;6;7'].join('\n'),
      bytes,
    );
    assert.equal(sent.status, 201, sent.text);
    assert.deepInclude(sent.body, { rows: 18, good: 15 });
    assert.deepEqual(
      sent.body.groups.map(({ code, value }) => [code, value]),
      [['unknown-figure', 'Marge']],
    );
    // One line of a document has its quantity and its amount in two rows.
    const documents = [
      'Tag;Kundenart;Artikel;Beleg;Pos;Was;Wert',
      '2025-01-02;Hotels;Tee;R-1;1;Menge;4',
      '2025-01-02;Hotels;Tee;R-1;1;Umsatz;9,90',
    ].join('\n');
    const reading = {
      columns: {
        ...{ date: 0, kundenart: 1, artikel: 2, document: 3, 'line number': 4 },
        ...{ figure: 5, 'net amount': 6 },
      },
    };
    const lined = await sample.planner.send<ImportPreview>(
      'POST',
      `${to}/imports?fileName=lines.csv&reading=${encodeURIComponent(JSON.stringify(reading))}`,
      documents,
      bytes,
    );
    assert.deepInclude(lined.body, { rows: 2, good: 2 }, lined.text);
    const mended = await sample.planner.send<ImportPreview>(
      'POST',
      `${to}/imports/${sent.body.id}/repair`,
      { replace: [{ field: 'figure', from: 'Marge', to: 'Cost' }] },
    );
    assert.deepInclude(mended.body, { rows: 18, good: 18 }, mended.text);
    assert.deepEqual(
      mended.body.months.map(({ lines, units, revenue }) => [lines, units, revenue]),
      [
        [6, 11, 11_150],
        [6, 22, 22_200],
        [6, 33, 33_300],
      ],
    );
  });

  it('say of a first file what it lacks, whatever it is', async () => {
    const wide = Array.from({ length: 300 }, (_, column) => `c${column}`).join(',');
    const millions = Array.from({ length: 30_000 }, (_, index) => `2025-01-02,m${index},1`);
    for (const [text, reading, said] of [
      ['date,shop,net amount\n', {}, 'a header and no rows'],
      ['takings\n1.50\n2.50\n', {}, 'holds date'],
      [`${wide}\n${wide}\n`, {}, 'No column of 300 holds date'],
      ['date,net amount\n2025-01-02,1.50\n', {}, 'choose one as a dimension'],
      [
        ['date,who,net amount', ...millions].join('\n'),
        { dimensions: [{ column: 1, name: 'Who' }] },
        'more than 20,000 different values',
      ],
      ['date,shop,net amount\nsoon,x,1\n', { columns: { date: 0 } }, 'None of the 1 rows'],
    ] as const) {
      const { status, problem } = await first(text, reading as FirstFileChoice);
      assert.equal(status, 400, said);
      assert.include(problem?.detail, said);
    }
    const odd = await first('date,a\n', { dimensions: [{ column: -1, name: '' }] });
    assert.equal(odd.status, 400);
  });

  it('stay apart: what is of one is not there in another', async () => {
    const { body } = await make({ name: 'Another' });
    const place = `/workspaces/${body.id}`;
    for (const path of [
      '/versions/1/cells',
      '/imports/1',
      '/table?rows=channel&from=2026-04&to=2026-05',
    ]) {
      const { status } = await sample.planner.send('GET', `${place}${path}`);
      assert.include([400, 404], status, path);
    }
    const typed = { values: [{ scope: [1], month: '2025-11', value: 1 }] };
    const foreign = await sample.planner.send('PUT', `${place}/drivers/listPrice/values`, typed);
    assert.equal(foreign.problem?.errors?.[0]?.path, 'values.0.scope.0');
    const streams = { streams: [1], method: 'amount', settings: {} };
    assert.equal(
      (await sample.planner.send('PUT', `${place}/streams/method`, streams)).status,
      404,
    );
    const { body: samplePlan } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    assert.isNotEmpty(samplePlan.plan.streams);
  });
});
