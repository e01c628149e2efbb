import type { KeptAdjustment, KeptAssumption } from '@dravex/contract';
import type { Adjustment, Assumption } from '@dravex/core';
import { and, asc, eq, inArray } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import { insertedIds, fromFirst, toFirst, type Database } from '../platform/database.ts';
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

function adjustmentColumns(row: Omit<Adjustment, 'id'>, workspaceId: number, personId: number) {
  return { ...common(row, workspaceId, personId), kind: row.kind, value: row.value };
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

/** Which rows are read: of one driver, or some by id; all where nothing is said. */
interface Only {
  readonly driver?: string;
  readonly ids?: readonly number[];
}

const wanted = (
  table: typeof assumption | typeof adjustment,
  workspaceId: number,
  { driver, ids }: Only,
) =>
  and(
    eq(table.workspaceId, workspaceId),
    driver === undefined ? undefined : eq(table.driver, driver),
    ids === undefined ? undefined : inArray(table.id, [...ids]),
  );

/** Assumptions in the order of their creation: all, of one driver, or some by id. */
export async function assumptionsOf(
  db: Database,
  workspaceId: number,
  only: Only = {},
): Promise<KeptAssumption[]> {
  if (only.ids?.length === 0) return [];
  const rows = await db
    .select({ row: assumption, by: person.name })
    .from(assumption)
    .innerJoin(person, eq(person.id, assumption.changedBy))
    .where(wanted(assumption, workspaceId, only))
    .orderBy(asc(assumption.id));
  return rows.map(({ row, by }) => ({ ...commonOf(row), profile: row.profile, by }));
}

/** Adjustments in the order in which they were made: all, of one driver, or some by id. */
export async function adjustmentsOf(
  db: Database,
  workspaceId: number,
  only: Only = {},
): Promise<KeptAdjustment[]> {
  if (only.ids?.length === 0) return [];
  const rows = await db
    .select({ row: adjustment, by: person.name })
    .from(adjustment)
    .innerJoin(person, eq(person.id, adjustment.changedBy))
    .where(wanted(adjustment, workspaceId, only))
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
  rows: Iterable<Omit<Adjustment, 'id'>>,
): Promise<number[]> {
  return insertedIds(rows, (portion) => {
    const values = portion.map((row) => adjustmentColumns(row, workspaceId, personId));
    return db.insert(adjustment).values(values).returning({ id: adjustment.id });
  });
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
    .values({ ...adjustmentColumns(row, workspaceId, personId), id });
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
  rows: Iterable<Row>,
): Promise<number[]> {
  return insertedIds(rows, (portion) => {
    const values = portion.map((row) => columns(row, workspaceId, personId));
    return db.insert(assumption).values(values).returning({ id: assumption.id });
  });
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
