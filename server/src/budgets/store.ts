import type { Version, VersionEntries } from '@dravex/contract';
import { monthFrom, monthText, type BudgetCell, type Month } from '@dravex/core';
import { and, asc, eq, isNull, ne, sql } from 'drizzle-orm';
import { journal } from '../journal/tables.ts';
import { person } from '../people/tables.ts';
import { fromFirst, inPortions, one, toFirst, type Database } from '../platform/database.ts';
import { version, versionCell, versionEntry } from './tables.ts';

export async function insertVersion(
  db: Database,
  row: typeof version.$inferInsert,
): Promise<number> {
  return one(await db.insert(version).values(row).returning({ id: version.id })).id;
}

export async function insertCells(
  db: Database,
  workspaceId: number,
  versionId: number,
  rows: readonly BudgetCell[],
): Promise<void> {
  await inPortions(rows, (portion) => {
    const cells = portion.map((row) => ({
      workspaceId,
      versionId,
      combinationId: row.combination,
      month: toFirst(monthText(row.month)),
      units: String(row.units),
      revenue: row.revenue,
      cost: row.cost,
    }));
    return db.insert(versionCell).values(cells);
  });
}

/** Appends entries; those that change nothing are left out. */
export async function insertEntries(
  db: Database,
  workspaceId: number,
  journalId: number,
  entries: readonly (BudgetCell & { readonly versionId: number })[],
): Promise<void> {
  const rows = entries
    .filter(({ units, revenue, cost }) => units !== 0 || revenue !== 0 || (cost ?? 0) !== 0)
    .map((entry) => ({
      workspaceId,
      journalId,
      versionId: entry.versionId,
      combinationId: entry.combination,
      month: toFirst(monthText(entry.month)),
      units: entry.units.toFixed(3),
      revenue: entry.revenue,
      cost: entry.cost,
    }));
  await inPortions(rows, (portion) => db.insert(versionEntry).values(portion));
}

export type VersionRow = typeof version.$inferSelect;

/** A version's own row, locked until the transaction ends; also one that was taken back. */
export async function lockVersion(
  db: Database,
  workspaceId: number,
  id: number,
): Promise<VersionRow | undefined> {
  const [row] = await db
    .select()
    .from(version)
    .where(and(eq(version.workspaceId, workspaceId), eq(version.id, id)))
    .for('update');
  return row;
}

export async function setVersion(
  db: Database,
  workspaceId: number,
  id: number,
  change: Partial<typeof version.$inferInsert>,
): Promise<void> {
  await db
    .update(version)
    .set(change)
    .where(and(eq(version.workspaceId, workspaceId), eq(version.id, id)));
}

/** The version that is the budget of a fiscal year, locked; undefined for none. */
export async function budgetOfYear(
  db: Database,
  workspaceId: number,
  year: number | null,
): Promise<VersionRow | undefined> {
  if (year === null) return undefined;
  const [row] = await db
    .select()
    .from(version)
    .where(
      and(
        eq(version.workspaceId, workspaceId),
        eq(version.budgetOf, year),
        eq(version.removed, false),
      ),
    )
    .for('update');
  return row;
}

/** The name of somebody else who typed entries into a version, if there is one. */
export async function entriesByOthers(
  db: Database,
  workspaceId: number,
  versionId: number,
  personId: number,
): Promise<string | undefined> {
  const [row] = await db
    .select({ by: person.name })
    .from(versionEntry)
    .innerJoin(journal, sameJournal)
    .innerJoin(person, eq(person.id, journal.personId))
    .where(
      and(
        eq(versionEntry.workspaceId, workspaceId),
        eq(versionEntry.versionId, versionId),
        ne(journal.personId, personId),
      ),
    )
    .limit(1);
  return row?.by;
}

const sameJournal = and(
  eq(journal.workspaceId, versionEntry.workspaceId),
  eq(journal.id, versionEntry.journalId),
);

export async function versions(db: Database, workspaceId: number, id?: number): Promise<Version[]> {
  const rows = await db
    .select({
      row: version,
      by: person.name,
      cells: sql<number>`(select count(*)::int from version_cell c
        where c.workspace_id = ${version.workspaceId} and c.version_id = ${version.id})`,
      // Cells and subscriptions have entries of their own; either raises the number.
      lastEntry: sql<number>`(select coalesce(max(e.id), 0)::int from version_entry e
        where e.workspace_id = ${version.workspaceId} and e.version_id = ${version.id})
        + (select coalesce(max(e.id), 0)::int from version_subscription_entry e
        where e.workspace_id = ${version.workspaceId} and e.version_id = ${version.id})`,
    })
    .from(version)
    .innerJoin(person, eq(person.id, version.createdBy))
    .where(
      and(
        eq(version.workspaceId, workspaceId),
        eq(version.removed, false),
        // What was kept at a close is asked for by its id, and is in no list of versions.
        id === undefined ? isNull(version.closedMonth) : eq(version.id, id),
      ),
    )
    .orderBy(asc(version.id));
  return rows.map(({ row, by, cells, lastEntry }) => ({
    id: row.id,
    name: row.name,
    from: fromFirst(row.fromMonth),
    to: fromFirst(row.toMonth),
    note: row.note,
    cells,
    state: row.state,
    budgetOf: row.budgetOf,
    putAway: row.putAway,
    lastEntry,
    createdBy: by,
    createdAt: row.createdAt.toISOString(),
  }));
}

