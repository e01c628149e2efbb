/**
 * Every route, asked for the most that its schema allows, in a server that is watched: nothing keeps
 * others waiting, or needs more memory than there is. A new route cannot be forgotten.
 */
import { setTimeout } from 'node:timers/promises';
import { API, type Operation, type PlanFile, type VersionCells } from '@dravex/contract';
import { assert } from 'chai';
import { largePlan } from '../testing/large-plan.ts';
import { fieldsOf, toText } from '../testing/saved-form.ts';
import { SAMPLE, type Visitor } from '../testing/serve.ts';
import { startWatched, type WatchedServer } from '../testing/watched-server.ts';

const PASSWORD = 'another long password';
const [HELD_MS, MEMORY_MB] = [200, 400];
const ALL = 'rows=channel,product,group,region';
const WIDE = 'from=2023-04&to=2029-03';
const OPEN = ['2026-10', '2029-03'] as const;

/** The most that can be asked of an operation. What is not data is asked when its turn comes. */
interface Case {
  /** What the path leaves open; what was made before, or 1, where nothing is said. */
  readonly at?: Readonly<Record<string, string | number>> | (() => Record<string, string | number>);
  readonly query?: string;
  readonly body?: () => unknown;
  readonly file?: () => Buffer;
  /** What has to be there, or known, before. */
  readonly first?: () => Promise<unknown>;
  /** The name in paths by which others ask for what it makes. */
  readonly makes?: string;
  /** How it is refused, where that is the most it can be asked for; all others are answered. */
  readonly refused?: number;
}

/** What takes away or changes what others are asked for comes after them, in this order. */
const LATER = [
  ...['proposeStreams', 'takeBack', 'doAgain', 'undo', 'redo', 'sealVersion', 'addDimension'],
];
const LAST = [
  ...['deleteVersion', 'mergeMember', 'tellApart', 'closeMonth', 'reopenMonth'],
  ...['createAssumptions', 'createStreams', 'bringMembers'],
];
const turnOf = ([name, { method }]: [string, Operation]): number => {
  if (LAST.includes(name)) return 300 + LAST.indexOf(name);
  if (method === 'delete') return 200;
  return 1 + LATER.indexOf(name);
};

/** As many different scopes as there are, of one member in each dimension. */
function scopesOf(ids: readonly (readonly number[])[]): number[][] {
  return ids.reduce<number[][]>(
    (scopes, members) => scopes.flatMap((scope) => members.map((id) => [...scope, id])),
    [[]],
  );
}
const times = <T>(count: number, make: (at: number) => T): T[] =>
  Array.from({ length: count }, (_, at) => make(at));
