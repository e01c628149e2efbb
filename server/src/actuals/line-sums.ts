/**
 * The summary is the sum of the lines: what is summed, and how sums are put together and taken apart.
 * Whatever writes lines or moves them says it by these, in the transaction of the write.
 */
import { sql, type SQL } from 'drizzle-orm';
import type { Database } from '../platform/database.ts';

/**
 * By batch, month and combination, and of lines that bear a seller by seller, too, and by customer;
 * of lines that count, by month, combination and origin.
 */
const KEYS = {
  import_month: ['workspace_id', 'batch_id', 'month', 'combination_id'],
  seller_month: ['workspace_id', 'batch_id', 'month', 'combination_id', 'seller'],
  account_month: ['workspace_id', 'batch_id', 'month', 'combination_id', 'seller', 'customer'],
  sales_month: ['workspace_id', 'month', 'combination_id', 'origin'],
} as const;
export type SumTable = keyof typeof KEYS;

/** What is summed of lines, each with how it follows from them; what came back counts as positive. */
const SUMS = {
  quantity: 'sum(quantity)',
  net_amount: 'sum(net_amount)',
  cost: 'sum(cost)',
  returned: 'sum(greatest(0, -quantity))',
  lines: 'count(*)',
} as const;
const COLUMNS = Object.keys(SUMS) as (keyof typeof SUMS)[];

const each = (say: (column: keyof typeof SUMS) => string): SQL =>
  sql.raw(COLUMNS.map(say).join(', '));

/** Sums of the lines of sellers: in which table, and of which lines. */
export const SELLER_SUMS = [
  { table: 'seller_month', of: sql`seller is not null` },
  { table: 'account_month', of: sql`seller is not null and customer is not null` },
] as const satisfies { table: SumTable; of: SQL }[];

/** The sellers of a shared line with their percents, as `S01 60 + S02 40` is kept. */
const SHARED = sql.raw(`'^(\\S+) ([0-9.]+) [+] (\\S+) ([0-9.]+)$'`);
/** What the first of two sellers has of a column; the second has what is left. */
const ofFirst = (column: string, digits: number, part = 'part'): SQL =>
  sql.raw(`round(${column} * (${part}[2])::numeric / 100, ${digits})`);

/**
 * Lines as each seller has them. A line that two share is there twice, each with its part: of two
 * parts of a whole, the one that is rounded half away from zero and what is left are those by the
 * largest remainder, which a test holds equal to the core's `sharedBetween`.
 */
const linesBySeller = (which: SQL): SQL => {
  const first = sql`${ofFirst('quantity', 3)} as quantity, ${ofFirst('net_amount', 0)} as net_amount,
    ${ofFirst('cost', 0)} as cost`;
  const second = sql`quantity - ${ofFirst('quantity', 3)} as quantity,
    net_amount - ${ofFirst('net_amount', 0)} as net_amount, cost - ${ofFirst('cost', 0)} as cost`;
  const columns = sql.raw('workspace_id, batch_id, date, combination_id, customer');
  return sql`(
    with shared as (
      select *, regexp_match(seller, ${SHARED}) as part
      from sales_line where ${which} and position('+' in seller) > 0)
    select ${columns}, seller, quantity, net_amount, cost from sales_line
    where ${which} and position('+' in seller) = 0
    union all select ${columns}, part[1], ${first} from shared where part is not null
    union all select ${columns}, part[3], ${second} from shared where part is not null
    union all select ${columns}, seller, quantity, net_amount, cost from shared where part is null
  ) lines`;
};

/** A table's sums as they follow from the lines of a workspace, or of one batch of it. */
export const countedSums = (
  { table, of }: (typeof SELLER_SUMS)[number],
  workspaceId: number,
  batchId?: number,
): SQL => {
  const key = keyOf(table, { month: "date_trunc('month', date)::date" });
  return sql`
    select ${keyOf(table, { month: "date_trunc('month', date)::date as month" })}, ${sumsOfLines}
    from ${linesBySeller(sql`${ofBatch(workspaceId, batchId)} and ${of}`)} group by ${key}`;
};

/**
 * What some sellers have of lines `l`: of those they share with others their part. Everybody's where
 * no seller is named.
 */
