import type { KeptAssumption } from '@dravex/contract';
import type { Assumption } from '@dravex/core';
import { and, asc, eq, inArray } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import { fromFirst, toFirst, type Database } from '../platform/database.ts';
import { assumption } from './tables.ts';

type Row = Omit<Assumption, 'id'>;

function columns(row: Row, workspaceId: number, personId: number) {
  return {
    workspaceId,
    driver: row.driver,
    scope: [...row.scope],
    fromMonth: row.from === null ? null : toFirst(row.from),
    toMonth: row.to === null ? null : toFirst(row.to),
    profile: row.profile,
    note: row.note,
    changedBy: personId,
    changedAt: new Date(),
  };
}

/** Assumptions in the order of their creation: all, of one driver, or some by id. */
export async function assumptionsOf(
  db: Database,
  workspaceId: number,
  only: { driver?: string; ids?: readonly number[] } = {},
): Promise<KeptAssumption[]> {
  if (only.ids?.length === 0) return [];
  const rows = await db
    .select({ row: assumption, by: person.name })
    .from(assumption)
    .innerJoin(person, eq(person.id, assumption.changedBy))
    .where(
      and(
        eq(assumption.workspaceId, workspaceId),
        only.driver === undefined ? undefined : eq(assumption.driver, only.driver),
        only.ids === undefined ? undefined : inArray(assumption.id, [...only.ids]),
      ),
    )
    .orderBy(asc(assumption.id));
  return rows.map(({ row, by }) => ({
    id: row.id,
    driver: row.driver,
    scope: row.scope,
    from: row.fromMonth === null ? null : fromFirst(row.fromMonth),
    to: row.toMonth === null ? null : fromFirst(row.toMonth),
    profile: row.profile,
    note: row.note,
    by,
    at: row.changedAt.toISOString(),
  }));
}

/** Brings an assumption back under the id it had. */
export async function restoreAssumption(
  db: Database,
  workspaceId: number,
  personId: number,
  row: Row & { id: number },
): Promise<void> {
  await db
    .insert(assumption)
    .overridingSystemValue()
    .values({ ...columns(row, workspaceId, personId), id: row.id });
}

/** Writes new assumptions; returns their ids in the same order. */
export async function insertAssumptions(
  db: Database,
  workspaceId: number,
  personId: number,
  rows: readonly Row[],
): Promise<number[]> {
  const ids: number[] = [];
  for (let start = 0; start < rows.length; start += 2000) {
    const some = rows.slice(start, start + 2000);
    const inserted = await db
      .insert(assumption)
      .values(some.map((row) => columns(row, workspaceId, personId)))
      .returning({ id: assumption.id });
    // Ids are handed out in the order of the rows, and come back in any.
    ids.push(...inserted.map(({ id }) => id).sort((a, b) => a - b));
  }
  return ids;
}

export async function updateAssumption(
  db: Database,
  workspaceId: number,
  personId: number,
  row: Row & { id: number },
): Promise<void> {
  await db
    .update(assumption)
    .set(columns(row, workspaceId, personId))
    .where(and(eq(assumption.workspaceId, workspaceId), eq(assumption.id, row.id)));
}

export async function deleteAssumptions(
  db: Database,
  workspaceId: number,
  ids: readonly number[],
): Promise<void> {
  if (ids.length === 0) return;
  await db
    .delete(assumption)
    .where(and(eq(assumption.workspaceId, workspaceId), inArray(assumption.id, [...ids])));
}
