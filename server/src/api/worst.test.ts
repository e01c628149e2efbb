/**
 * Every route, asked for the most that its schema allows, in a server that is watched: nothing keeps
 * others waiting, or needs more memory than there is. A new route cannot be forgotten.
 */
import { API, type Operation } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, type Visitor } from '../testing/serve.ts';
import { startWatched, type WatchedServer } from '../testing/watched-server.ts';

const [HELD_MS, MEMORY_MB] = [200, 400];
/**
 * A plan file is held whole while it is checked, in a thread beside the server: one that is sixty
 * times the sample's needs more than everything else. Smaller threads would refuse files that large
 * companies save; it is written down in docs/reliability.md.
 */
const MORE_MB: Readonly<Record<string, number>> = { loadPlanFile: 540 };
const ALL = 'rows=channel,product,group,region';
const WIDE = 'from=2023-04&to=2029-03';
const OPEN = ['2026-10', '2029-03'] as const;

/** The most that can be asked of an operation. */
interface Case {
  /** What the path leaves open; an id is 1 where nothing is said. */
  readonly at?: Readonly<Record<string, string | number>>;
  readonly query?: string;
  readonly body?: () => unknown;
  readonly file?: () => Buffer;
}

/** As many different scopes as there are, of one member in each dimension. */
function scopesOf(ids: readonly (readonly number[])[]): number[][] {
  return ids.reduce<number[][]>(
    (scopes, members) => scopes.flatMap((scope) => members.map((id) => [...scope, id])),
    [[]],
  );
}
const times = <T>(count: number, make: (at: number) => T): T[] =>
  Array.from({ length: count }, (_, at) => make(at));
const csv = (head: string, row: (at: number) => string, bytes: number): Buffer => {
  const lines = [head];
  for (let size = 0, at = 0; size < bytes; at += 1) {
    const line = row(at);
    size += line.length + 1;
    lines.push(line);
  }
  return Buffer.from(`${lines.join('\n')}\n`);
};
const SOLD = { channel: 'web', product: 'tap-one', group: 'households', region: 'north' };
const DIVIDED = { kind: 'divide', mix: { equal: 1 }, deep: true };
const SALES =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number';
const MB = 1024 ** 2;
const months = (from: string, to: string): string[] => {
  const all: string[] = [];
  for (let [year = 0, month = 0] = from.split('-').map(Number); ; month += 1) {
    if (month > 12) [year, month] = [year + 1, 1];
    const text = `${year}-${String(month).padStart(2, '0')}`;
    all.push(text);
    if (text === to) return all;
  }
};

