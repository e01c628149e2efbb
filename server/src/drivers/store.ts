import type { KeptAdjustment, KeptAssumption } from '@dravex/contract';
import type { Adjustment, Assumption } from '@dravex/core';
import { and, asc, eq, inArray } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import { fromFirst, toFirst, type Database } from '../platform/database.ts';
import { adjustment, assumption } from './tables.ts';

type Row = Omit<Assumption, 'id'>;

/** The columns that assumptions and adjustments have in common. */
function common(
  row: Pick<Assumption, 'driver' | 'scope' | 'from' | 'to' | 'note'>,
  workspaceId: number,
  personId: number,
) {
  return {
    workspaceId,
    driver: row.driver,
    scope: [...row.scope],
    fromMonth: row.from === null ? null : toFirst(row.from),
    toMonth: row.to === null ? null : toFirst(row.to),
    note: row.note,
    changedBy: personId,
    changedAt: new Date(),
  };
}

function columns(row: Row, workspaceId: number, personId: number) {
  return { ...common(row, workspaceId, personId), profile: row.profile };
}

/** What of a kept row is common to both, as the wire has it. */
function commonOf(row: {
  readonly id: number;
  readonly driver: string;
  readonly scope: number[];
  readonly fromMonth: string | null;
  readonly toMonth: string | null;
  readonly note: string;
  readonly changedAt: Date;
}) {
  return {
    id: row.id,
    driver: row.driver,
    scope: row.scope,
    from: row.fromMonth === null ? null : fromFirst(row.fromMonth),
    to: row.toMonth === null ? null : fromFirst(row.toMonth),
    note: row.note,
    at: row.changedAt.toISOString(),
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
  return rows.map(({ row, by }) => ({ ...commonOf(row), profile: row.profile, by }));
}

/** Adjustments in the order in which they were made: all, of one driver, or some by id. */
export async function adjustmentsOf(
  db: Database,
  workspaceId: number,
  only: { driver?: string; ids?: readonly number[] } = {},
): Promise<KeptAdjustment[]> {
  if (only.ids?.length === 0) return [];
  const rows = await db
    .select({ row: adjustment, by: person.name })
    .from(adjustment)
    .innerJoin(person, eq(person.id, adjustment.changedBy))
    .where(
      and(
        eq(adjustment.workspaceId, workspaceId),
        only.driver === undefined ? undefined : eq(adjustment.driver, only.driver),
        only.ids === undefined ? undefined : inArray(adjustment.id, [...only.ids]),
      ),
    )
    .orderBy(asc(adjustment.id));
  return rows.map(({ row, by }) => ({
    ...commonOf(row),
    kind: row.kind,
    value: row.value,
    by,
  }));
}

/** Writes new adjustments; returns their ids in the same order. */
export async function insertAdjustments(
  db: Database,
  workspaceId: number,
  personId: number,
  rows: readonly Omit<Adjustment, 'id'>[],
): Promise<number[]> {
  const ids: number[] = [];
  for (let start = 0; start < rows.length; start += 2000) {
    const inserted = await db
      .insert(adjustment)
      .values(
        rows.slice(start, start + 2000).map((row) => ({
          ...common(row, workspaceId, personId),
          kind: row.kind,
          value: row.value,
        })),
      )
      .returning({ id: adjustment.id });
    ids.push(...inserted.map(({ id }) => id).sort((a, b) => a - b));
  }
  return ids;
}

/** Gives an adjustment another number. */
export async function setAdjustment(
  db: Database,
  workspaceId: number,
  personId: number,
  { id, value }: Pick<Adjustment, 'id' | 'value'>,
): Promise<void> {
  await db
    .update(adjustment)
    .set({ value, changedBy: personId, changedAt: new Date() })
    .where(and(eq(adjustment.workspaceId, workspaceId), eq(adjustment.id, id)));
}

/** Brings an adjustment back under the id it had, and so in its place among the others. */
export async function restoreAdjustment(
  db: Database,
  workspaceId: number,
  personId: number,
  { id, ...row }: Adjustment,
): Promise<void> {
  await db
    .insert(adjustment)
    .overridingSystemValue()
    .values({ ...common(row, workspaceId, personId), kind: row.kind, value: row.value, id });
}

export async function deleteAdjustments(
  db: Database,
  workspaceId: number,
  ids: readonly number[],
): Promise<void> {
  if (ids.length === 0) return;
  await db
    .delete(adjustment)
    .where(and(eq(adjustment.workspaceId, workspaceId), inArray(adjustment.id, [...ids])));
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