const csv = (
  head: string,
  row: (at: number) => string,
  { bytes = Infinity, rows = Infinity },
): Buffer => {
  const lines = [head];
  for (let size = 0, at = 0; size < bytes && at < rows; at += 1) {
    const line = row(at);
    size += line.length + 1;
    lines.push(line);
  }
  return Buffer.from(`${lines.join('\n')}\n`);
};
const SOLD = { channel: 'web', product: 'tap-one', group: 'households', region: 'north' };
const PLANNED = 'month,channel,product,customer group,region,units,revenue,cost';
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
  // A collector can fall into it once; what holds others twice is no accident. What can be done only
  // once is measured once.
  this.retries(1);
  let server: WatchedServer;
  let scopes: number[][] = [];
  let streams: number[] = [];
  let nodes: number[] = [];
  let combinations = new Map<number, number[]>();
  /** Combinations that were sold, or are forecast, by the codes of their members. */
  let sold = new Set<string>();
  let version = 0;
  let planFile = '';
  const operations: [string, Operation][] = Object.values(API)
    .flatMap((room) => Object.entries(room))
    .toSorted((a, b) => turnOf(a) - turnOf(b));
  /** What paths leave open, and what else is known by now. */
  const known: Record<string, string | number> = {
    ...{ workspaceId: 1, fiscalYear: 2027, dimension: 'product', driver: 'discount', nodeId: 1 },
    ...{ table: 'actuals', format: 'xlsx' },
  };
  let leaves: Record<string, string>[] = [];
  /** What was read for a case that has to send some of it back. */
  let read: unknown;

  before(async () => {
    server = await startWatched();
    const { planner } = server;
    const { body: dimensions } = await planner.send<
      { code: string; members: { id: number; code: string; parent: number | null }[] }[]
    >('GET', `${SAMPLE}/dimensions`);
    leaves = dimensions.reduce<Record<string, string>[]>(
      (all, { code, members }) => {
        const parents = new Set(members.map(({ parent }) => parent));
        const own = members.filter(({ id }) => !parents.has(id));
        return all.flatMap((scope) => own.map((member) => ({ ...scope, [code]: member.code })));
      },
      [{}],
    );
    scopes = scopesOf(dimensions.map(({ members }) => members.map(({ id }) => id))).filter(
      // These two become one in the course of it.
      (scope) => !scope.includes(7) && !scope.includes(8),
    );
    const { body: plan } = await planner.send<{
      plan: {
        streams: { id: number }[];
        combinations: { id: number; members: number[] }[];
      };
    }>('GET', `${SAMPLE}/plan`);
    streams = plan.plan.streams.map(({ id }) => id);
    combinations = new Map(plan.plan.combinations.map((one) => [one.id, one.members]));
    const codeOf = new Map(dimensions.flatMap((one) => one.members.map((m) => [m.id, m.code])));
    sold = new Set(
      [...combinations.values()].map((members) => members.map((id) => codeOf.get(id)).join()),
    );
    const targets = await planner.send<{ nodes: { id: number }[] }>(
      'GET',
      `${SAMPLE}/targets/2027`,
    );
    nodes = targets.body.nodes.map(({ id }) => id);
    const kept = await planner.send<{ id: number }>('POST', `${SAMPLE}/versions`, {
      name: 'Worst',
      from: OPEN[0],
      to: '2028-09',
    });
    version = kept.body.id;
    known['versionId'] = version;
    planFile = (await planner.send('GET', `${SAMPLE}/plan-file`)).text;
  });
  after(() => server.close());

  const typedTotals = (count: number, extra: object) =>
    times(count, (at) => ({
      scope: scopes[at % scopes.length],
      from: OPEN[0],
      to: OPEN[1],
      total: 1000 + at,
      ...extra,
    }));
  /** Reads what a case sends back. */
  const reading = async (path: string): Promise<void> => {
    const { status, body, text } = await server.planner.send('GET', `${SAMPLE}${path}`);
    assert.equal(status, 200, text);
    read = body ?? text;
  };
  /** Makes what a case takes away. */
  const making = (path: string, body: object, name: string) => async (): Promise<void> => {
    const made = await server.planner.send<{ id: number }>('POST', `${SAMPLE}${path}`, body);
    assert.isBelow(made.status, 300, made.text);
    known[name] = made.body.id;
  };
  /** Waits for what is applied in the background. */
  const applied = async (): Promise<void> => {
    for (;;) {
      await reading(`/imports/${known['importId']}`);
      if ((read as { state: string }).state === 'applied') return;
      await setTimeout(200);
    }
  };
  /** A form that was read, with another number in each of its lines but those that add up others. */
  const refilled = (): Buffer => {
    const [head = [], ...lines] = fieldsOf(Buffer.from(String(read)));
    const column = head.indexOf('2026-10');
    const filled = lines.map((line) =>
      line.with(column, line[1] === 'Total' ? (line[column] ?? '') : '1234'),
    );
    return Buffer.from(toText([head, ...filled]));
  };
  /** The month of a combination, other for each line. */
  const plannedLine =
    (scopes: readonly string[]) =>
    (at: number): string => {
      const open = months(OPEN[0], '2028-09');
      const scope = scopes[Math.floor(at / open.length) % scopes.length];
      return `${open[at % open.length]},${scope},${(at % 90) + 1},70.00,30.00`;
    };
  const everywhere = () => leaves.map((scope) => Object.values(scope).join());
  /** Every cell of the version, typed over what stands there. */
  const typedAnew = () => {
    const { combination, month, units } = read as VersionCells;
    return combination.slice(0, 5000).map((id, at) => ({
      ...{ scope: combinations.get(id), from: month[at], to: month[at] },
      ...{ measure: 'units', total: 100 + at, saw: units[at] },
    }));
  };
  /** The last write that can be taken back. */
  const lastDone = () => {
    const [last] = (read as { id: number; undoable: boolean }[]).filter((one) => one.undoable);
    known['takenBack'] = last?.id ?? 0;
    return { journalId: last?.id ?? 0 };
  };
  const targetParts = (count: number) => nodes.slice(0, count);
  const members = (count: number, extra = {}) =>
    times(count, (at) => ({ code: `m${at}`, name: `Member ${at}`, parent: null, ...extra }));

  const WORST: Readonly<Record<string, Case | readonly Case[]>> = {
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
        parts: targetParts(24),
      }),
    },
    changeRole: { at: { personId: 2 }, body: () => ({ role: 'reader' }) },
    signIn: {
      body: () => ({ email: 'nobody@ondwell.example', password: 'x'.repeat(200) }),
      refused: 401,
    },
    keepLayout: {
      body: () => ({
        widths: {},
        folded: Object.fromEntries(
          times(200, (at) => [`k${at}`, times(50, (row) => `row ${row}`)]),
        ),
      }),
    },
    keepPreferences: { body: () => ({ theme: 'dark' }) },
    changePassword: { body: () => ({ password: 'plan the year', next: PASSWORD }) },
    readPasswordLink: { body: () => ({ token: 'no such link of anybody' }), refused: 404 },
    choosePassword: {
      body: () => ({ token: 'no such link of anybody', password: PASSWORD }),
      refused: 404,
    },
    endSession: { refused: 404 },
    beginSecondFactor: { body: () => ({ password: PASSWORD }) },
    confirmSecondFactor: { body: () => ({ code: '123456' }), refused: 400 },
    dropSecondFactor: { body: () => ({ password: PASSWORD, code: '123456' }), refused: 409 },
    resetPassword: { at: { personId: 2 } },
    removePerson: { at: { personId: 3 } },
    takeSecondFactor: { refused: 409 },
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
        csv(SALES, (at) => `2026-10-05,c${at % 50},p${at},g${at % 40},n,1,70.00,30.00,D-${at},1`, {
          bytes: 24 * MB,
        }),
    },
    proposeWorkspace: {
      file: () =>
        csv(
          SALES,
          (at) => `2026-10-05,c${at % 50},p${at % 9999},g${at % 40},n,1,70.00,30.00,D-${at},1`,
          { bytes: 24 * MB },
        ),
    },
    loadPlanFile: {
      body: () => largePlan(JSON.parse(planFile) as PlanFile, 60_000),
    },
    // Dimensions
    addDimension: {
      body: () => ({ code: 'extra', name: 'Extra', first: { code: 'all', name: 'All' } }),
    },
    deleteDimension: { at: { dimension: 'extra' } },
    renameDimension: { at: { dimension: 'region' }, body: () => ({ name: 'Area' }) },
    addMember: {
      body: () => ({ code: 'fresh', name: 'Fresh', parent: null }),
      makes: 'memberId',
    },
    dropMember: {
      first: making(
        '/dimensions/product/members',
        { code: 'nobody-buys', name: 'Nobody buys', parent: null },
        'memberId',
      ),
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
      file: () =>
        csv('code,name,parent', (at) => `x${at},${`X ${at}`.padEnd(110)}.,`, { rows: 19_999 }),
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
    copyScope: { body: () => ({ from: [1, 11, 27, 31], into: [3, 26, 30, 34], why: '' }) },
    bringDriverBack: {
      first: () => reading('/drivers/discount/states'),
      at: () => ({ journalId: (read as { id: number }[]).at(-1)?.id ?? 1 }),
    },
    createAssumptions: {
      body: () => ({
        assumptions: times(20_000, (at) => ({
          driver:
            ['discount', 'listPrice', 'unitCost', 'grossUnits', 'amount', 'attachRate'][at % 6] ??
            '',
          scope: leaves[Math.floor(at / 6) % leaves.length],
          profile: { kind: 'value', value: 0.01 },
        })),
      }),
    },
    addDriver: {
      body: () => ({
        code: 'deep',
        name: 'Deep',
        kind: 'count',
        formula: `${'('.repeat(99)}1${')'.repeat(99)}`,
      }),
    },
    dropDriver: { at: { driver: 'deep' } },
    changeDriver: { at: { driver: 'discount' }, body: () => ({ maximum: 0.9 }) },
    setAssumption: {
      makes: 'assumptionId',
      body: () => ({ scope: [], profile: { kind: 'value', value: 0.02 } }),
    },
    typeIntoDriver: [
      {
        at: { driver: 'discount' },
        body: () => ({
          values: scopes.flatMap((scope) =>
            months(...OPEN).map((month) => ({ scope, month, value: 0.01, saw: 0.5 })),
          ),
          changes: times(5000, (at) => ({
            ...{ scope: scopes[at % scopes.length], month: OPEN[0], kind: 'plus', by: 0.001 },
            saw: 0.5,
          })),
        }),
        refused: 409,
      },
      {
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
    ],
    // Forecast
    readChanges: { query: 'since=0' },
    createStreams: {
      body: () => ({
        streams: leaves
          .filter((members) => !sold.has(Object.values(members).join()))
          .map((members) => ({ members, method: 'volumePrice' })),
      }),
    },
    proposeStreams: { body: () => ({}) },
    createLike: {
      body: () => ({ dimension: 'product', like: 'carafe-brook', name: 'Alike', code: 'alike' }),
    },
    setMethod: { body: () => ({ streams, method: 'volumePrice' }) },
    forecastAnew: {
      body: () => ({ streams, from: OPEN[0], to: OPEN[1], baseline: null, overrides: 'keep' }),
    },
    deleteStreams: { body: () => ({ streams: streams.slice(0, 5) }) },
    typeOver: [
      {
        body: () => ({ typed: typedTotals(5000, { measure: 'units', saw: 0.5 }) }),
        refused: 409,
      },
      { body: () => ({ typed: typedTotals(5000, { measure: 'units' }) }) },
    ],
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
        csv(SALES, (at) => `2026-10-05,web,tap-one,households,north,1,70.00,30.00,D-${at},1`, {
          bytes: 24 * MB,
        }),
    },
    previewImport: {
      query: 'fileName=a.csv',
      file: () =>
        csv(SALES, (at) => `2026-10-05,web,x${at % 200},households,north,1,70.00,30.00,D-${at},1`, {
          bytes: 24 * MB,
        }),
      makes: 'importId',
    },
    repairImport: {
      body: () => ({
        replace: times(200, (at) => ({
          ...{ field: 'product', from: `x${at}`, to: 'tap-one', remember: true },
        })),
      }),
    },
    stopImport: { refused: 409 },
    takeBackImport: { first: applied },
    keepMapping: {
      body: () => ({
        name: 'Wide',
        kind: 'sales',
        header: times(2000, (at) => `column ${at}`),
        reading: {},
      }),
    },
    forgetRemembered: { query: 'kind=sales&field=product&from=x0' },
    readSalesWeeks: { query: WIDE },
    listSalesLines: { query: `${WIDE}&limit=500` },
    readSummary: { query: `${ALL}&columns=month&${WIDE}` },
    saveSummary: { at: { format: 'xlsx' }, query: `${ALL}&columns=month&${WIDE}` },
    enterLine: {
      makes: 'lineId',
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
      makes: 'connectionId',
      body: () => ({
        name: 'Feed',
        url: 'http://127.0.0.1:9',
        key: 'a key of it',
        everyMinutes: null,
      }),
    },
    testConnection: { refused: 409 },
    stopConnection: { refused: 409 },
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
    changeMeasure: { at: { measure: 'Visits' }, body: () => ({ name: 'Visitors' }) },
    readLedger: { query: WIDE },
    changeAccount: { at: { account: '4000' }, body: () => ({ name: 'Sales' }), refused: 404 },
    readSubscribers: { query: WIDE },
    readCohorts: { query: '' },
    // Budgets
    keepVersion: { body: () => ({ name: 'Another', from: OPEN[0], to: '2028-09' }) },
    importVersion: {
      query: 'name=Brought',
      file: () => csv(PLANNED, plannedLine(everywhere()), { rows: leaves.length * 24 }),
    },
    readVersionCells: { query: '' },
    listEntries: { query: WIDE },
    typeIntoVersion: [
      {
        body: () => ({ typed: typedTotals(5000, { measure: 'units', saw: 1, to: '2028-09' }) }),
        refused: 409,
      },
      {
        first: () => reading(`/versions/${version}/cells`),
        body: () => ({ typed: typedAnew() }),
      },
    ],
    readRevenueNeeded: { query: 'from=2026-10&to=2028-09&fixed=1000&profit=1000' },
    saveFilled: { at: { format: 'xlsx' }, query: `measure=revenue&${ALL}` },
    bringFilled: [
      {
        file: () => csv('key,line', (at) => `${at},a`, { bytes: 32 * MB - 200 }),
        refused: 400,
      },
      {
        query: 'apply=yes',
        first: () => reading(`/versions/${version}/filled.csv?measure=revenue&${ALL}`),
        file: refilled,
      },
    ],
    bringPlanned: [
      {
        query: 'apply=no',
        file: () =>
          csv(PLANNED, (at) => `2026-10,web,p${at},households,north,1,${at},`, { bytes: 32 * MB }),
        refused: 400,
      },
      {
        query: 'apply=yes',
        file: () => csv(PLANNED, plannedLine([...sold]), { rows: sold.size * 24 }),
      },
    ],
    addLine: {
      body: () => ({
        members: { ...SOLD, product: 'fresh' },
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
    closeMonth: { body: () => ({ month: '2026-10', sure: true }) },
    reopenMonth: { body: () => ({ month: '2026-10', why: 'x', sure: true }) },
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
      query: 'month=2025-03&at=2025-04-05',
      file: () => csv(PLANNED, plannedLine(everywhere()), { rows: leaves.length * 24 }),
    },
    readAccuracy: { query: `${ALL}&${WIDE}&measure=revenue` },
    // Targets
    readTargets: { query: '' },
    setObjective: { body: () => ({ objective: 1_000_000_00 }) },
    addObjective: {
      body: () => ({ name: 'More', measure: 'revenue', start: { kind: 'lastYear', uplift: 5 } }),
    },
    removeObjective: { at: { objectiveId: 28 } },
    renameObjective: { body: () => ({ name: 'Renamed' }) },
    saveTargets: { at: { format: 'xlsx' }, query: '' },
    bringTargets: {
      query: 'apply=no',
      file: () => csv('name,above,target', (at) => `Team ${at},,${at}`, { rows: 19_999 }),
    },
    addTarget: {
      body: () => ({
        parent: 1,
        kind: 'area',
        part: { kind: 'percent', percent: 0 },
        name: 'Team',
      }),
    },
    removeTarget: { at: () => ({ nodeId: nodes.at(-1) ?? 0 }) },
    changeTarget: { body: () => ({ name: 'Changed' }) },
    proposeTargets: { body: () => DIVIDED },
    divideTargets: { body: () => ({ division: DIVIDED }) },
    listTargetSales: { query: `${WIDE}&limit=500` },
    setTargetParts: {
      body: () => ({
        parts: targetParts(24).map((node) => ({ node, part: { kind: 'amount', amount: node } })),
      }),
    },
    // Reporting, views, sheets, threads, journal
    readReport: { at: { table: 'actuals' }, query: WIDE },
    makeToken: { body: () => ({ name: 'A token' }) },
    saveView: {
      makes: 'viewId',
      body: () => ({
        name: 'A view',
        query: {
          ...{ of: 'forecast', kind: 'table', rows: ['channel', 'product'], members: [] },
          ...{ window: 'all', measure: 'revenue', grain: 'month' },
        },
      }),
    },
    saveShownTable: {
      at: { format: 'xlsx' },
      body: () => ({ name: 'Shown', about: [], lines: times(120, () => times(500, (at) => at)) }),
    },
    saveSupply: { at: { format: 'xlsx' }, query: `${WIDE}&grain=week` },
    addSheet: {
      makes: 'sheet',
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
    stepSheet: { body: () => ({ state: 'handedOut', text: '' }) },
    changeSheetLine: { body: () => ({ scope: [], comment: 'x' }) },
    saveSheet: { at: { format: 'xlsx' } },
    bringSheet: [
      {
        file: () => csv('key,line', (at) => `${at},a`, { bytes: 32 * MB - 200 }),
        refused: 400,
      },
      {
        query: 'apply=yes',
        first: () => reading(`/sheets/${known['sheet']}/file.csv`),
        file: refilled,
      },
    ],
    typeIntoSheet: {
      first: () => reading(`/sheets/${known['sheet']}`),
      body: () => ({
        typed: (read as { lines: { parent: boolean; scope: number[]; plan: number }[] }).lines
          .filter(({ parent }) => !parent)
          .map(({ scope, plan }, at) => ({ scope, total: 1000 + at, saw: plan })),
      }),
    },
    readThreads: { query: 'room=comparison' },
    comment: {
      makes: 'thread',
      body: () => ({
        room: 'comparison',
        source: `version:${version}`,
        against: 'lastYear',
        text: 'x'.repeat(2000),
        measure: 'revenue',
        scope: [],
        from: '2026-04',
        to: '2026-09',
      }),
    },
    resolveThread: { body: () => ({ resolved: true }) },
    keepView: { at: { view: 'one' }, body: () => ({ room: 'forecast', address: 'rows=channel' }) },
    dropView: { at: { view: 'one' } },
    readJournal: { query: 'limit=200' },
    takeBack: { first: () => reading('/journal?limit=200'), at: lastDone },
    doAgain: { at: () => ({ journalId: known['takenBack'] ?? 1 }) },
    sayWhy: { body: () => ({ why: 'because' }) },
    undo: { query: '' },
    redo: { query: '' },
  };

  /** Asks for a case. */
  async function ask(who: Visitor, { method, path }: Operation, worst: Case) {
    const { at = {}, query = '', body, file, first } = worst;
    await first?.();
    const values = { ...known, ...(typeof at === 'function' ? at() : at) };
    const filled = path.replaceAll(/\{(\w+)\}/g, (_, name: string) => String(values[name] ?? 1));
    const address = `${filled}${query === '' ? '' : `?${query}`}`;
    const sent = file ? file() : body ? JSON.stringify(body()) : undefined;
    const type = { 'content-type': file ? 'application/octet-stream' : 'application/json' };
    return server.watching(() =>
      who.send<{ id?: number | string }>(method.toUpperCase(), address, sent, type),
    );
  }

  for (const [name, operation] of operations) {
    const { access, query, body, file } = operation;
    if (access === 'reports' || name === 'followNotices' || name === 'signOut') continue;
    const cases = [WORST[name] ?? []].flat();
    if (cases.length === 0 && (query || body || file)) {
      it(name, () => assert.fail(`the most of ${name} is not written down`));
      continue;
    }
    for (const worst of cases.length > 0 ? cases : [{} as Case]) {
      it(worst.refused === undefined ? name : `${name}, refused`, async () => {
        const { heldMs, memoryMb, result } = await ask(server.planner, operation, worst);
        const said = `${Math.round(heldMs)} ms, ${Math.round(memoryMb)} MB; ${result.status} ${result.text.slice(0, 300)}`;
        if (process.env['SAID']) process.stdout.write(`${name} ${said}\n`);
        if (worst.refused === undefined) assert.isBelow(result.status, 300, said);
        else assert.equal(result.status, worst.refused, said);
        if (worst.makes !== undefined) known[worst.makes] = result.body.id ?? 1;
        assert.isAtMost(heldMs, HELD_MS, said);
        assert.isAtMost(memoryMb, MEMORY_MB, said);
      });
    }
  }
});