export function linesOfSellers(lines: SQL, sellers: readonly string[] | undefined): SQL {
  if (sellers === undefined) return lines;
  const list = sql`${sql.param([...sellers])}::text[]`;
  const part = (column: string, digits: number): SQL => {
    const first = ofFirst(`w.${column}`, digits, 's.part');
    return sql`case when s.part is null then ${sql.raw(`w.${column}`)}
      else case when s.part[1] = any(${list}) then ${first} else 0 end
        + case when s.part[3] = any(${list}) then ${sql.raw(`w.${column}`)} - ${first} else 0 end
      end as ${sql.raw(column)}`;
  };
  return sql`(
    select w.workspace_id, w.batch_id, w.row, w.date, w.combination_id, w.document, w.line_number,
      w.customer, w.seller, w.origin, w.note,
      ${part('quantity', 3)}, ${part('net_amount', 0)}, ${part('cost', 0)}
    from ${lines} w cross join lateral (
      select case when position('+' in w.seller) > 0
        then regexp_match(w.seller, ${SHARED}) end as part) s)`;
}

/** Whether a line is of a seller, alone or shared. */
export const isOfSeller = (seller: string): SQL => sql`(l.seller = ${seller}
  or (position('+' in l.seller) > 0 and (l.seller like ${`${seller} %`} or l.seller like ${`%+ ${seller} %`})))`;

const ofBatch = (workspaceId: number, batchId?: number): SQL => sql`workspace_id = ${workspaceId}
  ${batchId === undefined ? sql`` : sql`and batch_id = ${batchId}`}`;

/**
 * Sums the lines of sellers anew: of a batch, or of all.
 * @param batchId undefined for all batches
 */
export async function sumSellers(
  db: Database,
  workspaceId: number,
  batchId?: number,
): Promise<void> {
  for (const sums of SELLER_SUMS) {
    const table = sql.identifier(sums.table);
    await db.execute(sql`delete from ${table} where ${ofBatch(workspaceId, batchId)}`);
    await db.execute(sql`
      insert into ${table} (${keyOf(sums.table)}, ${sumColumns})
      ${countedSums(sums, workspaceId, batchId)}`);
  }
}

/** The summed columns, in the order in which every statement of this file has them. */
export const sumColumns = each((column) => column);

/** Lines summed, for a select over rows with their columns. */
export const sumsOfLines = each((column) => `${SUMS[column]} as ${column}`);

/** Whether two rows of sums differ, for a condition. */
export const sumsDiffer = (a: string, b: string): SQL =>
  sql.raw(COLUMNS.map((one) => `${a}.${one} is distinct from ${b}.${one}`).join(' or '));

/**
 * Adds sums to a table, to those that are there already.
 * @param rows a select of the table's key and the summed columns, in this order: see `keyOf`
 */
export const addToSums = (table: SumTable, rows: SQL): SQL => sql`
  insert into ${sql.identifier(table)} (${keyOf(table)}, ${sumColumns}) ${rows}
  on conflict (${keyOf(table)}) do update set
    ${each((column) => `${column} = ${table}.${column} + excluded.${column}`)}`;

/** The key of a table of sums; with other columns in place of some. */
export const keyOf = (table: SumTable, instead: Readonly<Record<string, string>> = {}): SQL =>
  sql.raw(KEYS[table].map((column) => instead[column] ?? column).join(', '));

/**
 * Takes sums out of a table; `dropEmptySums` follows in a statement of its own.
 * @param from what stands behind `from`, with an alias `g` that has the summed columns
 * @param where which row of the table, `m`, is meant
 */
export const takeFromSums = (table: SumTable, from: SQL, where: SQL): SQL => sql`
  update ${sql.identifier(table)} m set ${each((column) => `${column} = m.${column} - g.${column}`)}
  from ${from} where ${where}`;

/** Sums of several rows, for a select over rows of sums `g`. */
export const sumsOfSums = each((column) => `sum(g.${column})`);

/** Drops the sums of no line. */
export async function dropEmptySums(
  db: Database,
  workspaceId: number,
  table: SumTable,
): Promise<void> {
  await db.execute(sql`
    delete from ${sql.identifier(table)} where workspace_id = ${workspaceId} and lines = 0`);
}
