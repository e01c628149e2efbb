import type { Close, Closing, ClosingRules } from '@dravex/contract';
import { BY_HAND } from '@dravex/contract';
import { monthFrom, monthInWords, monthsOf, type BudgetCell, type KeptMonths } from '@dravex/core';
import { and, desc, eq, sql } from 'drizzle-orm';
import { insertCells, insertVersion } from '../budgets/store.ts';
import { versionCell } from '../budgets/tables.ts';
import { assumptionsOf } from '../drivers/store.ts';
import type { Actor } from '../people/actor.ts';
import { person } from '../people/tables.ts';
import { fromFirst, one, toFirst, type Database } from '../platform/database.ts';
import { close, closingRules } from './tables.ts';

/** A close that is to be written: the forecast of a month and of those after it. */
export interface KeptClose {
  readonly month: string;
  /** The last month that the forecast speaks of. */
  readonly to: string;
  readonly rows: readonly BudgetCell[];
  /** The end of the horizon before the close. */
  readonly lastBefore: string;
  readonly byItself: boolean;
  /** Now, where it is left out. */
  readonly closedAt?: Date;
}

/** Writes a close and the forecast that is kept with it. @returns the close's id */
export async function insertKept(
  db: Database,
  { workspaceId, personId }: Pick<Actor, 'workspaceId' | 'personId'>,
  { month, to, rows, lastBefore, ...when }: KeptClose,
): Promise<number> {
  const versionId = await insertVersion(db, {
    workspaceId,
    name: `Forecast at the close of ${monthInWords(monthFrom(month))}`,
    fromMonth: toFirst(month),
    toMonth: toFirst(to),
    state: 'sealed',
    closedMonth: toFirst(month),
    createdBy: personId,
  });
  await insertCells(db, workspaceId, versionId, rows);
  const row = { workspaceId, versionId, closedBy: personId, month: toFirst(month) };
  const made = { ...row, ...when, lastBefore: toFirst(lastBefore) };
  return one(await db.insert(close).values(made).returning({ id: close.id })).id;
}

/** Months that are closed with their forecast kept, the newest first. */
export async function closes(
  db: Database,
  workspaceId: number,
): Promise<(Close & { lastBefore: string })[]> {
  const rows = await db
    .select({ row: close, by: person.name })
    .from(close)
    .innerJoin(person, eq(person.id, close.closedBy))
    .where(and(eq(close.workspaceId, workspaceId), eq(close.reopened, false)))
    .orderBy(desc(close.month));
  return rows.map(({ row, by }) => ({
    id: row.id,
    month: fromFirst(row.month),
    version: row.versionId,
    by,
    at: row.closedAt.toISOString(),
    byItself: row.byItself,
    lastBefore: fromFirst(row.lastBefore),
  }));
}

/** The forecast of each closed month as it stood when it was closed. */
export async function keptMonths(db: Database, workspaceId: number): Promise<KeptMonths> {
  const held = and(eq(close.workspaceId, workspaceId), eq(close.reopened, false));
  const months = await db.select({ month: close.month }).from(close).where(held);
  const rows = await db
    .select({
      combination: versionCell.combinationId,
      month: versionCell.month,
      units: sql<number>`${versionCell.units}::float8`,
      revenue: versionCell.revenue,
      cost: versionCell.cost,
    })
    .from(close)
    .innerJoin(
      versionCell,
      and(
        eq(versionCell.workspaceId, close.workspaceId),
        eq(versionCell.versionId, close.versionId),
        eq(versionCell.month, close.month),
      ),
    )
    .where(held)
    .orderBy(versionCell.month, versionCell.combinationId);
  return {
    months: months.map(({ month }) => fromFirst(month)).sort(),
    cells: {
      combination: rows.map((row) => row.combination),
      month: rows.map((row) => fromFirst(row.month)),
      units: rows.map((row) => row.units),
      revenue: rows.map((row) => row.revenue),
      cost: rows.map((row) => row.cost),
    },
  };
}

/** A close's own row, locked until the transaction ends; also one that was taken back. */
export async function lockClose(db: Database, workspaceId: number, id: number) {
  const [row] = await db
    .select()
    .from(close)
    .where(and(eq(close.workspaceId, workspaceId), eq(close.id, id)))
    .for('update');
  return row;
}

export async function setReopened(
  db: Database,
  workspaceId: number,
  id: number,
  reopened: boolean,
): Promise<void> {
  await db
    .update(close)
    .set({ reopened })
    .where(and(eq(close.workspaceId, workspaceId), eq(close.id, id)));
}

/** The rules that somebody set; undefined where nobody did. */
export async function rulesSet(
  db: Database,
  workspaceId: number,
): Promise<ClosingRules | undefined> {
  const [row] = await db
    .select({ rules: closingRules.rules })
    .from(closingRules)
    .where(eq(closingRules.workspaceId, workspaceId));
  return row?.rules;
}

export async function rulesOf(db: Database, workspaceId: number): Promise<ClosingRules> {
  return { ...BY_HAND, ...(await rulesSet(db, workspaceId)) };
}

export async function dropRules(db: Database, workspaceId: number): Promise<void> {
  await db.delete(closingRules).where(eq(closingRules.workspaceId, workspaceId));
}

export async function setRules(
  db: Database,
  workspaceId: number,
  personId: number,
  rules: ClosingRules,
): Promise<void> {
  await db
    .insert(closingRules)
    .values({ workspaceId, personId, rules })
    .onConflictDoUpdate({ target: closingRules.workspaceId, set: { rules, personId } });
}