/** Of entries only those that were there at a moment. */
export const entriesUntil = (at: string | undefined) =>
  at === undefined
    ? sql``
    : sql`and journal_id in (select j.id from journal j
        where j.workspace_id = e.workspace_id and j.at <= ${at}::timestamptz)`;

/** What cells of a version come to: what was kept and all entries, now or at a moment, added up. */
export async function cellsNow(
  db: Database,
  workspaceId: number,
  versionId: number,
  only: {
    combinations?: readonly number[] | undefined;
    from?: Month;
    to?: Month;
    at?: string | undefined;
  } = {},
): Promise<(BudgetCell & { entries: number })[]> {
  const { combinations, from, to, at } = only;
  const held = sql`workspace_id = ${workspaceId} and version_id = ${versionId}
    ${combinations ? sql`and combination_id = any(${sql.param([...combinations])}::int[])` : sql``}
    ${from === undefined ? sql`` : sql`and month >= ${toFirst(monthText(from))}::date`}
    ${to === undefined ? sql`` : sql`and month <= ${toFirst(monthText(to))}::date`}`;
  const { rows } = await db.execute<{
    combination: number;
    month: string;
    units: number;
    revenue: number;
    cost: number | null;
    entries: number;
  }>(sql`
    select combination_id as combination, to_char(month, 'YYYY-MM') as month,
      sum(units)::float8 as units, sum(revenue)::float8 as revenue, sum(cost)::float8 as cost,
      sum(entry)::int as entries
    from (
      select combination_id, month, units, revenue, cost, 0 as entry
      from version_cell where ${held}
      union all
      select combination_id, month, units, revenue, cost, 1
      from version_entry e where ${held} ${entriesUntil(at)}) parts
    group by combination_id, month
    order by combination_id, month`);
  return rows.map((row) => ({ ...row, month: monthFrom(row.month) }));
}

/**
 * What was kept and every entry since, of some cells of a version.
 * @param minor how many minor units the currency unit has
 */
export async function entriesOf(
  db: Database,
  workspaceId: number,
  versionId: number,
  only: { combinations: readonly number[]; from: string; to: string; at?: string | undefined },
  minor: number,
): Promise<VersionEntries> {
  const months = sql`t.workspace_id = ${workspaceId} and t.version_id = ${versionId}
    and t.combination_id = any(${sql.param([...only.combinations])}::int[])
    and t.month between ${toFirst(only.from)}::date and ${toFirst(only.to)}::date`;
  const last = sql`${months} and t.month = ${toFirst(only.to)}::date`;
  const [base, entries] = await Promise.all([
    db.execute<VersionEntries['base']>(sql`
      select coalesce(sum(units), 0)::float8 as units, coalesce(sum(revenue), 0)::float8 as revenue,
        sum(cost)::float8 as cost,
        (select coalesce(sum(starters), 0) from version_subscription t where ${months}) as starters,
        (select coalesce(round(sum(recurring)::numeric * ${minor}), 0)::float8
          from version_subscription t where ${last}) as recurring
      from version_cell t where ${months}`),
    db.execute<VersionEntries['entries'][number]>(sql`
      select j.id as journal, to_char(j.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at,
        p.name as by, j.what, j.why, sum(t.cell)::int as cells,
        sum(t.units)::float8 as units, sum(t.revenue)::float8 as revenue, sum(t.cost)::float8 as cost,
        sum(t.starters)::float8 as starters, round(sum(t.price) * ${minor})::float8 as recurring
      from (
        select t.journal_id, 1 as cell, units, revenue, cost, 0 as starters, 0 as price
        from version_entry t where ${months}
        union all
        select t.journal_id, 0, 0, 0, null, starters, price
        from version_subscription_entry t where ${months}) t
        join journal j on j.workspace_id = ${workspaceId} and j.id = t.journal_id
          ${only.at === undefined ? sql`` : sql`and j.at <= ${only.at}::timestamptz`}
        join person p on p.id = j.person_id
      group by j.id, j.at, p.name, j.what, j.why order by j.id`),
  ]);
  return { base: one(base.rows), entries: entries.rows };
}