describe('the worst that can be asked', function () {
  this.timeout(120_000);
  // Once, a collector or a first compilation may fall into it; what holds others twice is no accident.
  this.retries(1);
  let server: WatchedServer;
  let scopes: number[][] = [];
  let codes: { code: string; members: string[] }[] = [];
  let streams: number[] = [];
  let version = 0;
  let planFile = '';
  const operations: [string, Operation][] = Object.values(API).flatMap((room) =>
    Object.entries(room),
  );

  before(async () => {
    server = await startWatched();
    const { planner } = server;
    const { body: dimensions } = await planner.send<
      { code: string; members: { id: number; code: string }[] }[]
    >('GET', `${SAMPLE}/dimensions`);
    codes = dimensions.map(({ code, members }) => ({
      code,
      members: members.map((one) => one.code),
    }));
    scopes = scopesOf(dimensions.map(({ members }) => members.map(({ id }) => id))).filter(
      // These two become one in the course of it.
      (scope) => !scope.includes(7) && !scope.includes(8),
    );
    const { body: plan } = await planner.send<{
      plan: { streams: { id: number }[] };
    }>('GET', `${SAMPLE}/plan`);
    streams = plan.plan.streams.map(({ id }) => id);
    const kept = await planner.send<{ id: number }>('POST', `${SAMPLE}/versions`, {
      name: 'Worst',
      from: OPEN[0],
      to: '2028-09',
    });
    version = kept.body.id;
    planFile = (await planner.send('GET', `${SAMPLE}/plan-file`)).text;
  });
  after(() => server.close());

  /** One of the many scopes there are, by codes. */
  const namedScope = (at: number): Record<string, string> => {
    let rest = at;
    return Object.fromEntries(
      codes.map(({ code, members }) => {
        const member = members[rest % members.length] ?? '';
        rest = Math.floor(rest / members.length);
        return [code, member];
      }),
    );
  };
  const typedTotals = (count: number, extra: object) =>
    times(count, (at) => ({
      scope: scopes[at % scopes.length],
      from: OPEN[0],
      to: OPEN[1],
      total: 1000 + at,
      ...extra,
    }));
  const members = (count: number, extra = {}) =>
    times(count, (at) => ({ code: `m${at}`, name: `Member ${at}`, parent: null, ...extra }));

  const WORST: Readonly<Record<string, Case>> = {
    // People and sessions
    addPerson: {
      body: () => ({
        email: 'x@ondwell.example',
        name: 'X',
        password: 'a rather long one',
        role: 'reader',
      }),
    },
    invitePerson: {
      body: () => ({
        email: 'y@ondwell.example',
        name: 'Y',
        role: 'manager',
        parts: times(200, (at) => at + 1),
      }),
    },
    changeRole: { at: { personId: 2 }, body: () => ({ role: 'reader' }) },
    signIn: { body: () => ({ email: 'nobody@ondwell.example', password: 'x'.repeat(200) }) },
    keepLayout: {
      body: () => ({
        widths: {},
        folded: Object.fromEntries(
          times(200, (at) => [`k${at}`, times(50, (row) => `row ${row}`)]),
        ),
      }),
    },
    keepPreferences: { body: () => ({ theme: 'dark' }) },
    changePassword: { body: () => ({ password: 'not this one', next: 'another long password' }) },
    readPasswordLink: { body: () => ({ token: 'link_none' }) },
    choosePassword: { body: () => ({ token: 'link_none', password: 'another long password' }) },
    beginSecondFactor: { body: () => ({ password: 'not this one' }) },
    confirmSecondFactor: { body: () => ({ code: '123456' }) },
    dropSecondFactor: { body: () => ({ password: 'not this one', code: '123456' }) },
    setEntryRules: { body: () => ({ secondFactor: false }) },
    readAudit: { query: 'limit=500&person=a' },
    saveAudit: { query: 'person=a' },
    // Workspaces
    createWorkspace: {
      body: () => ({
        name: 'Large',
        locale: 'en-IE',
        calendar: {
          first: '2023-04',
          last: '2029-03',
          closedThrough: '2026-09',
          asOf: '2026-10-12',
          fiscalStart: 4,
        },
        currency: { code: 'EUR', minorDigits: 2 },
        dimensions: times(2, (at) => ({
          code: `d${at}`,
          name: `D ${at}`,
          members: members(20_000),
        })),
      }),
    },
    lookAtFirstFile: {
      file: () =>
        csv(
          SALES,
          (at) => `2026-10-05,c${at % 50},p${at},g${at % 40},n,1,70.00,30.00,D-${at},1`,
          24 * MB,
        ),
    },
    proposeWorkspace: {
      file: () =>
        csv(
          SALES,
          (at) => `2026-10-05,c${at % 50},p${at % 9999},g${at % 40},n,1,70.00,30.00,D-${at},1`,
          24 * MB,
        ),
    },
    loadPlanFile: {
      body: () => {
        const file = JSON.parse(planFile) as { plan: { assumptions: { id: number }[] } };
        const { assumptions } = file.plan;
        file.plan.assumptions = times(60_000, (at) => {
          const one = assumptions[at % assumptions.length];
          return { ...one, id: at + 1 } as { id: number };
        });
        return file;
      },
    },
    // Dimensions
    addDimension: {
      body: () => ({ code: 'extra', name: 'Extra', first: { code: 'all', name: 'All' } }),
    },
    deleteDimension: { at: { dimension: 'extra' } },
    renameDimension: { at: { dimension: 'region' }, body: () => ({ name: 'Area' }) },
    addMember: {
      at: { dimension: 'product' },
      body: () => ({ code: 'fresh', name: 'Fresh', parent: null }),
    },
    changeMember: { at: { dimension: 'product', memberId: 5 }, body: () => ({ name: 'Other' }) },
    previewMerge: { at: { dimension: 'product', memberId: 7 }, query: 'into=8' },
    mergeMember: { at: { dimension: 'product', memberId: 7 }, body: () => ({ into: 8 }) },
    tellApart: {
      at: { dimension: 'region' },
      query: 'apply=no',
      body: () => ({
        by: 'customer',
        rules: [{ member: 'north', values: times(10_000, (at) => `customer ${at}`) }],
        rest: null,
      }),
    },
    bringMembers: {
      at: { dimension: 'product' },
      query: 'apply=yes',
      file: () => csv('code,name,parent', (at) => `x${at},X ${at},`, 16 * MB - 100),
    },
    assignCustomers: {
      at: { dimension: 'region' },
      body: () => ({
        assignments: times(20_000, (at) => ({
          customer: `c${at}`,
          member: 'north',
          from: '2026-01-01',
        })),
      }),
    },
    // Drivers
    copyScope: { body: () => ({ from: scopes[0], into: scopes[1], why: '' }) },
    createAssumptions: {
      body: () => ({
        assumptions: times(20_000, (at) => ({
          driver:
            ['discount', 'listPrice', 'unitCost', 'grossUnits', 'amount', 'attachRate'][at % 6] ??
            '',
          scope: namedScope(Math.floor(at / 6)),
          profile: { kind: 'value', value: 0.01 },
        })),
      }),
    },
    addDriver: {
      body: () => ({
        code: 'deep',
        name: 'Deep',
        kind: 'count',
        formula: `${'('.repeat(400)}1${')'.repeat(400)}`,
      }),
    },
    changeDriver: { at: { driver: 'discount' }, body: () => ({ maximum: 0.9 }) },
    setAssumption: {
      at: { driver: 'discount' },
      body: () => ({ scope: [], profile: { kind: 'value', value: 0.02 } }),
    },
    typeIntoDriver: {
      at: { driver: 'discount' },
      body: () => ({
        values: scopes.flatMap((scope) =>
          months(...OPEN).map((month) => ({ scope, month, value: 0.01 })),
        ),
        changes: times(5000, (at) => ({
          ...{ scope: scopes[at % scopes.length], month: OPEN[0], kind: 'plus', by: 0.001 },
        })),
      }),
    },
    // Forecast
    readChanges: { query: 'since=0' },
    createStreams: {
      body: () => ({
        streams: times(5000, (at) => ({
          members: { ...SOLD, product: `p${at}` },
          method: 'volumePrice',
        })),
      }),
    },
    proposeStreams: { body: () => ({ combinations: times(20_000, (at) => at + 1) }) },
    createLike: {
      body: () => ({ dimension: 'product', like: 'dew', name: 'Alike', code: 'alike' }),
    },
    setMethod: { body: () => ({ streams, method: 'volumePrice' }) },
    forecastAnew: {
      body: () => ({ streams, from: OPEN[0], to: OPEN[1], baseline: null, overrides: 'keep' }),
    },
    deleteStreams: { body: () => ({ streams: streams.slice(0, 5) }) },
    typeOver: { body: () => ({ typed: typedTotals(5000, { measure: 'units' }) }) },
    dropOverrides: { body: () => ({ overrides: 'all' }) },
    readTable: { query: `${ALL}&${WIDE}&measure=revenue` },
    readMeasured: { query: `${ALL}&${WIDE}&measures=revenue,units,cost,margin&empty=yes` },
    saveMeasured: {
      at: { format: 'xlsx' },
      query: `${ALL}&${WIDE}&measures=revenue,units,cost,margin`,
    },
    saveTable: { at: { format: 'xlsx' }, query: `${ALL}&${WIDE}&measure=revenue` },
    readComparison: { query: `${ALL}&${WIDE}&measure=revenue&across=month&against=lastYear` },
    saveComparison: {
      at: { format: 'xlsx' },
      query: `${ALL}&${WIDE}&measure=revenue&across=month&against=lastYear`,
    },
    // Actuals
    lookAtTable: {
      query: 'fileName=a.csv',
      file: () =>
        csv(
          SALES,
          (at) => `2026-10-05,web,tap-one,households,north,1,70.00,30.00,D-${at},1`,
          24 * MB,
        ),
    },
    previewImport: {
      query: 'fileName=a.csv',
      file: () =>
        csv(
          SALES,
          (at) => `2026-10-05,web,tap-one,households,north,1,70.00,30.00,D-${at},1`,
          24 * MB,
        ),
    },
    repairImport: {
      body: () => ({
        replace: times(200, (at) => ({ field: 'product', from: `x${at}`, to: 'tap-one' })),
      }),
    },
    keepMapping: {
      body: () => ({
        name: 'Wide',
        kind: 'sales',
        header: times(2000, (at) => `column ${at}`),
        reading: {},
      }),
    },
    forgetRemembered: { query: 'kind=sales&field=product&from=x' },
    readSalesWeeks: { query: WIDE },
    listSalesLines: { query: `${WIDE}&limit=500` },
    readSummary: { query: `${ALL}&columns=month&${WIDE}` },
    saveSummary: { at: { format: 'xlsx' }, query: `${ALL}&columns=month&${WIDE}` },
    enterLine: {
      body: () => ({
        date: '2026-09-30',
        members: SOLD,
        quantity: 1,
        netAmount: 100,
        cost: 10,
        why: 'x',
      }),
    },
    // Connections
    addConnection: {
      body: () => ({
        name: 'Feed',
        url: 'http://127.0.0.1:9',
        key: 'a key of it',
        everyMinutes: null,
      }),
    },
    changeConnection: { body: () => ({ name: 'Other' }) },
    settleHeld: {
      body: () => ({
        dimension: 'product',
        value: 'x',
        as: { kind: 'standsFor', member: 'tap-one' },
      }),
    },
    // Facts
    readFacts: { query: WIDE },
    changeMeasure: { at: { measure: 'market' }, body: () => ({ name: 'Market' }) },
    readLedger: { query: WIDE },
    changeAccount: { at: { account: '4000' }, body: () => ({ name: 'Sales' }) },
    readSubscribers: { query: WIDE },
    readCohorts: { query: '' },
    // Budgets
    keepVersion: { body: () => ({ name: 'Another', from: OPEN[0], to: '2028-09' }) },
    importVersion: {
      query: 'name=Brought',
      file: () =>
        csv(
          'month,channel,product,customer group,region,units,revenue,cost',
          (at) => `2026-10,web,p${at},households,north,1,70.00,30.00`,
          32 * MB - 200,
        ),
    },
    readVersionCells: { query: '' },
    listEntries: { query: WIDE },
    typeIntoVersion: {
      body: () => ({ typed: typedTotals(5000, { measure: 'units', saw: 1, to: '2028-09' }) }),
    },
    readRevenueNeeded: { query: 'from=2026-10&to=2028-09&fixed=1000&profit=1000' },
    saveFilled: { at: { format: 'xlsx' }, query: `measure=revenue&${ALL}` },
    bringFilled: { file: () => csv('key,line', (at) => `${at},a`, 32 * MB - 200) },
    bringPlanned: {
      query: 'apply=no',
      file: () =>
        csv(
          'month,channel,product,customer group,region,units,revenue',
          (at) => `2026-10,web,p${at},households,north,1,${at}`,
          32 * MB,
        ),
    },
    addLine: {
      body: () => ({
        members: SOLD,
        from: OPEN[0],
        to: '2027-03',
        units: 1,
        revenue: 1,
        cost: 1,
        why: '',
      }),
    },
    changeVersion: { body: () => ({ name: 'Named' }) },
    lookAtCopy: { query: 'of=forecast&from=2026-10&to=2028-09' },
    copyVersion: {
      body: () => ({ name: 'Copied', of: 'forecast', from: OPEN[0], to: '2028-09', shift: 0 }),
    },
    readLedgerBudget: { query: 'from=2026-10&to=2028-09' },
    saveLedgerBudget: { at: { format: 'xlsx' }, query: 'from=2026-10&to=2028-09' },
    putAccountScopes: { body: () => ({ accounts: [] }) },
    // Closing
    closeMonth: { body: () => ({ month: '2026-10' }) },
    reopenMonth: { body: () => ({ month: '2026-09', why: 'x', sure: false }) },
    setClosingRules: {
      body: () => ({
        rule: { by: 'hand', day: 3 },
        holidays: times(
          1000,
          (at) => `20${26 + Math.floor(at / 300)}-01-${String((at % 28) + 1).padStart(2, '0')}`,
        ),
        roll: 0,
        closed: 'actual',
      }),
    },
    changeCalendar: { body: () => ({ asOf: '2026-10-13' }) },
    bringKeptForecast: {
      query: 'month=2026-03&at=2026-03-31',
      file: () =>
        csv(
          'month,channel,product,customer group,region,units,revenue,cost',
          (at) => `2026-10,web,p${at},households,north,1,70.00,30.00`,
          32 * MB - 200,
        ),
    },
    readAccuracy: { query: `${ALL}&${WIDE}&measure=revenue` },
    // Targets
    readTargets: { query: '' },
    setObjective: { body: () => ({ objective: 1_000_000_00 }) },
    addObjective: {
      body: () => ({ name: 'More', measure: 'revenue', start: { kind: 'lastYear', uplift: 5 } }),
    },
    renameObjective: { body: () => ({ name: 'Renamed' }) },
    saveTargets: { at: { format: 'xlsx' }, query: '' },
    bringTargets: {
      query: 'apply=no',
      file: () => csv('name,above,target', (at) => `Team ${at},,${at}`, 16 * MB - 200),
    },
    addTarget: {
      body: () => ({
        parent: 1,
        kind: 'team',
        part: { kind: 'percent', percent: 10 },
        name: 'Team',
      }),
    },
    changeTarget: { body: () => ({ name: 'Changed' }) },
    proposeTargets: { body: () => DIVIDED },
    divideTargets: { body: () => ({ division: DIVIDED }) },
    listTargetSales: { query: `${WIDE}&limit=500` },
    setTargetParts: {
      body: () => ({
        parts: times(10_000, (at) => ({
          node: (at % 20) + 1,
          part: { kind: 'amount', amount: at },
        })),
      }),
    },
    // Reporting, views, sheets, threads, journal
    readReport: { at: { table: 'actuals' }, query: WIDE },
    makeToken: { body: () => ({ name: 'A token' }) },
    saveView: { body: () => ({ name: 'A view', query: { rows: ['channel'], members: [] } }) },
    saveShownTable: {
      at: { format: 'xlsx' },
      body: () => ({ name: 'Shown', about: [], lines: times(120, () => times(500, (at) => at)) }),
    },
    saveSupply: { at: { format: 'xlsx' }, query: `${WIDE}&grain=week` },
    addSheet: {
      body: () => ({
        title: 'Sheet',
        version,
        person: 4,
        scope: [],
        rows: ['product', 'channel'],
        measure: 'revenue',
        due: null,
      }),
    },
    changeSheet: { body: () => ({ title: 'Other' }) },
    stepSheet: { body: () => ({ state: 'handedIn', text: '' }) },
    changeSheetLine: { body: () => ({ scope: [], comment: 'x' }) },
    saveSheet: { at: { format: 'xlsx' } },
    bringSheet: { file: () => csv('key,line', (at) => `${at},a`, 32 * MB - 200) },
    typeIntoSheet: {
      body: () => ({
        typed: times(2000, (at) => ({ scope: scopes[at % scopes.length], total: at, saw: 0 })),
      }),
    },
    readThreads: { query: 'room=comparison' },
    comment: {
      body: () => ({
        room: 'comparison',
        text: 'x'.repeat(2000),
        measure: 'revenue',
        scope: [],
        from: '2026-04',
        to: '2026-09',
      }),
    },
    resolveThread: { at: { thread: 'x' }, body: () => ({ resolved: true }) },
    keepView: { at: { view: 'one' }, body: () => ({ room: 'forecast', address: 'rows=channel' }) },
    readJournal: { query: 'limit=200' },
    sayWhy: { body: () => ({ why: 'because' }) },
    undo: { query: '' },
    redo: { query: '' },
  };

  /** Asks for a case; what is answered is only looked at for a failure of the server's own. */
  async function ask(who: Visitor, [, operation]: [string, Operation], worst: Case) {
    const { at = {}, query = '', body, file } = worst;
    const values: Record<string, string | number> = {
      ...{
        workspaceId: 1,
        versionId: version,
        fiscalYear: 2027,
        dimension: 'product',
        driver: 'discount',
      },
      ...{ table: 'actuals', format: 'xlsx', ...at },
    };
    const path = operation.path.replaceAll(/\{(\w+)\}/g, (_, name: string) =>
      String(values[name] ?? 1),
    );
    const address = `${path}${query === '' ? '' : `?${query}`}`;
    const sent = file ? file() : body ? JSON.stringify(body()) : undefined;
    const type = { 'content-type': file ? 'application/octet-stream' : 'application/json' };
    return server.watching(() => who.send(operation.method.toUpperCase(), address, sent, type));
  }

  for (const operation of operations) {
    const [name, { access, query, body, file }] = operation;
    if (access === 'reports' || name === 'followNotices' || name === 'signOut') continue;
    it(name, async () => {
      const worst = WORST[name];
      if (!worst)
        assert.isTrue(!query && !body && !file, `the most of ${name} is not written down`);
      const { heldMs, memoryMb, result } = await ask(server.planner, operation, worst ?? {});
      const said = `${Math.round(heldMs)} ms, ${Math.round(memoryMb)} MB; ${result.status} ${result.text.slice(0, 200)}`;
      assert.isBelow(result.status, 500, said);
      assert.isAtMost(heldMs, HELD_MS, said);
      assert.isAtMost(memoryMb, MORE_MB[name] ?? MEMORY_MB, said);
    });
  }
});
