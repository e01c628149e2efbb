/** Changes of every kind of kept thing, for what must hold after any of them. */
import type { FilledSheet, Sheet, WorkspacePlan } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, type Visitor } from './serve.ts';

/** A request that changes something: its method, its path in the workspace, and its body. */
type Change = readonly [method: string, path: string, body?: object];

/** Does a change of the sample workspace, and says by its path which one it was. */
export type Step = (planner: Visitor) => Promise<string>;

/**
 * Sends a change. What it would have to have seen is not known beforehand: where that matters, the
 * answer says what it is.
 */
async function send(planner: Visitor, [method, path, body]: Change): Promise<string> {
  let sent = await planner.send(method, `${SAMPLE}${path}`, body);
  if (sent.status === 409 && sent.problem?.conflicts) {
    const typed = (body as { typed: object[] }).typed.map((t) => ({
      ...t,
      saw: sent.problem?.conflicts?.[0]?.now,
    }));
    sent = await planner.send(method, `${SAMPLE}${path}`, { typed });
  }
  assert.isBelow(sent.status, 300, `${path}: ${sent.text}`);
  return `${method} ${path}`;
}

/**
 * A change of each kind that can be taken back, in an order in which they can be done one after the
 * other. What they rest on is brought in here.
 */
export async function changesOfEveryKind(planner: Visitor): Promise<Step[]> {
  const { body } = await planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
  const [channel, , , region] = body.plan.dimensions;
  const web = channel?.members[0]?.id ?? 0;
  const versions = await planner.send<{ id: number }[]>('GET', `${SAMPLE}/versions`);
  const version = versions.body[0]?.id ?? 0;
  const tree = await planner.send<{ nodes: { id: number; kind: string }[] }>(
    'GET',
    `${SAMPLE}/targets/2027`,
  );
  const [top, area] = tree.body.nodes;
  const csv =
    'date,channel,product,group,region,quantity,net amount,cost,document,line number,customer,seller\n';
  const upload = await planner.send<{ id: number }>(
    'POST',
    `${SAMPLE}/imports?fileName=undo.csv`,
    `${csv.replace('group', 'customer group')}2026-09-30,web,carafe-dew,households,north,1,10,5,U-1,1,,\n`,
    { 'content-type': 'text/csv' },
  );
  assert.equal(upload.status, 201, upload.text);
  for (const [kind, text] of [
    ['facts', 'month,measure,channel,value\n2026-07,Visits,web,100\n'],
    ['ledger', 'month,account,account name,amount\n2026-07,4000,Sales,-100\n'],
  ] as const) {
    const { body, text: said } = await planner.send<{ id: number }>(
      'POST',
      `${SAMPLE}/imports?kind=${kind}&fileName=${kind}.csv`,
      text,
    );
    const applied = await planner.send('POST', `${SAMPLE}/imports/${body.id}/apply`);
    assert.equal(applied.status, 200, said);
  }
  const unknown = `${csv.replace('group', 'customer group')}2026-09-30,webb,carafe-dew,households,north,1,10,5,U-2,1,,\n`;
  const faulty = await planner.send<{ id: number }>(
    'POST',
    `${SAMPLE}/imports?fileName=webb.csv`,
    unknown,
  );
  await planner.send('POST', `${SAMPLE}/imports/${faulty.body.id}/repair`, {
    replace: [{ field: 'channel', from: 'webb', to: 'web', remember: true }],
  });
  const assignments = ['2026-01-01', '2026-07-01'].map((from, at) => ({
    customer: 'K-1',
    from,
    member: ['cafes', 'offices'][at],
  }));

  const newLine: Change = [
    'POST',
    `/versions/${version}/lines`,
    {
      members: { channel: 'web', product: 'carafe-dew', region: 'north', group: 'offices' },
      ...{ from: '2026-10', to: '2027-03', units: 60, revenue: 240_000 },
    },
  ];
  // A combination that was named once stays: what is named again is there before and after.
  await send(planner, newLine);
  await planner.send('POST', `${SAMPLE}/undo`);

  const steps: Change[] = [
    [
      'POST',
      '/streams/like',
      { dimension: 'product', like: 'carafe-brook', name: 'Fen carafe', code: 'carafe-fen' },
    ],
    [
      'PUT',
      '/drivers/discount/values',
      { values: [{ scope: [web], month: '2026-11', value: 0.3 }] },
    ],
    [
      'PUT',
      '/drivers/grossUnits/values',
      { totals: [{ scope: [], month: '2026-12', total: 80_000 }] },
    ],
    [
      'PUT',
      '/drivers/discount/values',
      { values: [{ scope: [web], month: '2026-11', value: null }] },
    ],
    [
      'PUT',
      '/drivers/listPrice/values',
      { changes: [{ scope: [web], month: '2027-01', kind: 'times', by: 1.04 }] },
    ],
    ['PUT', '/targets/2027', { objective: 2_500_000_000 }],
    ['PATCH', `/targets/2027/nodes/${area?.id}`, { part: { kind: 'percent', percent: 12.5 } }],
    [
      'POST',
      '/targets/2027/nodes',
      { parent: top?.id, name: 'Isles', kind: 'area', part: { kind: 'amount', amount: 5 } },
    ],
    ['POST', '/versions', { name: 'For a while', from: '2026-04', to: '2027-03' }],
    [
      'POST',
      `/versions/${version}/entries`,
      {
        typed: [
          { scope: [web], from: '2026-12', to: '2026-12', measure: 'revenue', total: 1, saw: 0 },
        ],
      },
    ],
    [
      'POST',
      `/versions/${version}/entries`,
      {
        typed: [
          {
            ...{ scope: [web], from: '2026-12', to: '2026-12' },
            ...{ measure: 'newSubscribers', total: 900, saw: 0 },
          },
        ],
      },
    ],
    newLine,
    ['PATCH', `/versions/${version}`, { name: 'Budget as agreed', putAway: true }],
    ['POST', `/versions/${version}/seal`],
    [
      'POST',
      '/assumptions',
      {
        assumptions: [{ driver: 'returnRate', scope: {}, profile: { kind: 'value', value: 0.5 } }],
      },
    ],
    ['PUT', '/dimensions/group/assignments', { assignments }],
    [
      'PUT',
      '/dimensions/group/assignments',
      { assignments: [{ customer: 'K-1', from: '2026-07-01', member: 'landlords' }] },
    ],
    ['POST', '/drivers', { code: 'spend', name: 'Spend', kind: 'money', default: 5 }],
    ['PATCH', '/drivers/spend', { maximum: 100, formula: null, name: 'Ad spend' }],
    [
      'POST',
      '/drivers/spend/assumptions',
      { scope: [web], profile: { kind: 'level', level: 3, indices: Array(12).fill(1) } },
    ],
    ['DELETE', '/drivers/spend'],
    ['PATCH', '/drivers/discount', { maximum: 0.8 }],
    ['PUT', '/streams/method', { streams: [1, 2], method: 'growthLastYear', settings: {} }],
    [
      'POST',
      '/overrides',
      {
        typed: [{ scope: [web], from: '2026-12', to: '2026-12', measure: 'units', total: 777 }],
        why: 'agreed',
      },
    ],
    ['POST', '/overrides/drop', { overrides: 'all' }],
    ['PATCH', '/dimensions/channel', { name: 'Way of selling' }],
    ['PATCH', '/facts/Visits', { nature: 'stock', unit: 'people' }],
    ['PATCH', '/ledger/4000', { behaviour: 'variable' }],
    ['PATCH', '/ledger/4000', { behaviour: null, name: 'Sales of goods' }],
    ['PUT', '/account-scopes', { accounts: [{ scope: [web], account: '4010' }] }],
    ['DELETE', '/remembered-repairs?kind=sales&field=channel&from=webb'],
    [
      'POST',
      '/hand-lines',
      {
        date: '2026-09-30',
        members: { channel: 'web', product: 'carafe-dew', group: 'households', region: 'north' },
        quantity: 3,
        netAmount: 9000,
        why: 'sold at the fair',
      },
    ],
    ['POST', '/dimensions/group/members', { code: 'schools', name: 'Schools' }],
    ['PATCH', `/dimensions/region/members/${region?.members[0]?.id}`, { name: 'The North' }],
    ['POST', '/dimensions', { code: 'brand', name: 'Brand', first: { code: 'own', name: 'Own' } }],
    ['DELETE', '/dimensions/brand'],
    ['POST', '/streams/delete', { streams: [29, 30] }],
    ['DELETE', `/versions/${version}`],
    [
      'POST',
      '/threads',
      {
        ...{ room: 'comparison', source: 'actual', against: 'lastYear', measure: 'revenue' },
        ...{ scope: [], from: '2026-04', to: '2026-09', text: 'Why?' },
      },
    ],
    ['PUT', '/kept-views/My%20view', { room: 'forecast', address: 'rows=channel' }],
    ['POST', `/imports/${upload.body.id}/apply`],
    [
      'POST',
      '/people',
      { email: 'new@ondwell.example', name: 'Nele Aar', password: 'long enough', role: 'reader' },
    ],
    [
      'PUT',
      '/closing/rules',
      { rule: { by: 'workingDay', day: 3 }, holidays: ['2026-12-25'], roll: 1 },
    ],
    ['PATCH', '/closing/calendar', { asOf: '2026-11-02', last: '2029-06' }],
    ['POST', '/closing/close', { month: '2026-10' }],
    ['POST', '/closing/reopen', { month: '2026-10', why: 'too early', sure: true }],
  ];
  const sent = steps.map(
    (change): Step =>
      (visitor) =>
        send(visitor, change),
  );
  // A version that is gone has no sheets.
  return [...sheetSteps(version), ...sent];
}

/** A sheet is made and handed out, and something is said of a line of it. */
function sheetSteps(version: number): Step[] {
  const sheets = `${SAMPLE}/sheets`;
  const last = async (planner: Visitor): Promise<FilledSheet> => {
    const listed = await planner.send<Sheet[]>('GET', sheets);
    const id = listed.body.at(-1)?.id ?? '';
    return (await planner.send<FilledSheet>('GET', `${sheets}/${id}`)).body;
  };
  return [
    async (planner) => {
      const people = await planner.send<{ id: number }[]>('GET', `${SAMPLE}/people`);
      const person = people.body[0]?.id ?? 0;
      const sheet = { title: 'All of it', version, person, scope: [], rows: ['channel'] };
      return send(planner, ['POST', '/sheets', sheet]);
    },
    async (planner) => {
      const { sheet } = await last(planner);
      return send(planner, ['POST', `/sheets/${sheet.id}/state`, { state: 'handedOut' }]);
    },
    async (planner) => {
      const { sheet, lines } = await last(planner);
      const { scope = [] } = lines[1] ?? {};
      const said = { scope, comment: 'The fair is in October', locked: true };
      return send(planner, ['PATCH', `/sheets/${sheet.id}/lines`, said]);
    },
  ];
}
