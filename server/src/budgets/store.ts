import type { Version, VersionCells } from '@dravex/contract';
import { monthText, type BudgetCell } from '@dravex/core';
import { and, asc, eq, sql } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import { fromFirst, one, toFirst, type Database } from '../platform/database.ts';
import { version, versionCell } from './tables.ts';

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

export async function versions(db: Database, workspaceId: number): Promise<Version[]> {
  const rows = await db
    .select({
      row: version,
      by: person.name,
      cells: sql<number>`(select count(*)::int from version_cell c
        where c.workspace_id = ${version.workspaceId} and c.version_id = ${version.id})`,
    })
    .from(version)
    .innerJoin(person, eq(person.id, version.createdBy))
    .where(eq(version.workspaceId, workspaceId))
    .orderBy(asc(version.id));
  return rows.map(({ row, by, cells }) => ({
    id: row.id,
    name: row.name,
    from: fromFirst(row.fromMonth),
    to: fromFirst(row.toMonth),
    note: row.note,
    cells,
    createdBy: by,
    createdAt: row.createdAt.toISOString(),
  }));
}

/** A version's cells, or `undefined` when this workspace has no such version. */
export async function versionCells(
  db: Database,
  workspaceId: number,
  versionId: number,
): Promise<VersionCells | undefined> {
  const [found] = await db
    .select({ id: version.id })
    .from(version)
    .where(and(eq(version.workspaceId, workspaceId), eq(version.id, versionId)));
  if (!found) return undefined;
  const rows = await db
    .select()
    .from(versionCell)
    .where(and(eq(versionCell.workspaceId, workspaceId), eq(versionCell.versionId, versionId)))
    .orderBy(asc(versionCell.combinationId), asc(versionCell.month));
  return {
    combination: rows.map((row) => row.combinationId),
    month: rows.map((row) => fromFirst(row.month)),
    units: rows.map((row) => Number(row.units)),
    revenue: rows.map((row) => row.revenue),
    cost: rows.map((row) => row.cost),
  };
}