/**
 * Workspaces that close their months by themselves, and in whose name: whoever said so, or another
 * planner where that person plans there no longer.
 */
export async function closingByThemselves(
  db: Database,
): Promise<{ workspaceId: number; personId: number }[]> {
  const { rows } = await db.execute<{ workspaceId: number; personId: number }>(sql`
    select r.workspace_id as "workspaceId",
      coalesce(max(m.person_id) filter (where m.person_id = r.person_id), min(m.person_id))
        as "personId"
    from closing_rules r
      join membership m on m.workspace_id = r.workspace_id and m.role in ('owner', 'planner')
    where r.rules->'rule'->>'by' <> 'hand' group by r.workspace_id`);
  return rows;
}

/** Workspaces whose as-of date follows the real day and is behind it, each with a planner of it. */
export async function behindTheDay(
  db: Database,
): Promise<{ workspaceId: number; personId: number; today: string }[]> {
  const { rows } = await db.execute<{ workspaceId: number; personId: number; today: string }>(sql`
    select w.id as "workspaceId", min(m.person_id) as "personId",
      to_char(current_date, 'YYYY-MM-DD') as today
    from workspace w join membership m on m.workspace_id = w.id and m.role in ('owner', 'planner')
    where w.as_of_by = 'day'
      and w.as_of < least(current_date, w.last_month + interval '1 month - 1 day')::date
    group by w.id`);
  return rows;
}

/** Where the sales lines of a month came from. */
export async function sourcesOf(
  db: Database,
  workspaceId: number,
  month: string,
): Promise<Closing['sources']> {
  const { rows } = await db.execute<Closing['sources'][number]>(sql`
    select b.file_name as name, b.source,
      to_char(coalesce(b.applied_at, b.created_at) at time zone 'UTC',
        'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at,
      count(*)::int as lines, sum(l.net_amount)::float8 as revenue
    from sales_line l
      join import_batch b on b.workspace_id = l.workspace_id and b.id = l.batch_id
    where l.workspace_id = ${workspaceId} and b.state = 'applied'
      and l.date between ${toFirst(month)}::date
        and (${toFirst(month)}::date + interval '1 month - 1 day')
    group by b.id, b.file_name, b.source, b.applied_at, b.created_at
    order by lines desc`);
  return rows;
}

/** Lines of closed months that came after the close, by month. */
export async function lateLines(db: Database, workspaceId: number): Promise<Closing['late']> {
  const { rows } = await db.execute<Closing['late'][number]>(sql`
    select to_char(c.month, 'YYYY-MM') as month, count(*)::int as lines,
      sum(l.net_amount)::float8 as revenue
    from close c
      join import_batch b on b.workspace_id = c.workspace_id and b.state = 'applied'
      join sales_line l on l.workspace_id = c.workspace_id and l.batch_id = b.id
        and l.date between c.month and (c.month + interval '1 month - 1 day')
    where c.workspace_id = ${workspaceId} and not c.reopened and case
      -- What is entered by hand is one batch: its journal says when each line came.
      when b.source = 'hand' then exists (
        select from journal_change h
          join journal j on j.workspace_id = h.workspace_id and j.id = h.journal_id
        where h.workspace_id = c.workspace_id and h.thing = 'handLine'
          and h.thing_id = l.row::text and j.at > c.written_at)
      else b.applied_at > c.written_at end
    group by c.month order by c.month desc`);
  return rows;
}

/** What waits to be taken in. */
export async function waitingFor(db: Database, workspaceId: number): Promise<Closing['waiting']> {
  const { rows } = await db.execute<Closing['waiting']>(sql`
    select
      (select count(*)::int from import_batch
        where workspace_id = ${workspaceId} and state = 'previewed') as files,
      (select count(*)::int from feed_document
        where workspace_id = ${workspaceId} and waiting is not null) as documents`);
  return one(rows);
}

/** The names of locked budgets that were made after a month was closed and reach over it. */
export async function lockedOver(
  db: Database,
  workspaceId: number,
  month: string,
): Promise<string[]> {
  const { rows } = await db.execute<{ name: string }>(sql`
    select name from version
    where workspace_id = ${workspaceId} and not removed and closed_month is null
      and state = 'sealed' and from_month <= ${toFirst(month)}::date
      and to_month >= ${toFirst(month)}::date`);
  return rows.map(({ name }) => name);
}

/** What lies beyond a month, and would be out of sight if the horizon ended there. */
export interface Beyond {
  /** Assumptions that name months after it. */
  readonly inputs: number;
  readonly overrides: number;
  /** The names of versions. */
  readonly versions: readonly string[];
}

export async function beyond(db: Database, workspaceId: number, last: string): Promise<Beyond> {
  const end = toFirst(last);
  const { rows } = await db.execute<{ overrides: number; versions: string[] }>(sql`
    select
      (select count(*)::int from forecast_override
        where workspace_id = ${workspaceId} and month > ${end}::date) as overrides,
      array(select name from version where workspace_id = ${workspaceId} and not removed
        and closed_month is null and to_month > ${end}::date order by id) as versions`);
  const assumptions = await assumptionsOf(db, workspaceId);
  const inputs = assumptions.filter((one) => monthsOf(one).some((month) => month > last)).length;
  return { inputs, ...one(rows) };
}
