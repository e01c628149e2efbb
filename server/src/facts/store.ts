/** Measured facts that count: those of applied batches, of two for the same the later applied one. */
import { likelyNature, type FactColumns } from '@dravex/core';
import { and, asc, eq, sql } from 'drizzle-orm';
import { factMeasure, ledgerAccount, observation } from '../actuals/tables.ts';
import { inPortions, toFirst, type Database } from '../platform/database.ts';

/** Rows of a fact table that count, the last applied first. */
const COUNTED = sql`join import_batch b on b.workspace_id = f.workspace_id and b.id = f.batch_id
  and b.state = 'applied'`;
const NEWEST = sql`b.applied_at desc, b.id desc, f.row desc`;

export function measures(db: Database, workspaceId: number) {
  return db
    .select()
    .from(factMeasure)
    .where(eq(factMeasure.workspaceId, workspaceId))
    .orderBy(asc(factMeasure.name));
}

/** Makes the measures that a batch names and that are not there yet. */
export async function makeMeasures(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<void> {
  const { rows } = await db.execute<{ measure: string }>(sql`
    select distinct measure from observation
    where workspace_id = ${workspaceId} and batch_id = ${batchId}`);
  for (const { measure } of rows) {
    await db
      .insert(factMeasure)
      .values({ workspaceId, code: measure, name: measure, nature: likelyNature(measure) })
      .onConflictDoNothing();
  }
}

/** Brings in facts with what they are of, as rows of a batch. */
export async function insertFacts(
  db: Database,
  workspaceId: number,
  batchId: number,
  facts: readonly FactColumns[],
): Promise<void> {
  const natures = new Map(facts.map(({ measure, nature }) => [measure, nature]));
  for (const [code, nature] of natures) {
    await db
      .insert(factMeasure)
      .values({ workspaceId, code, name: code, nature })
      .onConflictDoNothing();
  }
  const rows = facts.flatMap(({ measure, scope, months, values }) =>
    months.map((month, place) => ({
      workspaceId,
      batchId,
      measure,
      members: [...scope],
      month: toFirst(month),
      value: String(values[place] ?? 0),
    })),
  );
  // The first row of a file is the one below its headings.
  const numbered = rows.map((row, place) => ({ row: place + 2, ...row }));
  await inPortions(numbered, (portion) => db.insert(observation).values(portion));
}

export async function setMeasure(
  db: Database,
  workspaceId: number,
  code: string,
  change: Partial<typeof factMeasure.$inferInsert>,
): Promise<void> {
  await db
    .update(factMeasure)
    .set(change)
    .where(and(eq(factMeasure.workspaceId, workspaceId), eq(factMeasure.code, code)));
}

export async function observations(db: Database, workspaceId: number, from: string, to: string) {
  const { rows } = await db.execute<{
    measure: string;
    members: number[];
    month: string;
    value: number;
  }>(sql`
    select distinct on (f.measure, f.members, f.month) f.measure, f.members,
      to_char(f.month, 'YYYY-MM') as month, f.value::float8 as value
    from observation f ${COUNTED}
    where f.workspace_id = ${workspaceId} and f.month >= ${from}::date and f.month <= ${to}::date
    order by f.measure, f.members, f.month, ${NEWEST}`);
  return rows;
}

export function accounts(db: Database, workspaceId: number) {
  return db
    .select()
    .from(ledgerAccount)
    .where(eq(ledgerAccount.workspaceId, workspaceId))
    .orderBy(asc(ledgerAccount.code));
}

/**
 * Makes the accounts that a batch names and that are not there yet. Where the file does not say
 * what an account is, one that is mostly negative is revenue: that is how ledgers write it.
 */
export async function makeAccounts(
  db: Database,
  workspaceId: number,
  batchId: number,
): Promise<void> {
  await db.execute(sql`
    insert into ledger_account (workspace_id, code, name, kind)
    select workspace_id, account, coalesce(max(nullif(name, '')), account),
      coalesce(max(kind), case when sum(amount) < 0 then 'revenue' else 'expense' end)
    from ledger_amount where workspace_id = ${workspaceId} and batch_id = ${batchId}
    group by 1, 2
    on conflict do nothing`);
}

export async function setAccount(
  db: Database,
  workspaceId: number,
  code: string,
  change: Partial<typeof ledgerAccount.$inferInsert>,
): Promise<void> {
  await db
    .update(ledgerAccount)
    .set(change)
    .where(and(eq(ledgerAccount.workspaceId, workspaceId), eq(ledgerAccount.code, code)));
}

/** What accounts came to by month; several rows of one batch for an account and month add up. */
export async function ledgerAmounts(db: Database, workspaceId: number, from: string, to: string) {
  const { rows } = await db.execute<{ account: string; month: string; amount: number }>(sql`
    select distinct on (account, month) account, to_char(month, 'YYYY-MM') as month,
      amount::float8 as amount
    from (
      select f.account, f.month, sum(f.amount) as amount, b.applied_at, b.id
      from ledger_amount f ${COUNTED}
      where f.workspace_id = ${workspaceId} and f.month >= ${from}::date and f.month <= ${to}::date
      group by f.account, f.month, b.applied_at, b.id) sums
    order by account, month, applied_at desc, id desc`);
  return rows;
}

/**
 * How many subscribers of each scope started in a month and left in another. Of one code the rows of
 * the file that was applied last count, all of them: whoever came back has two.
 */
export async function subscriberCounts(db: Database, workspaceId: number) {
  const { rows } = await db.execute<{
    members: number[];
    start: string;
    end: string | null;
    count: number;
  }>(sql`
    select members, to_char(start, 'YYYY-MM') as start, to_char("end", 'YYYY-MM') as "end",
      count(*)::int as count
    from (
      select f.members, f.start, f."end",
        rank() over (partition by f.code order by b.applied_at desc, b.id desc) as place
      from subscriber f ${COUNTED} where f.workspace_id = ${workspaceId}) known
    where place = 1
    group by 1, 2, 3`);
  return rows;
}
