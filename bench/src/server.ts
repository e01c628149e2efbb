/**
 * What the server takes for a million sales lines beside a bare COPY of the same file and a bare
 * GROUP BY, and for a table of two dimensions by month on five million beside bare SQL on the
 * monthly summary. Started by `npm run bench`, which brings the cluster and the server.
 */
import { createReadStream, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { setting, signedIn } from './client.ts';
import { writeLines } from './lines.ts';
import { medianOf, report, say } from './report.ts';

const LINES = 1_000_000;
const TIMES = 5;

const url = setting('BENCH_DATABASE');
const serverPid = setting('BENCH_SERVER_PID');
const { send, inServer } = await signedIn();

const workspaceFile = fileURLToPath(new URL('../../sample/data/workspace.json', import.meta.url));
const workspace = readFileSync(workspaceFile, 'utf8');
const { id } = await send('POST', '/workspaces', workspace);
const base = `/workspaces/${String(id)}`;
const { dimensions } = JSON.parse(workspace) as {
  dimensions: { code: string; members: { code: string; parent: string | null }[] }[];
};
/** The members that lie lowest. */
const leavesOf = (place: number): string[] => {
  const members = dimensions[place]?.members ?? [];
  return members
    .filter(({ code }) => !members.some(({ parent }) => parent === code))
    .map(({ code }) => code);
};

const folder = mkdtempSync(join(tmpdir(), 'dravex-bench-'));
const file = join(folder, 'lines.csv');
await writeLines(file, LINES, leavesOf(1), leavesOf(2));
say(`1,000,000 sales lines, ${(statSync(file).size / 1e6).toFixed(0)} MB of CSV`);

const database = new pg.Client({ connectionString: url });
await database.connect();
await database.query(`
  create unlogged table bare (date date, channel text, product text, customer_group text,
    region text, quantity numeric(18, 3), net_amount numeric(18, 2), cost numeric(18, 2),
    document text, line_number integer, customer text, seller text)`);
async function bareImport(): Promise<void> {
  await database.query('truncate bare');
  const into = database.query(copyFrom('copy bare from stdin with (format csv, header)'));
  await pipeline(createReadStream(file), into);
  await database.query(`
    select date_trunc('month', date) as month, channel, product, customer_group, region,
      sum(quantity), sum(net_amount), sum(cost), count(*)
    from bare group by 1, 2, 3, 4, 5`);
}
const bare = await medianOf(3, bareImport);

/** The most memory the server has held, in MB. */
const peak = (): number =>
  Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${serverPid}/status`, 'utf8'))?.[1]) / 1024;
const restBefore = peak();
const start = performance.now();
const stream = Readable.toWeb(createReadStream(file)) as unknown as BodyInit;
const preview = await send('POST', `${base}/imports?fileName=lines.csv`, stream, 'text/csv');
const checked = performance.now() - start;
await send('POST', `${base}/imports/${String(preview['id'])}/apply`);
const taken = performance.now() - start;
if (preview['good'] !== LINES) throw new Error(`Only ${String(preview['good'])} lines were good`);
report('bare COPY and GROUP BY', bare, bare, 'bare');
report('checked and previewed', checked, bare, 'bare');
report('checked, kept and summarised', taken, bare, 'bare');
say(`  the server held at most ${peak().toFixed(0)} MB (${restBefore.toFixed(0)} MB before)`);

// --- a table of two dimensions by month, on five million lines --------------------------------
for (let copy = 1; copy < TIMES; copy += 1) {
  await database.query(
    `insert into sales_line (workspace_id, batch_id, row, date, combination_id, quantity,
      net_amount, cost, document, line_number, customer, seller, origin)
     select workspace_id, batch_id, row, date, combination_id, quantity, net_amount, cost,
      document || '-' || $1::text, line_number, customer, seller, origin
     from sales_line where document not like '%-%'`,
    [copy],
  );
}
await database.query(
  `update sales_month set quantity = quantity * $1, net_amount = net_amount * $1, cost = cost * $1, lines = lines * $1`,
  [TIMES],
);
await database.query('update workspace set revision = revision + 1, plan_revision = revision + 1');
await database.query('vacuum analyze');
const { rows: counted } = await database.query<{ n: string }>(
  'select count(*) as n from sales_line',
);
say(
  `a table of two dimensions by month on ${Number(counted[0]?.n).toLocaleString('en')} sales lines`,
);
const table = `${base}/table?rows=channel,product&columns=time&from=2023-04&to=2026-09`;
const sql = `
  select c.members[1] as channel, c.members[2] as product, m.month, sum(m.net_amount)
  from sales_month m join combination c on c.workspace_id = m.workspace_id and c.id = m.combination_id
  where m.workspace_id = $1 group by grouping sets ((1, 2, 3), (1, 3), (3))`;
const first = await medianOf(1, () => send('GET', table));
const bareTable = await medianOf(15, () => database.query(sql, [id]));
const served = await medianOf(15, () => send('GET', table));
report('bare SQL on the monthly summary', bareTable, bareTable, 'bare SQL');
report('served, the first after a change', first, bareTable, 'bare SQL');
report('served, median', served, bareTable, 'bare SQL');
const summary = `${base}/summary?rows=channel,product&columns=month&from=2023-04&to=2026-09`;
const summed = await medianOf(15, () => send('GET', summary));
report('a summary on demand, median', summed, bareTable, 'bare SQL');
/** The median of what the server says that it worked for some answers. */
async function inServerMedian(addresses: readonly string[]): Promise<number> {
  const inside: number[] = [];
  for (const address of addresses) {
    await send('GET', address);
    inside.push(inServer());
  }
  return inside.sort((a, b) => a - b)[addresses.length >> 1] ?? Number.NaN;
}
const fresh = Array.from({ length: 15 }, (_, at) =>
  summary
    .replace('2023-04', `2023-${String(4 + (at % 9)).padStart(2, '0')}`)
    .replace('2026-09', `2026-0${1 + (at % 8)}`),
);
report('  of it in the server, first asked', await inServerMedian(fresh), bareTable, 'bare SQL');
const same = Array.from({ length: 15 }, () => summary);
report('  of it in the server, asked again', await inServerMedian(same), bareTable, 'bare SQL');
const weeks = await medianOf(3, () => send('GET', summary.replace('month', 'week')));
report('the same by week, from the lines', weeks, bareTable, 'bare SQL');
const lines = `${base}/sales-lines?from=2026-09&to=2026-09&scope=1`;
const drill = await medianOf(3, () => send('GET', lines));
report('down to the lines of a month', drill, bareTable, 'bare SQL');
const health = await medianOf(15, () => send('GET', `${base}/tokens`));
report('an answer with next to nothing in it', health, bareTable, 'bare SQL');
await database.end();
rmSync(folder, { recursive: true });
