import type { Version, VersionCells, VersionEntries } from '@dravex/contract';
import {
  monthFrom,
  monthText,
  SUBSCRIBER_SERIES,
  type BudgetCell,
  type KeptSubscribers,
  type Month,
  type SubscriberSeries,
} from '@dravex/core';
import { and, asc, eq, isNull, ne, sql } from 'drizzle-orm';
import { journal } from '../journal/tables.ts';
import { person } from '../people/tables.ts';
import { fromFirst, inPortions, one, toFirst, type Database } from '../platform/database.ts';
import { version, versionCell, versionEntry, versionSubscription } from './tables.ts';

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
  for (let start = 0; start < rows.length; start += 4000) {
    const cells = rows.slice(start, start + 4000).map((row) => ({
      workspaceId,
      versionId,
      combinationId: row.combination,
      month: toFirst(monthText(row.month)),
      units: String(row.units),
      revenue: row.revenue,
      cost: row.cost,
    }));
    await db.insert(versionCell).values(cells);
  }
}

/** Keeps how subscriptions of a version move. */
export async function insertSubscribers(
  db: Database,
  workspaceId: number,
  versionId: number,
  kept: KeptSubscribers,
): Promise<void> {
  const rows = kept.combination.map((combinationId, row) => ({
    ...{ workspaceId, versionId, combinationId, month: toFirst(kept.month[row] ?? '') },
    ...(Object.fromEntries(SUBSCRIBER_SERIES.map((code) => [code, kept[code][row] ?? 0])) as Record<
      SubscriberSeries,
      number
    >),
  }));
  await inPortions(rows, (portion) => db.insert(versionSubscription).values(portion));
}

/** How subscriptions of a version were kept; undefined where none were. */
export async function subscribersOf(
  db: Database,
  workspaceId: number,
  versionId: number,
): Promise<VersionCells['subscribers']> {
  const rows = await db
    .select()
    .from(versionSubscription)
    .where(
      and(
        eq(versionSubscription.workspaceId, workspaceId),
        eq(versionSubscription.versionId, versionId),
      ),
    )
    .orderBy(asc(versionSubscription.combinationId), asc(versionSubscription.month));
  if (rows.length === 0) return undefined;
  const columns = Object.fromEntries(
    SUBSCRIBER_SERIES.map((code) => [code, rows.map((row) => row[code])]),
  ) as Record<SubscriberSeries, number[]>;
  return {
    combination: rows.map(({ combinationId }) => combinationId),
    month: rows.map(({ month }) => fromFirst(month)),
    ...columns,
  };
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
  for (let start = 0; start < rows.length; start += 4000) {
    await db.insert(versionEntry).values(rows.slice(start, start + 4000));
  }
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
      lastEntry: sql<number>`(select coalesce(max(e.id), 0)::int from version_entry e
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
    lastEntry,
    createdBy: by,
    createdAt: row.createdAt.toISOString(),
  }));
}

/** What cells of a version come to now: what was kept and all entries, added up. */
export async function cellsNow(
  db: Database,
  workspaceId: number,
  versionId: number,
  only: { combinations?: readonly number[] | undefined; from?: Month; to?: Month } = {},
): Promise<(BudgetCell & { entries: number })[]> {
  const { combinations, from, to } = only;
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
      from version_entry where ${held}) parts
    group by combination_id, month
    order by combination_id, month`);
  return rows.map((row) => ({ ...row, month: monthFrom(row.month) }));
}

/** What was kept and every entry since, of some cells of a version. */
export async function entriesOf(
  db: Database,
  workspaceId: number,
  versionId: number,
  only: { combinations: readonly number[]; from: string; to: string },
): Promise<VersionEntries> {
  const held = sql`t.workspace_id = ${workspaceId} and t.version_id = ${versionId}
    and t.combination_id = any(${sql.param([...only.combinations])}::int[])
    and t.month between ${toFirst(only.from)}::date and ${toFirst(only.to)}::date`;
  const [base, entries] = await Promise.all([
    db.execute<VersionEntries['base']>(sql`
      select coalesce(sum(units), 0)::float8 as units, coalesce(sum(revenue), 0)::float8 as revenue,
        sum(cost)::float8 as cost
      from version_cell t where ${held}`),
    db.execute<VersionEntries['entries'][number]>(sql`
      select j.id as journal, to_char(j.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at,
        p.name as by, j.what, j.why, count(*)::int as cells,
        sum(t.units)::float8 as units, sum(t.revenue)::float8 as revenue, sum(t.cost)::float8 as cost
      from version_entry t
        join journal j on j.workspace_id = t.workspace_id and j.id = t.journal_id
        join person p on p.id = j.person_id
      where ${held}
      group by j.id, j.at, p.name, j.what, j.why order by j.id`),
  ]);
  return { base: one(base.rows), entries: entries.rows };
}
