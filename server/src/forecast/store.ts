import type { Override, Stream } from '@dravex/core';
import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import {
  inPortions,
  insertedIds,
  fromFirst,
  toFirst,
  type Database,
} from '../platform/database.ts';
import { forecastOverride, stream } from './tables.ts';

export function streamsOf(db: Database, workspaceId: number): Promise<Stream[]> {
  return db
    .select({
      id: stream.id,
      combination: stream.combinationId,
      method: stream.method,
      settings: stream.settings,
    })
    .from(stream)
    .where(eq(stream.workspaceId, workspaceId))
    .orderBy(asc(stream.id));
}

/** Writes new streams; returns their ids in the same order. */
export async function insertStreams(
  db: Database,
  rows: (typeof stream.$inferInsert)[],
): Promise<number[]> {
  return insertedIds(rows, (portion) =>
    db.insert(stream).values(portion).returning({ id: stream.id }),
  );
}

/** Brings a stream back under the id it had. */
export async function restoreStream(
  db: Database,
  row: typeof stream.$inferInsert & { id: number },
): Promise<void> {
  await db.insert(stream).overridingSystemValue().values(row);
}

export async function deleteStreams(
  db: Database,
  workspaceId: number,
  ids: readonly number[],
): Promise<void> {
  if (ids.length === 0) return;
  await db
    .delete(stream)
    .where(and(eq(stream.workspaceId, workspaceId), inArray(stream.id, [...ids])));
}

/** Gives a stream another method. */
export async function updateStream(
  db: Database,
  workspaceId: number,
  { id, method, settings }: Stream,
): Promise<void> {
  await db
    .update(stream)
    .set({ method, settings: settings ?? {} })
    .where(and(eq(stream.workspaceId, workspaceId), eq(stream.id, id)));
}

/** An override as it is kept; who typed it by id. */
export type KeptOverride = Omit<Override, 'by' | 'at'>;

/**
 * What is typed over the forecast, in the order of combinations, months and measures.
 * @param of the combinations it lies over; of all where it is left out
 */
export async function overridesOf(
  db: Database,
  workspaceId: number,
  of?: readonly number[],
): Promise<Override[]> {
  if (of?.length === 0) return [];
  const rows = await db
    .select({ row: forecastOverride, by: person.name })
    .from(forecastOverride)
    .innerJoin(person, eq(person.id, forecastOverride.typedBy))
    .where(
      and(
        eq(forecastOverride.workspaceId, workspaceId),
        of && sql`${forecastOverride.combinationId} = any(${sql.param([...of])}::int[])`,
      ),
    )
    .orderBy(
      asc(forecastOverride.combinationId),
      asc(forecastOverride.month),
      asc(forecastOverride.measure),
    );
  return rows.map(({ row, by }) => ({
    combination: row.combinationId,
    month: fromFirst(row.month),
    measure: row.measure,
    value: row.value,
    by,
    why: row.why,
    at: row.typedAt.toISOString(),
  }));
}

/** Keeps overrides; one of the same cell is written over. */
export async function putOverrides(
  db: Database,
  workspaceId: number,
  personId: number,
  rows: readonly KeptOverride[],
): Promise<void> {
  await inPortions(rows, (portion) =>
    db
      .insert(forecastOverride)
      .values(
        portion.map(({ combination, month, measure, value, why }) => ({
          workspaceId,
          combinationId: combination,
          month: toFirst(month),
          measure,
          value,
          why,
          typedBy: personId,
        })),
      )
      .onConflictDoUpdate({
        target: [
          forecastOverride.workspaceId,
          forecastOverride.combinationId,
          forecastOverride.month,
          forecastOverride.measure,
        ],
        set: {
          value: sql`excluded.value`,
          why: sql`excluded.why`,
          typedBy: personId,
          typedAt: new Date(),
        },
      }),
  );
}

export async function deleteOverrides(
  db: Database,
  workspaceId: number,
  rows: readonly Pick<Override, 'combination' | 'month' | 'measure'>[],
): Promise<void> {
  if (rows.length === 0) return;
  const given = rows.map(({ combination, month, measure }) => ({
    combination,
    month: toFirst(month),
    measure,
  }));
  await db.execute(sql`
    delete from forecast_override o using jsonb_to_recordset(${JSON.stringify(given)}::jsonb)
      as g(combination integer, month date, measure text)
    where o.workspace_id = ${workspaceId} and o.combination_id = g.combination
      and o.month = g.month and o.measure = g.measure`);
}
