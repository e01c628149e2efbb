/** Sales that are not in the books, as they are kept and brought back. */
import { sql } from 'drizzle-orm';
import type { CellName } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import type { Database } from '../platform/database.ts';
import { notFound } from '../platform/errors.ts';
import {
  addToSums,
  dropEmptySums,
  keyOf,
  sumColumns,
  sumSellers,
  sumsOfLines,
  takeFromSums,
} from './line-sums.ts';
import * as store from './store.ts';

/** What a line entered by hand is kept as; its number is its identity. */
export interface KeptLine extends Record<string, unknown> {
  date: string;
  combinationId: number;
  quantity: string;
  netAmount: number;
  cost: number;
  customer: string | null;
  seller: string | null;
  note: string;
}

/** Lines by hand are one batch, which counts from its first line on. */
export async function handBatch(
  tx: Database,
  workspaceId: number,
  personId: number,
): Promise<number> {
  const handBatch = (await store.batches(tx, workspaceId)).find(({ source }) => source === 'hand');
  if (handBatch) return handBatch.id;
  return store.insertBatch(tx, {
    workspaceId,
    source: 'hand',
    fileName: 'Entered by hand',
    state: 'applied',
    rows: 0,
    good: 0,
    faulty: 0,
    createdBy: personId,
    appliedAt: new Date(),
  });
}

export async function linesOf(db: Database, workspaceId: number, ids: readonly number[]) {
  const { rows } = await db.execute<KeptLine & { id: number; batchId: number }>(sql`
    select row as id, batch_id as "batchId", date::text as date,
      combination_id as "combinationId", quantity::text as quantity,
      net_amount::float8 as "netAmount", cost::float8 as cost, customer, seller, note
    from sales_line where workspace_id = ${workspaceId} and origin = 'hand'
      and row = any(${sql.param([...ids])}::int[])`);
  return rows;
}

/** Adds one line to the summary, or takes it out. */
async function count(
  db: Database,
  workspaceId: number,
  line: KeptLine,
  sign: 1 | -1,
): Promise<void> {
  const { date, combinationId, quantity, netAmount, cost } = line;
  const summed = sql`(
    select ${workspaceId}::int as workspace_id, date_trunc('month', date)::date as month,
      combination_id, 'hand' as origin, ${sumsOfLines}
    from (values (${date}::date, ${combinationId}::int, ${quantity}::numeric, ${netAmount}::bigint,
      ${cost}::bigint)) as one (date, combination_id, quantity, net_amount, cost)
    group by 1, 2, 3, 4) g`;
  await db.execute(
    sign > 0
      ? addToSums('sales_month', sql`select ${keyOf('sales_month')}, ${sumColumns} from ${summed}`)
      : takeFromSums(
          'sales_month',
          summed,
          sql`m.workspace_id = g.workspace_id and m.month = g.month
            and m.combination_id = g.combination_id and m.origin = g.origin`,
        ),
  );
  await dropEmptySums(db, workspaceId, 'sales_month');
}

export async function insertLine(
  db: Database,
  workspaceId: number,
  batchId: number,
  id: number,
  line: KeptLine,
): Promise<void> {
  await db.execute(sql`
    insert into sales_line (workspace_id, batch_id, row, date, combination_id, quantity, net_amount,
      cost, document, line_number, customer, seller, origin, note)
    values (${workspaceId}, ${batchId}, ${id}, ${line.date}::date, ${line.combinationId},
      ${line.quantity}::numeric, ${line.netAmount}, ${line.cost}, ${`by hand ${id}`}, 1,
      ${line.customer}, ${line.seller}, 'hand', ${line.note})`);
  await count(db, workspaceId, line, 1);
  await sumSellers(db, workspaceId, batchId);
}

export async function deleteLine(db: Database, workspaceId: number, id: number): Promise<void> {
  const [line] = await linesOf(db, workspaceId, [id]);
  if (!line) throw notFound('such line');
  await db.execute(sql`
    delete from sales_line where workspace_id = ${workspaceId} and origin = 'hand' and row = ${id}`);
  await count(db, workspaceId, line, -1);
  await sumSellers(db, workspaceId, line.batchId);
}

/** A line as the journal keeps it: one cell, because it is never changed in part. */
export function handLineCells(line: Awaited<ReturnType<typeof linesOf>>[number] | undefined): {
  line: string;
} {
  if (!line) return { line: '' };
  const { id: _, batchId: __, ...kept } = line;
  return { line: JSON.stringify(kept) };
}

export const handLineName = (note: string) => (): CellName => ({
  label: `Sale by hand, ${note}`,
  unit: 'text',
});

/** A line entered by hand. */
export const handLineThing: Thing = {
  async read(db, workspaceId, ids) {
    const lines = await linesOf(db, workspaceId, ids.map(Number));
    return new Map(lines.map((line) => [String(line.id), handLineCells(line)]));
  },
  async write(db, { workspaceId, personId }, changes) {
    for (const { id, now, next } of changes) {
      if (now) await deleteLine(db, workspaceId, Number(id));
      if (!next) continue;
      const line = JSON.parse(String(next['line'])) as KeptLine;
      const batchId = await handBatch(db, workspaceId, personId);
      await insertLine(db, workspaceId, batchId, Number(id), line);
    }
  },
};
